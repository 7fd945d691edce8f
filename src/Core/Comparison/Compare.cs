using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>Both ends of a tunnel row by row.</summary>
public sealed class Compare
{
    private static readonly ImmutableArray<Setting> Beside =
    [
        Settings.ExtendedSequence,
        Settings.Reauthentication,
        Settings.NatTraversal,
        Settings.Dpd,
        Settings.ReplayWindow,
        Settings.Keepalive,
        Settings.KeepaliveInterval,
        Settings.Mtu,
        Settings.MssClamp,
        Settings.DontFragment,
    ];

    private readonly TunnelView view;
    private readonly List<Row> rows = [];

    private Compare(TunnelView view) => this.view = view;

    /// <summary>
    /// Compares both ends. Rows come in the order in which an engineer reads them; the same records give the same rows.
    /// </summary>
    public static ImmutableArray<Row> Rows(TunnelView view)
    {
        var c = new Compare(view);
        c.Addresses();
        c.Setting(
            Settings.IkeVersions,
            (a, b) => a.Items.Intersect(b.Items).Any() ? null : new NoVersion(),
            overlapIsEnough: true
        );
        c.Setting(Settings.ExchangeMode);
        c.Setting(Settings.Authentication, (a, b) => a == b ? null : new MethodsDiffer());
        c.Identities(EndName.A);
        c.Identities(EndName.B);
        c.Keys();
        c.Ike();
        c.Setting(Settings.IkeLifetime, Lifetimes);
        c.Esp();
        c.Pfs();
        c.Setting(Settings.EspLifetime, Lifetimes);
        c.Subnets(EndName.A);
        c.Subnets(EndName.B);
        c.Setting(Settings.PairsPerChild);
        c.Start();
        foreach (var setting in Beside)
            c.Plain(setting);
        c.Needs();
        c.TunnelAddresses();
        return [.. c.rows];
    }

    private void Setting<T>(Setting<T> setting, Func<T, T, Difference?>? differ = null, bool overlapIsEnough = false)
        where T : class
    {
        var (a, b) = (view.A.Get(setting), view.B.Get(setting));
        if (a.Source == Source.Unknown && b.Source == Source.Unknown && setting == (Setting)Settings.ExchangeMode)
            return;
        var difference = a.Known && b.Known ? differ?.Invoke(a.Value!, b.Value!) : null;
        var equal =
            a.Known
            && b.Known
            && (
                Equals(a.Value, b.Value)
                || (overlapIsEnough && difference is null)
                || (
                    a.Value is Life la
                    && b.Value is Life lb
                    && la.Time.InSeconds == lb.Time.InSeconds
                    && la.Data?.InKilobytes == lb.Data?.InKilobytes
                )
            );
        Add(setting.Key, setting.Label, a, b, equal, equal ? null : difference);
    }

    /// <summary>
    /// A setting that is each end's own. A row that nobody ever said anything about, on either end, tells nothing.
    /// </summary>
    private void Plain(Setting setting)
    {
        var (a, b) = (setting.On(view.A), setting.On(view.B));
        if (a.Source == Source.Unknown && b.Source == Source.Unknown && setting != (Setting)Settings.Dpd)
            return;
        var (knownA, knownB) = (a.Any is not null, b.Any is not null);
        Difference? difference =
            setting == (Setting)Settings.ExtendedSequence
            && a.Any is Word<Extended> x
            && b.Any is Word<Extended> y
            && x.Value != y.Value
            && x.Value != Extended.Either
            && y.Value != Extended.Either
                ? new OptionsDiffer()
                : null;
        var equal =
            Equals(a.Any, b.Any)
            || (setting == (Setting)Settings.ExtendedSequence && knownA && knownB && difference is null);
        rows.Add(
            new(
                setting.Key,
                setting.Label,
                Cell.Of(a),
                Cell.Of(b),
                AnswerOf(a, b, equal),
                OnlyOn(knownA, knownB),
                difference
            )
        );
    }

