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
        Said(
            ("accepts when answering", p.Answers is { } a ? Platform.Answerings.Of(a) : null),
            ("whose order wins", p.OrderWins is { } o ? Platform.Orders.Of(o) : null),
            ("finds the peer by", Words(p.LooksUpBy, Platform.Lookups)),
            (
                "compares names",
                p.ComparesNamesByOctet is { } c
                    ? c
                        ? "by octet"
                        : "ignoring case"
                    : null
            ),
            ("answers either mode", YesNo(p.AcceptsEitherMode)),
            ("selectors, IKEv1", p.Ikev1Selectors is { } s1 ? Platform.SelectorRules.Of(s1) : null),
            ("selectors, IKEv2", p.Ikev2Selectors is { } s2 ? Platform.SelectorRules.Of(s2) : null),
            ("IKEv1 lifetime answer", p.LifetimeRule is { } l ? Platform.LifetimeRules.Of(l) : null),
            ("errors in phase 1", YesNo(p.NotifiesInPhase1)),
            ("lifetimes are typed in", p.LifetimeUnit?.ToString().ToLowerInvariant()),
            ("rekey jitter", p.Jitter is { } j ? $"{j} %" : null),
            ("after a refused rekey", p.WhenRekeyRefused is { } w ? Platform.AfterRefusals.Of(w) : null),
            (
                "retransmits",
                p.Retransmits is { } r
                    ? $"{r}: {r.Total.ToString("#,0.#", CultureInfo.InvariantCulture)} s in all"
                    : null
            ),
            (
                "made by hand",
                p.Manual is { } hand
                    ? hand.IsEmpty
                        ? "nothing"
                        : string.Join(", ", hand)
                    : null
            ),
            ("changing subnets", p.SubnetsCost?.ToString()),
            (
                "takes effect",
                p.Effect is { } e
                    ? Platform.Effects.Of(e) + (p.EffectSeconds is { } s ? $", {Lifetime.Say(s)}" : "")
                    : null
            ),
            ("saved apart", YesNo(p.SavedSeparately)),
            ("outer address", p.AddressLater == true ? "known only after it was created" : null),
            ("endpoints", p.Endpoints is > 1 ? $"{p.Endpoints} come together" : null),
            ("names", p.NameLimit is { } n ? $"at most {n} characters" : null)
        );

    public static IReadOnlyList<FactLine> Defaults(Platform p) => Of(p.Defaults);

    public static IReadOnlyList<FactLine> Of(SettingSet set, params Setting[] but) =>
        [.. set.Said.Except(but).Select(s => new FactLine(s.Label, set.TextOf(s) ?? ""))];

    /// <summary>What results that depend on it are left undetermined by.</summary>
    public static IReadOnlyList<string> Silent(Platform p) =>
        [
            .. new (string What, bool Silent)[]
            {
                ("which algorithms it can do", p.Encryptions.IsEmpty),
                ("what it accepts when it answers", p.Answers is null),
                ("by what it finds the peer entry", p.LooksUpBy is null),
                ("whether upper and lower case of names matter", p.ComparesNamesByOctet is null),
                (
                    "how it answers an IKEv1 lifetime that is not equal",
                    p.LifetimeRule is null && (p.IkeVersions.IsEmpty || p.IkeVersions.Contains(IkeVersion.IKEv1))
                ),
                (
                    "whether it takes selectors that are not equal",
                    (p.Ikev2Selectors is null && !p.IkeVersions.SequenceEqual([IkeVersion.IKEv1]))
                        || (p.Ikev1Selectors is null && p.IkeVersions.Contains(IkeVersion.IKEv1))
                ),
                ("what it does when a rekey is refused", p.WhenRekeyRefused is null),
                ("how it retransmits", p.Retransmits is null && !p.IkeVersions.SequenceEqual([IkeVersion.IKEv1])),
                ("what changing subnets disturbs", p.SubnetsCost is null),
                ("what has to be made by hand", p.Manual is null),
                ("the unit that lifetimes are typed in", p.LifetimeUnit is null),
                ("what a pre-shared key has to be", p.Keys is null),
                ("when its support ends", p.SupportEnds is null),
            }
                .Where(x => x.Silent)
                .Select(x => x.What),
        ];

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
                    k.Refused is { } r ? $"none of {r}" : null,
                    k.OneEachWay == true ? "one each way possible" : null,
                    k.HoldsTwo == true ? "two held while replaced" : null,
                }.Where(t => t is not null)
            );
}
