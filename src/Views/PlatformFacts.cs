namespace Vellumkeep.Views;

/// <summary>A platform profile in facts, for reading; and what it is silent about.</summary>
public static class PlatformFacts
{
    public static IReadOnlyList<FactLine> Can(Platform p) =>
        Said(
            ("IKE versions", List(p.IkeVersions)),
            ("exchange modes", Words(p.ExchangeModes, WordsOf.ExchangeModes)),
            ("authentication", Words(p.Methods, WordsOf.Authentications)),
            ("identities", Words(p.IdentityKinds, Identity.Kinds)),
            ("encryption", List(p.Encryptions)),
            ("integrity", List(p.Integrities)),
            ("PRF", p.Prfs.IsEmpty ? null : List(p.Prfs)),
            ("DH groups", List(p.Groups)),
            ("under IKEv1 only", List(p.Ikev1Only)),
            ("form", p.Forms.IsEmpty ? null : string.Join(", ", p.Forms.Select(WordsOf.Forms.Of))),
            ("pairs per child SA", Words(p.PairsPerChildren, WordsOf.PairsPerChild)),
            ("most pairs", p.MostPairs?.ToString(CultureInfo.InvariantCulture)),
            ("PFS", Words(p.PfsStances, Platform.PfsStanceWords)),
            ("IKE lifetime", p.IkeLifetimes?.ToString()),
            ("ESP lifetime", p.EspLifetimes?.ToString()),
            ("pre-shared key", Key(p.Keys))
        );

    public static IReadOnlyList<FactLine> Does(Platform p) =>
        Said([
            ("accepts as responder", p.Answers is { } a ? Platform.Answerings.Of(a) : null),
            ("offers as initiator", p.Offers is { } offers ? Platform.Offerings.Of(offers) : null),
            ("writes distinguished names", p.WritesNames is { } names ? Platform.NameOrders.Of(names) : null),
            ("order of proposals", p.OrderWins is { } o ? Platform.Orders.Of(o) : null),
            ("selects the peer by", Words(p.LooksUpBy, Platform.Lookups)),
            (
                "compares names",
                p.ComparesNamesByOctet is { } c
                    ? c
                        ? "by octet"
                        : "ignoring case"
                    : null
            ),
            ("falls back to IKEv1", YesNo(p.FallsBackToIkev1)),
            ("insists on a single pair", YesNo(p.InsistsOnSinglePair)),
            ("accepts either mode", YesNo(p.AcceptsEitherMode)),
            ("selectors, IKEv1", p.Ikev1Selectors is { } s1 ? Platform.SelectorRules.Of(s1) : null),
            ("selectors, IKEv2", p.Ikev2Selectors is { } s2 ? Platform.SelectorRules.Of(s2) : null),
            ("IKEv1 lifetime answer", p.LifetimeRule is { } l ? Platform.LifetimeRules.Of(l) : null),
            ("notifies in phase 1", YesNo(p.NotifiesInPhase1)),
            ("unit of lifetimes", p.LifetimeUnit?.ToString().ToLowerInvariant()),
            ("rekey jitter", p.Jitter is { } j ? $"{j} %" : null),
            ("after a refused rekey", p.WhenRekeyRefused is { } w ? Platform.AfterRefusals.Of(w) : null),
            (
                "retransmits",
                p.Retransmits is { } r
                    ? $"{r}: {r.Total.ToString("#,0.#", CultureInfo.InvariantCulture)} s in all"
                    : null
            ),
            (
                "manual",
                p.Manual is { } hand
                    ? hand.IsEmpty
                        ? "nothing"
                        : string.Join(", ", hand.Select(Platform.ManualWorks.Of))
                    : null
            ),
            .. Enum.GetValues<Altering>()
                .Select(a => ($"changing {Platform.Alterings.Of(a)}", p.CostOf(a)?.ToString())),
            (
                "takes effect",
                p.Effect is { } e
                    ? Platform.Effects.Of(e) + (p.EffectSeconds is { } s ? $", {Lifetime.Say(s)}" : "")
                    : null
            ),
            ("saved apart", YesNo(p.SavedSeparately)),
            ("created in", p.CreationSeconds is { } created ? Lifetime.Say(created) : null),
            ("outer address", p.AddressLater == true ? "known only after creation" : null),
            ("endpoints", p.Endpoints is > 1 ? $"{p.Endpoints} in pairs" : null),
            ("names", p.NameLimit is { } n ? $"at most {n} characters" : null),
        ]);

