using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Sums;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// A gateway becomes another platform. Every setting that its tunnels have there, set, agreed or by default, is carried
/// over: kept, changed to what and why, or impossible. Where the other end has to follow, it does.
/// </summary>
public static class ReplacePlatform
{
    public static Planned Plan(Inventory inventory, PlatformWish wish, DateOnly today, CancellationToken ct = default)
    {
        var gateway = inventory.Get<Gateway>(wish.GatewayId);
        var (from, to) = (inventory.Get<Platform>(gateway.PlatformId), inventory.Get<Platform>(wish.PlatformId));
        if (from.Id == to.Id)
            return Planned.No([
                new(null, "platform", $"{gateway.Code} is {Say.A(to.Title):w} already.", $"Another platform profile."),
            ]);
        if (wish.TunnelIds.IsEmpty)
            return Planned.No([
                new(
                    null,
                    "gateway",
                    $"No tunnel ends on {gateway.Code}.",
                    $"Correct its platform on the gateway itself."
                ),
            ]);
        if (wish.Beside is { } taken && inventory.At(taken).FirstOrDefault() is { } there)
            return Planned.No([
                new(
                    "ADR-06",
                    "beside",
                    $"{taken} is the outer address of {there.Code}.",
                    $"An outer address that nothing has yet."
                ),
            ]);
        var form = WrittenGateway.Form.Write(gateway, IdNames.Instance);
        var edits = new List<Edit>
        {
            new(gateway.Id, RecordKind.Gateway, "platform", Edits.Find(form, "platform"), to.Id),
        };
        var old = gateway.Uplinks.FirstOrDefault()?.Outer;
        if (wish.Beside is { } beside)
        {
            var path = $"uplinks[{gateway.Uplinks[0].Label}].address";
            edits.Add(new(gateway.Id, RecordKind.Gateway, path, Edits.Find(form, path), beside.ToString()));
        }

        var moved = AfterForm.Read(gateway, form.With(edits));
        var ground = inventory.With(moved);
        var translations = new List<Translated>();
        var after = new List<Tunnel>();
        foreach (var id in wish.TunnelIds)
        {
            var tunnel = inventory.Get<Tunnel>(id);
            if (wish.Beside is { } now)
                tunnel = AddressMove.Follow(inventory, tunnel, gateway.Id, old, now, today);
            var was = new TunnelView(inventory, inventory.Get<Tunnel>(id), today);
            var written = AfterForm.Of(tunnel);
            foreach (var end in was.Ends.Where(e => e.Gateway.Id == gateway.Id))
                written = Translate(was, end, to, written, translations);
            var carried = AfterForm.Read(tunnel, written);
            var view = new TunnelView(ground.With(carried), carried, today);
            after.Add(AfterForm.Read(tunnel, AfterForm.Entered(view, written, e => e.Gateway.Id == gateway.Id)));
        }

        var maker = new PlanMaker(inventory, ground.With(after), wish.TunnelIds, today, ct: ct) { Main = gateway.Id };
        var near = maker.Tunnels.SelectMany(t => t.Then.Ends).First(e => e.Gateway.Id == gateway.Id);
        maker.Prepare();
        maker.Add(
            $"prepare-device-{gateway.Code}",
            Part.Prepare,
            near,
            15,
            $"Put up the {to.Title:w} at {near.Site.Name:w}{(wish.Beside is { } b ? $" beside the old one, with the outer address {b}" : ", with its own management, not yet on the uplink"):w}; set its clock."
        );
        maker.Safeguard();
        // The new device is filled while the old one carries; the other ends and the uplink move together.
        maker.Work((t, end) => t.Then.End(end).Gateway.Id == gateway.Id);
        if (wish.Beside is null)
            maker.Add(
                $"cut-{gateway.Code}",
                Part.Switch,
                near,
                5,
                $"Take the uplink off the old {from.Title:w} and put it on the {to.Title:w}.",
                stops: $"Every tunnel of {gateway.Code} falls until the {to.Title:w} is on the uplink: {Say.Count(wish.TunnelIds.Length, "tunnel"):w}.",
                undo: $"Put the uplink back on the old {from.Title:w}."
            );
        maker.Work((t, end) => t.Then.End(end).Gateway.Id != gateway.Id);
        maker.Prove();
        maker.Record(
            StepWords.New(
                $"old-device-{gateway.Code}",
                Part.Record,
                near,
                3,
                $"Keep the old {from.Title:w} as it is until the new one has run through a working day; then switch it off and take its keys out."
            ) with
            {
                TunnelId = null,
                NoReturn = true,
            }
        );
        var said = new List<VerdictPart>();
        var impossible = translations.Where(t => t.Carries == Carries.Impossible).ToArray();
        var changed = translations.Where(t => t.Carries == Carries.Changed).ToArray();
        said.Add(
            new(
                Tone.Plain,
                Sentence.Of(
                    $"{Say.Count(translations.Count(t => t.Carries == Carries.Kept), "setting"):w} kept, {changed.Length} changed, {impossible.Length} impossible."
                )
            )
        );
        foreach (var t in maker.Tunnels)
            if (
                t.Then.Ends.All(e => e.Platform.IkeVersions.Contains(IkeVersion.IKEv2))
                && t.Then.Version == IkeVersion.IKEv1
                && CommonGround.Strongest(t.Then.A.Platform, t.Then.B.Platform, IkeVersion.IKEv2) is { } better
            )
                said.Add(
                    new(
                        Tone.Plain,
                        Sentence.Of(
                            $"{t.Then.Tunnel} keeps what it has; both ends could then do {better.ToString()} under IKEv2. Strengthen it in a change of its own."
                        )
                    )
                );
        said.AddRange(
            impossible
                .Take(3)
                .Select(t => new VerdictPart(Tone.Stops, Sentence.Of($"{t.TunnelCode}, {t.What:w}: {t.Why}")))
        );
        return new(
            maker.Done(
                Sentence.Of(
                    $"Makes {gateway.Code} {Say.A(to.Title):w} instead of {Say.A(from.Title):w}, {(wish.Beside is null ? "in its place" : "built beside it"):w}: {Say.Count(wish.TunnelIds.Length, "tunnel"):w} with it."
                ),
                edits,
                said
            ) with
            {
                Translations = [.. translations],
            },
            []
        );
    }