    private void Add<T>(
        string key,
        string label,
        Resolved<T> a,
        Resolved<T> b,
        bool equal,
        Difference? difference,
        bool undetermined = false
    )
        where T : class =>
        rows.Add(
            new(
                key,
                label,
                Cell.Of(a),
                Cell.Of(b),
                AnswerOf(a, b, equal, undetermined),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );

    private static EndName? OnlyOn(bool a, bool b) =>
        a == b ? null
        : a ? EndName.A
        : EndName.B;

    private static Answer AnswerOf(IResolved a, IResolved b, bool equal, bool undetermined = false) =>
        undetermined || a.Any is null || b.Any is null ? Answer.Undetermined
        : !equal ? Answer.Differs
        : a.Seen is not null && b.Seen is not null ? Answer.Agrees
        : Answer.AsFarAsKnown;

    private void Addresses()
    {
        foreach (var owner in view.Ends)
        {
            var entered = owner.Other.PeerAddress;
            var uplink = owner.Uplinks.FirstOrDefault();
            var real = owner.Uplinks.Select(u => u.Outer).OfType<Address>().ToArray();
            Difference? difference = null;
            bool undetermined = false,
                fits = true;
            if (entered.Value is { IsAny: false } peer)
            {
                fits = peer.Address is { } at
                    ? real.Contains(at)
                    : owner.Uplinks.Any(u => u.Address.Value?.Name == peer.Name);
                undetermined = !fits && !owner.AddressMoves && (peer.Name is not null || real.Length == 0);
                if (!fits && !undetermined)
                    difference = new AddressDiffers(
                        owner.Name.Other(),
                        peer.ToString(),
                        owner.OuterText,
                        owner.AddressMoves
                    );
            }

            var known = new Cell(
                owner.OuterText,
                uplink?.Address.Value is null ? Source.Unknown : Source.Set,
                uplink is null ? null : $"{owner.Gateway.Code} {uplink.Label}",
                uplink?.Address.Seen,
                uplink?.Translator is { } t
                        ? $"behind {Translator.Kinds.Of(t.Type)} translation, {uplink.Address.Value} on the device"
                    : uplink?.Address.Pending is { } p ? $"pending: {p.WhoKnows ?? "nobody assigned"}"
                    : null
            );
            var there = Cell.Of(entered);
            var answer =
                !entered.Known || uplink?.Address.Value is null || undetermined ? Answer.Undetermined
                : difference is not null ? Answer.Differs
                : entered.Seen is not null && uplink.Address.Seen is not null ? Answer.Agrees
                : Answer.AsFarAsKnown;
            rows.Add(
                new(
                    $"addressOf{owner.Name}",
                    $"Address of {owner.Name}",
                    owner.Name == EndName.A ? known : there,
                    owner.Name == EndName.A ? there : known,
                    answer,
                    OnlyOn(owner.Name == EndName.A || entered.Known, owner.Name == EndName.B || entered.Known),
                    difference
                )
            );
        }
    }

    private void Identities(EndName sender)
    {
        var sent = view.End(sender).IdentitySent;
        var verifier = view.End(sender.Other());
        var expected = verifier.IdentityExpected;
        var difference = IdentityFit.Of(view.End(sender));
        var undetermined = difference is { Fault: IdentityFault.CaseOnly, ComparedByOctet: null };
        var (a, b) = sender == EndName.A ? (sent, expected) : (expected, sent);
        rows.Add(
            new(
                $"identityOf{sender}",
                $"Identity of {sender}",
                Cell.Of(a),
                Cell.Of(b),
                AnswerOf(a, b, difference is null, undetermined),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );
    }

    private void Keys()
    {
        if (view.Ends.All(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate))
            return;
        Resolved<KeyHeld> Held(EndView e) =>
            e.End.KeyHeld is { } k ? new(k, Source.Set, null, null) : Resolved<KeyHeld>.Unknown;
        var (a, b) = (Held(view.A), Held(view.B));
        var fits =
            a.Value is { } x
            && b.Value is { } y
            && x.Send.Intersect(y.Receive).Any()
            && y.Send.Intersect(x.Receive).Any();
        Add(
            "keyHeld",
            "Key held",
            a,
            b,
            fits,
            fits || !a.Known || !b.Known ? null : new KeysDiffer(a.Value!, b.Value!)
        );
    }

    private void Ike()
    {
        Negotiated(Settings.IkeProposals, (from, to, answering) =>
            Choice.Ike(Usable.Ike(from, view.Version), Usable.Ike(to, view.Version), answering)
        );
    }

    private void Esp() =>
        Negotiated(Settings.EspProposals, (from, to, answering) =>
            Choice.Esp(Usable.Esp(from, view.Version), Usable.Esp(to, view.Version), answering)
        );

    /// <summary>
    /// Rehearses the choice from either side. Where the answering platform's rule is not known, only what every rule
    /// would decide alike is decided.
    /// </summary>
    private void Negotiated<T>(Setting<Several<T>> setting, Func<EndView, EndView, Answering, Chosen<T>> choose)
        where T : class
    {
        var (a, b) = (view.A.Get(setting), view.B.Get(setting));
        if (!a.Known || !b.Known)
        {
            Add(setting.Key, setting.Label, a, b, false, null);
            return;
        }

        var undetermined = false;
        Chosen<T> From(EndView starter)
        {
            var strict = choose(starter, starter.Other, Answering.SameList);
            if (strict.Proposal is not null || starter.Other.Platform.Answers == Answering.SameList)
                return strict;
            var loose = choose(starter, starter.Other, Answering.AnyCombination);
            if (starter.Other.Platform.Answers is null && loose.Proposal is not null)
                undetermined = true;
            return loose;
        }

        var (fromA, fromB) = (From(view.A), From(view.B));
        Difference? difference = (fromA.Proposal, fromB.Proposal) switch
        {
            (null, null) => new NoProposal(null, fromA.Miss),
            (null, _) => new NoProposal(EndName.A, fromA.Miss),
            (_, null) => new NoProposal(EndName.B, fromB.Miss),
            _ => null,
        };
        rows.Add(
            new(
                setting.Key,
                setting.Label,
                Cell.Of(a),
                Cell.Of(b),
                AnswerOf(a, b, difference is null, undetermined),
                null,
                undetermined ? null : difference
            )
        );
    }

    private void Pfs()
    {
        var (a, b) = (view.A.Get(Settings.Pfs), view.B.Get(Settings.Pfs));
        PfsMisfit? difference = null;
        var undetermined = false;
        if (a.Value is { } x && b.Value is { } y)
        {
            var group = Choice
                .Ike(Usable.Ike(view.A, view.Version), Usable.Ike(view.B, view.Version), Answering.SameList)
                .Proposal?.Group;
            var (asksA, asksB) = (Choice.PfsFits(x, y, group), Choice.PfsFits(y, x, group));
            undetermined = asksA is null || asksB is null;
            if (asksA == false || asksB == false)
            {
                var later = Timing.Rekeying.OfPfs(view, group);
                difference = new(
                    asksA == asksB ? null
                        : asksA == true ? EndName.B
                        : EndName.A,
                    view.Version == IkeVersion.IKEv1,
                    later?.FirstRefusal,
                    later?.Lost?.To,
                    later?.HiddenBy,
                    later?.Flaps,
                    later is null
                );
            }
        }

        Add(Settings.Pfs.Key, Settings.Pfs.Label, a, b, difference is null, difference, undetermined);
    }

    private static Difference? Lifetimes(Life a, Life b)
    {
        if (a.Time.InSeconds == b.Time.InSeconds && a.Data?.InKilobytes == b.Data?.InKilobytes)
            return null;
        // The slip is looked for first on the end that is no whole number of hours, then on the longer one: few people
        // mean either.
        foreach (
            var end in new[] { EndName.A, EndName.B }
                .OrderBy(e => (e == EndName.A ? a : b).Time.InSeconds % 3600 == 0)
                .ThenByDescending(e => (e == EndName.A ? a : b).Time.InSeconds)
        )
        {
            var (odd, right) = end == EndName.A ? (a.Time, b.Time) : (b.Time, a.Time);
            if (Slip(odd, right) is { } slip)
                return new LifetimesDiffer(a, b, end, slip, right);
        }

        return new LifetimesDiffer(a, b, null, null, null);
    }

    /// <summary>
    /// Whether <paramref name="odd"/> would equal <paramref name="right"/> if it had been typed in another unit, or
    /// with one digit more or fewer.
    /// </summary>
    private static string? Slip(Lifetime odd, Lifetime right)
    {
        foreach (var unit in Enum.GetValues<TimeUnit>())
            if (unit != odd.Unit && odd.Amount * (long)unit == right.InSeconds)
                return $"reads like {Lifetime.Of(odd.Amount, unit)} typed in the wrong unit";
        if (right.In(odd.Unit) is not { } same || same.Amount == odd.Amount)
            return null;
        var (shorter, longer) = (
            odd.Amount.ToString(CultureInfo.InvariantCulture),
            same.Amount.ToString(CultureInfo.InvariantCulture)
        );
        var lost = shorter.Length < longer.Length;
        if (!lost)
            (shorter, longer) = (longer, shorter);
        if (longer.Length != shorter.Length + 1 || shorter.Length < 3)
            return null;
        for (var i = 0; i < longer.Length; i++)
            if (longer.Remove(i, 1) == shorter)
                return $"reads like {same} with a digit {(lost ? "lost" : "too many")}";
        return null;
    }

    private void Subnets(EndName owner)
    {
        var (own, mirrored) = (view.End(owner).OwnSubnets, view.End(owner.Other()).PeerSubnets);
        Difference? difference = null;
        if (own.Value is { } o && mirrored.Value is { } m)
        {
            var atOwner = o.Items.Except(m.Items).ToList();
            var atPeer = m.Items.Except(o.Items).ToList();
            var mismatches = new List<SubnetMismatch>();
            foreach (var prefix in atOwner.ToArray())
            {
                var near = atPeer.Where(p => p.Overlaps(prefix)).Select(p => (Prefix?)p).FirstOrDefault();
                if (near is not { } other)
                {
                    // A prefix inside a wider one on the other end is mirrored by it, only not exactly.
                    var wider = m.Items.Where(p => p.Contains(prefix)).Select(p => (Prefix?)p).FirstOrDefault();
                    mismatches.Add(
                        wider is { } w
                            ? new(SubnetFault.WiderAtPeer, prefix, w)
                            : new(SubnetFault.MissingAtPeer, prefix, null)
                    );
                    continue;
                }

                mismatches.Add(
                    new(other.Contains(prefix) ? SubnetFault.WiderAtPeer : SubnetFault.NarrowerAtPeer, prefix, other)
                );
                atPeer.Remove(other);
            }

            mismatches.AddRange(atPeer.Select(p => new SubnetMismatch(SubnetFault.ExtraAtPeer, null, p)));
            var swapped =
                mismatches.Count > 0
                && view.A.OwnSubnets.Value is { } ao
                && view.B.OwnSubnets.Value is { } bo
                && view.A.PeerSubnets.Value is { } ap
                && view.B.PeerSubnets.Value is { } bp
                && ao.Items.ToHashSet().SetEquals(bo.Items)
                && ap.Items.ToHashSet().SetEquals(bp.Items);
            if (mismatches.Count > 0)
                difference = new SubnetsDiffer(owner, [.. mismatches], swapped);
        }

        var (a, b) = owner == EndName.A ? (own, mirrored) : (mirrored, own);
        rows.Add(
            new(
                $"subnetsOf{owner}",
                $"Subnets of {owner}",
                Cell.Of(a),
                Cell.Of(b),
                AnswerOf(a, b, difference is null),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );
    }

    /// <summary>Addresses on the tunnel interface, where either end has one.</summary>
    private void TunnelAddresses()
    {
        Resolved<TunnelAddress> At(EndView e) =>
            e.End.TunnelAddress is { } t ? Resolved<TunnelAddress>.Set(t) : Resolved<TunnelAddress>.Unknown;
        var (a, b) = (At(view.A), At(view.B));
        if (view.A.End.TunnelAddress is null && view.B.End.TunnelAddress is null)
            return;
        Difference? difference =
            a.Value is { } x && b.Value is { } y && (x.Address == y.Address || x.Network != y.Network)
                ? new TunnelAddressesDiffer(x, y)
                : null;
        Add("tunnelAddress", "Tunnel address", a, b, difference is null, difference);
    }

    private void Start()
    {
        var (a, b) = (view.A.Get(Settings.Start), view.B.Get(Settings.Start));
        string? WhyNot(EndView e, Resolved<Word<Start>> start) =>
            start.Value?.Value == Records.Start.OnlyAnswer ? "only answers"
            : e.PeerAddress.Value?.IsAny == true || (e.End.PeerAddress is null && e.Other.AddressMoves)
                ? $"cannot: {e.Other.Name}'s address is not fixed"
            : null;
        Difference? difference = null;
        if (a.Known && b.Known)
            difference = (WhyNot(view.A, a), WhyNot(view.B, b)) switch
            {
                ({ } x, { } y) => new NobodyStarts(x, y),
                _ when a.Value!.Value == Records.Start.Always
                        && b.Value!.Value == Records.Start.Always
                        && WhyNot(view.A, a) is null
                        && WhyNot(view.B, b) is null => new BothStart(),
                _ => null,
            };
        // Starting is each end's own: the row differs only when the two together do not work.
        rows.Add(
            new(
                Settings.Start.Key,
                Settings.Start.Label,
                Cell.Of(a),
                Cell.Of(b),
                AnswerOf(a, b, difference is not NobodyStarts),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );
    }

    private void Needs()
    {
        var pairs = view.Tunnel.Agreed.Pairs.Select(p => PairState.Of(view, p)).ToArray();
        Needs(
            "rules",
            "Firewall rules",
            pairs,
            e => e.End.Rules is { } r ? r.Seen : null,
            e => e.End.Rules is not null,
            p => [("in", p.RuleIn), ("out", p.RuleOut)]
        );
        Needs(
            "noTranslation",
            "No-translation rules",
            pairs,
            e => e.End.NoTranslation?.Seen,
            e => e.End.NoTranslation is not null,
            p => [("", p.NoTranslation)]
        );
        if (view.Tunnel.Form == Records.TunnelForm.RouteBased)
            Needs(
                "routes",
                "Routes",
                pairs,
                e => e.End.Routes?.Seen,
                e => e.End.Routes is not null,
                p => [("", p.Route)]
            );
    }

    private void Needs(
        string key,
        string label,
        PairState[] pairs,
        Func<EndView, Seen?> seen,
        Func<EndView, bool> recorded,
        Func<PairAtEnd, (string Way, Presence Is)[]> needs
    )
    {
        Cell Told(EndView e)
        {
            var all = pairs.SelectMany(p => needs(p.At(e.Name)).Select(n => (p.Pair, n.Way, n.Is))).ToArray();
            if (all.Length == 0 || all.All(n => n.Is == Presence.NotNeeded))
                return new("not made by hand", Source.Default, e.Platform.Title, null, null);
            if (all.Any(n => n.Is == Presence.Unknown))
                return new(
                    null,
                    Source.Unknown,
                    null,
                    null,
                    e.Platform.ByHand is null ? "the platform profile is silent" : "nobody recorded them"
                );
            var missing = all.Where(n => n.Is == Presence.No)
                .Select(n => $"{view.NameOf(n.Pair)}{(n.Way.Length > 0 ? " " + n.Way : "")}")
                .ToArray();
            var ways = needs(pairs[0].At(e.Name)).Length == 2 ? ", both ways" : "";
            return new(
                missing.Length == 0
                    ? $"{Say.Count(pairs.Length, "pair")}{ways}"
                    : $"missing: {string.Join(", ", missing)}",
                Source.Set,
                null,
                seen(e),
                null
            );
        }

        var (a, b) = (Told(view.A), Told(view.B));
        if (a.Source == Source.Default && b.Source == Source.Default)
            return;
        bool Short(Cell c) => c.Text?.StartsWith("missing", StringComparison.Ordinal) == true;
        var answer =
            a.Text is null || b.Text is null ? Answer.Undetermined
            : Short(a) || Short(b) ? Answer.Differs
            : (a.Seen is not null || a.Source == Source.Default) && (b.Seen is not null || b.Source == Source.Default)
                ? Answer.Agrees
            : Answer.AsFarAsKnown;
        rows.Add(new(key, label, a, b, answer));
    }
}