    public static IReadOnlyList<FactLine> Defaults(Platform p) => Of(p.Defaults);

    public static IReadOnlyList<FactLine> Of(SettingSet set, params Setting[] but) =>
        [.. set.Given.Except(but).Select(s => new FactLine(s.Label, set.TextOf(s) ?? ""))];

    /// <summary>What results that depend on it are left undetermined by.</summary>
    public static IReadOnlyList<string> Silent(Platform p) =>
        [
            .. new (string What, bool Silent)[]
            {
                ("its algorithms", p.Encryptions.IsEmpty),
                ("what it accepts as responder", p.Answers is null),
                ("in what form it offers ticked algorithms", p.Offers is null && p.Answers == Answering.AnyCombination),
                ("how it selects the peer entry", p.LooksUpBy is null),
                ("whether it ignores upper and lower case in identities", p.ComparesNamesByOctet is null),
                (
                    "what it does with a different IKEv1 lifetime",
                    p.LifetimeRule is null && (p.IkeVersions.IsEmpty || p.IkeVersions.Contains(IkeVersion.IKEv1))
                ),
                (
                    "whether it narrows selectors that are not equal",
                    (p.Ikev2Selectors is null && !p.IkeVersions.SequenceEqual([IkeVersion.IKEv1]))
                        || (p.Ikev1Selectors is null && p.IkeVersions.Contains(IkeVersion.IKEv1))
                ),
                ("what it does after a refused rekey", p.WhenRekeyRefused is null),
                (
                    "its retransmission schedule",
                    p.Retransmits is null && !p.IkeVersions.SequenceEqual([IkeVersion.IKEv1])
                ),
                ("what is manual", p.Manual is null),
                ("its unit of lifetimes", p.LifetimeUnit is null),
                ("its limits for pre-shared keys", p.Keys is null),
                ("its end of support", p.SupportEnds is null),
            }
                .Where(x => x.Silent)
                .Select(x => x.What),
            .. Enum.GetValues<Altering>()
                .Where(a => p.CostOf(a) is null && Concerns(p, a))
                .Select(a => $"what changing {Platform.Alterings.Of(a)} interrupts"),
        ];

    /// <summary>Whether a platform has what is altered: certificates and tunnel interfaces, not every one does.</summary>
    private static bool Concerns(Platform p, Altering what) =>
        what switch
        {
            Altering.Certificate => p.Methods is not { } methods || methods.Contains(Authentication.Certificate),
            Altering.Interface => p.Forms.IsEmpty || p.Forms.Contains(TunnelForm.RouteBased),
            _ => true,
        };

    private static IReadOnlyList<FactLine> Said(params (string What, string? Value)[] facts) =>
        [.. facts.Where(f => !string.IsNullOrEmpty(f.Value)).Select(f => new FactLine(f.What, f.Value!))];

    private static string? List<T>(ImmutableArray<T> list) => list.IsEmpty ? null : string.Join(", ", list);

    private static string? Words<T>(ImmutableArray<T>? list, Words<T> words)
        where T : struct, Enum => list is { IsEmpty: false } l ? string.Join(", ", l.Select(words.Of)) : null;

    private static string? YesNo(bool? yes) => yes is { } y ? Scalars.Write(y) : null;

    private static string? Key(KeyLimits? k) =>
        k is null
            ? null
            : string.Join(
                ", ",
                new[]
                {
                    k.Shortest is { } s
                        ? $"{s} to {k.Longest?.ToString(CultureInfo.InvariantCulture) ?? "any number of"} characters"
                    : k.Longest is { } l ? $"at most {l} characters"
                    : null,
                    k.Refused is { } r ? $"not {r}" : null,
                    k.OneEachWay == true ? "one for each direction possible" : null,
                    k.HoldsTwo == true ? "two during a rekey" : null,
                }.Where(t => t is not null)
            );
}