    /// <summary>Carries one end's settings to a platform. What both ends must have alike is changed on both.</summary>
    private static MapNode Translate(TunnelView view, EndView end, Platform to, MapNode form, List<Translated> told)
    {
        var (e, tunnel, from, other) = (end.Name.Key(), view.Tunnel, end.Platform, end.Other.Platform);
        void Tell(string what, string? before, string? after, Carries carries, Sentence why) =>
            told.Add(new(tunnel.Id, tunnel.Code, end.Name, what, before, after, carries, why));
        var versions = end.Get(Settings.IkeVersions).Value?.Items ?? [];
        var both = versions.Where(to.IkeVersions.Contains).ToImmutableArray();
        var version = (both.IsEmpty ? to.IkeVersions.Intersect(other.IkeVersions) : both)
            .Select(v => (IkeVersion?)v)
            .Max();
        if (version is not { } ike)
        {
            Tell(
                "IKE version",
                string.Join(", ", versions.Select(WordsOf.IkeVersions.Of)),
                null,
                Carries.Impossible,
                $"{to.Title:w} and {other.Title:w} at {end.Other.Name} speak no version in common."
            );
            return form;
        }

        foreach (var setting in Settings.All)
        {
            var resolved = setting.On(end);
            if (resolved.Any is not { } value)
                continue;
            var text = value is Several<IkeVersion> v
                ? string.Join(", ", v.Items.Select(WordsOf.IkeVersions.Of))
                : value.ToString()!;
            if (setting == Settings.ExchangeMode && ike == IkeVersion.IKEv2)
                continue;
            var (then, why, alike) = Carry(setting, value, end, to, ike);
            if (then is null)
            {
                Tell(setting.Label, text, null, Carries.Impossible, why!);
                continue;
            }

            var thenText =
                then is Several<IkeVersion> tv ? string.Join(", ", tv.Items.Select(WordsOf.IkeVersions.Of))
                : then is Life life ? Entries.InUnit(life, to)
                : then.ToString()!;
            if (!then.Equals(value))
            {
                Tell(setting.Label, text, thenText, Carries.Changed, why!);
                form = alike
                    ? AfterForm.Agree(form, setting, then)
                    : Edits.Put(form, $"{e}.set.{setting.Key}", AfterForm.Written(setting, then));
                continue;
            }

            // What the old platform did by itself the new one may not: it is entered now.
            var byItself = to.Defaults.TextOf(setting);
            if (resolved.Source == Source.Default && byItself != value.ToString())
            {
                Tell(
                    setting.Label,
                    $"{text}, by default",
                    thenText,
                    Carries.Kept,
                    byItself is null
                        ? $"It was {from.Title:w}'s default and is entered now: {to.Title:w} has none."
                        : Sentence.Of(
                            $"It was {from.Title:w}'s default and is entered now: {to.Title:w} would do {byItself}."
                        )
                );
                form = Edits.Put(form, $"{e}.set.{setting.Key}", AfterForm.Written(setting, value));
            }
            else
                Tell(
                    setting.Label,
                    text,
                    thenText,
                    Carries.Kept,
                    thenText != text
                        ? $"The same, typed in {to.LifetimeUnit!.ToString()!.ToLowerInvariant():w}."
                        : Sentence.Of($"{to.Title:w} does it alike.")
                );
        }

        if (!to.Forms.IsEmpty && !to.Forms.Contains(tunnel.Form))
        {
            Tell(
                "form",
                WordsOf.Forms.Of(tunnel.Form),
                WordsOf.Forms.Of(to.Forms[0]),
                Carries.Changed,
                to.Forms[0] == TunnelForm.RouteBased
                    ? Sentence.Of(
                        $"{to.Title:w} is route-based: routes into the tunnel decide, its selectors have to be exactly those of {end.Other.Name}."
                    )
                    : Sentence.Of($"{to.Title:w} is policy-based: selectors decide, routes go.")
            );
            form = Edits.Put(form, "form", WordsOf.Forms.Of(to.Forms[0]));
            form = Edits.Put(form, $"{e}.routes", null);
        }
        else
            Tell(
                "form",
                WordsOf.Forms.Of(tunnel.Form),
                WordsOf.Forms.Of(tunnel.Form),
                Carries.Kept,
                $"{to.Title:w} does it alike."
            );
        foreach (
            var (work, key, what) in new[]
            {
                ("rules", "rules", "firewall rules"),
                ("no-translation", "noTranslation", "no-translation rules"),
                ("route", "routes", "routes"),
            }
        )
        {
            var had = Edits.Find(form, $"{e}.{key}") is not null || from.MadeByHand(work) == true;
            if (had && to.MadeByHand(work) == false)
            {
                Tell(
                    what,
                    "by hand",
                    "by itself",
                    Carries.Changed,
                    $"{to.Title:w} sees to it by itself; nothing is entered."
                );
                form = Edits.Put(form, $"{e}.{key}", null);
            }
            else if (had)
                Tell(
                    what,
                    "by hand",
                    to.MadeByHand(work) == true ? "by hand" : "not known",
                    Carries.Kept,
                    to.MadeByHand(work) == true
                        ? $"Entered by hand there too."
                        : Sentence.Of($"The profile of {to.Title:w} does not say; enter them and look.")
                );
        }

        if (end.IdentitySent is { Source: Source.Default, Value: { } identity } && to.SendsAddressByDefault != true)
        {
            Tell(
                "own identity",
                $"{identity}, by default",
                identity.ToString(),
                Carries.Kept,
                $"{to.Title:w} sends none by itself: it is entered now."
            );
            form = Edits.Put(form, $"{e}.identitySent", identity.ToString());
        }

        if (end.IdentitySent.Value is { } sends && to.IdentityKinds is { } kinds && !kinds.Contains(sends.Type))
            Tell(
                "own identity",
                sends.ToString(),
                null,
                Carries.Impossible,
                $"{to.Title:w} cannot send an identity of that kind; it can send {Say.And(kinds.Select(Identity.Kinds.Of)):w}."
            );
        if (end.Get(Settings.Authentication).Value?.Value != Authentication.Certificate && to.Keys is { } limits)
            Tell(
                "pre-shared key",
                end.End.KeyHeld?.ToString() ?? "not recorded",
                end.End.KeyHeld?.ToString() ?? "not recorded",
                Carries.Kept,
                limits.Shortest > (from.Keys?.Shortest ?? 1)
                    ? Sentence.Of(
                        $"{to.Title:w} takes no key of fewer than {limits.Shortest!.Value} characters: if the one in use is shorter, both ends get a new one first."
                    )
                    : Sentence.Of($"{to.Title:w} takes {limits.Shortest ?? 1} to {limits.Longest ?? 4096} characters.")
            );
        if (to.MostPairs is { } most && tunnel.Agreed.Pairs.Length > most)
            Tell(
                "subnet pairs",
                $"{tunnel.Agreed.Pairs.Length}",
                null,
                Carries.Impossible,
                $"{to.Title:w} holds at most {most} pairs in one tunnel."
            );
        return form;
    }

    /// <summary>
    /// The value on the new platform, null when there is none; why it is another; and whether the other end must have
    /// it too.
    /// </summary>
    private static (object? Then, Sentence? Why, bool Alike) Carry(
        Setting setting,
        object value,
        EndView end,
        Platform to,
        IkeVersion version
    )
    {
        // What is left of the list; else the strongest that both can do, what no standard advises against first.
        (object?, Sentence?, bool) Proposals<T>(
            Several<T> now,
            Func<T, IEnumerable<(string Name, int Bits, Algorithms.Grade Grade)>> members,
            Func<T, Graded> graded,
            IEnumerable<T> common
        )
            where T : class
        {
            var cannot = now
                .Items.SelectMany(p => members(p).Select(m => m.Name))
                .Where(m => to.Can(m, version) == false)
                .Distinct()
                .ToArray();
            if (cannot.Length == 0)
                return (now, null, true);
            var left = now.Items.Where(p => members(p).All(m => to.Can(m.Name, version) != false)).ToImmutableArray();
            if (!left.IsEmpty)
                return (
                    new Several<T>(left),
                    $"{to.Title:w} cannot do {Say.And(cannot)}; what is left is offered.",
                    true
                );
            var best = common
                .Select(p => (Proposal: p, Grade: graded(p)))
                .OrderBy(p => p.Grade.Worst < Algorithms.Requirement.ShouldNot ? 0 : 1)
                .ThenByDescending(p => p.Grade.Bits)
                .Select(p => p.Proposal)
                .FirstOrDefault();
            return best is null
                ? (
                    null,
                    Sentence.Of(
                        $"{to.Title:w} cannot do {Say.And(cannot)}, and has nothing in common with {end.Other.Platform.Title:w} at {end.Other.Name}."
                    ),
                    true
                )
                : (
                    new Several<T>([best]),
                    Sentence.Of(
                        $"{to.Title:w} cannot do {Say.And(cannot)}; this is the strongest that it and {end.Other.Platform.Title:w} at {end.Other.Name} both can."
                    ),
                    true
                );
        }

        switch (value)
        {
            case Several<IkeVersion> v:
                var kept = v.Items.Where(to.IkeVersions.Contains).ToImmutableArray();
                return kept.Length == v.Items.Length
                    ? (value, null, true)
                    : (
                        new Several<IkeVersion>(kept.IsEmpty ? [version] : kept),
                        $"{to.Title:w} speaks {Say.And(to.IkeVersions.Select(WordsOf.IkeVersions.Of)):w} only.",
                        true
                    );
            case Several<IkeProposal> ike:
                return Proposals(
                    ike,
                    p => Strength.Members(p),
                    Graded.Of,
                    CommonGround.IkeProposals(to, end.Other.Platform, version).OrderByDescending(p => p.Group.Number)
                );
            case Several<EspProposal> esp:
                return Proposals(
                    esp,
                    p => Strength.Members(p),
                    Graded.Of,
                    CommonGround.EspProposals(to, end.Other.Platform, version)
                );
            case Pfs pfs when pfs.Stance != PfsStance.Refused && pfs.Groups.Any(g => to.Can(g.Name, version) == false):
            {
                var groups = pfs.Groups.Where(g => to.Can(g.Name, version) != false).ToArray();
                var better =
                    groups.Length > 0
                        ? groups
                        :
                        [
                            .. Algorithms
                                .AlgorithmTable.Groups.Where(g =>
                                    to.Can(g.Name, version) == true && end.Other.Platform.Can(g.Name, version) == true
                                )
                                .OrderByDescending(Strength.Of)
                                .Take(1),
                        ];
                return better.Length == 0
                    ? (null, Sentence.Of($"No group in common for PFS."), true)
                    : (
                        Pfs.Parse(
                            $"{(pfs.Stance == PfsStance.Required ? "required" : "optional")} {string.Join(", ", better.Select(g => g.Name))}"
                        ).Value,
                        Sentence.Of(
                            $"{to.Title:w} cannot do {Say.And(pfs.Groups.Except(better).Select(g => g.Name))}."
                        ),
                        true
                    );
            }

            case Pfs pfs when to.PfsStances is { } stances && !stances.Contains(pfs.Stance):
                return (
                    null,
                    $"{to.Title:w} can only be told that PFS is {Say.And(stances.Select(Platform.PfsStanceWords.Of)):w}.",
                    true
                );
            case Life life:
            {
                var range = setting == Settings.IkeLifetime ? to.IkeLifetimes : to.EspLifetimes;
                if (range is null || range.Takes(life.Time))
                    return (value, null, false);
                var time = life.Time.InSeconds < range.Least.InSeconds ? range.Least : range.Most;
                return (
                    life with
                    {
                        Time = time,
                    },
                    $"{to.Title:w} takes {range.ToString():w}.",
                    version == IkeVersion.IKEv1
                );
            }

            case Word<PairsPerChild> pairs
                when to.PairsPerChildren is { Length: > 0 } can && !can.Contains(pairs.Value):
                return (
                    new Word<PairsPerChild>(can[0], WordsOf.PairsPerChild),
                    $"{to.Title:w} puts {WordsOf.PairsPerChild.Of(can[0]):w} into a child SA.",
                    false
                );
            case Word<ExchangeMode> mode when to.ExchangeModes is { } modes && !modes.Contains(mode.Value):
                return modes.IsEmpty
                    ? (null, Sentence.Of($"{to.Title:w} knows no exchange mode."), true)
                    : (
                        new Word<ExchangeMode>(modes[0], WordsOf.ExchangeModes),
                        Sentence.Of($"{to.Title:w} does {Say.And(modes.Select(WordsOf.ExchangeModes.Of)):w} only."),
                        true
                    );
            case Word<Authentication> method when to.Methods is { } methods && !methods.Contains(method.Value):
                return (
                    null,
                    $"{to.Title:w} authenticates by {Say.And(methods.Select(WordsOf.Authentications.Of)):w} only.",
                    true
                );
            default:
                return (value, null, setting.Likeness == Likeness.Alike);
        }
    }
}
