using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>Both ends of a tunnel row by row.</summary>
public sealed partial class Compare
{
    private static readonly ImmutableArray<Setting> Beside =
    [
        Settings.ExtendedSequence,
        Settings.EspMode,
        Settings.PeerAuthentication,
        Settings.Signatures,
        Settings.Reauthentication,
        Settings.NatTraversal,
        Settings.NatKeepalive,
        Settings.Dpd,
        Settings.ReplayWindow,
        Settings.Keepalive,
        Settings.KeepaliveInterval,
        Settings.Mtu,
        Settings.MssClamp,
        Settings.DontFragment,
        Settings.InterfaceEncapsulation,
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
        c.Methods();
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
        Add(setting, setting.Label, a, b, equal, equal ? null : difference);
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
                setting,
                setting.Label,
                Cell.Of(a),
                Cell.Of(b),
                RelationOf(a, b, equal),
                OnlyOn(knownA, knownB),
                difference
            )
        );
    }

    private void Add<T>(
        RowKey key,
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
                RelationOf(a, b, equal, undetermined),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );

    private static EndName? OnlyOn(bool a, bool b) =>
        a == b ? null
        : a ? EndName.A
        : EndName.B;

    private static Relation RelationOf(IResolved a, IResolved b, bool equal, bool undetermined = false)
    {
        if (undetermined || a.Any is null || b.Any is null)
            return Relation.Undetermined;
        return RelationOf(equal, confirmed: a.Confirmed is not null && b.Confirmed is not null);
    }

    /// <summary>What two known values come to: whether they are alike, and whether both are confirmed.</summary>
    private static Relation RelationOf(bool equal, bool confirmed)
    {
        if (!equal)
            return Relation.Differs;
        return confirmed ? Relation.Agrees : Relation.AgreesNotConfirmed;
    }

    private void Start()
    {
        var (a, b) = (view.A.Get(Settings.Initiation), view.B.Get(Settings.Initiation));
        // An address that is still to come keeps nobody from initiating once it is there.
        string? WhyNot(EndView e) =>
            StartFaults.Of(e) is { } fault and not StartFault.AddressPending ? StartFaults.Words(e, fault) : null;
        Difference? difference = null;
        if (a.Known && b.Known)
            difference = (WhyNot(view.A), WhyNot(view.B)) switch
            {
                ({ } x, { } y) => new NeitherInitiates(x, y),
                _ when a.Value!.Value == Records.Initiation.Always
                        && b.Value!.Value == Records.Initiation.Always
                        && WhyNot(view.A) is null
                        && WhyNot(view.B) is null => new BothStart(),
                _ => null,
            };
        // Starting is each end's own: the row differs only when the two together do not work.
        rows.Add(
            new(
                Settings.Initiation,
                Settings.Initiation.Label,
                Cell.Of(a),
                Cell.Of(b),
                RelationOf(a, b, difference is not NeitherInitiates),
                OnlyOn(a.Known, b.Known),
                difference
            )
        );
    }

    private void Needs()
    {
        var pairs = view.Tunnel.Agreed.Pairs.Select(p => PairState.Of(view, p)).ToArray();
        Needs(
            RowKey.Rules,
            "Firewall rules",
            pairs,
            e => e.End.Rules is { } r ? r.Confirmed : null,
            e => e.End.Rules is not null,
            p => [("inbound", p.RuleIn), ("outbound", p.RuleOut)]
        );
        Needs(
            RowKey.NoNat,
            "No-NAT rules",
            pairs,
            e => e.End.NoNat?.Confirmed,
            e => e.End.NoNat is not null,
            p => [("", p.NoNat)]
        );
        if (view.Tunnel.Form == Records.TunnelForm.RouteBased)
            Needs(
                RowKey.Routes,
                "Routes",
                pairs,
                e => e.End.Routes?.Confirmed,
                e => e.End.Routes is not null,
                p => [("", p.Route)]
            );
    }

    private void Needs(
        RowKey key,
        string label,
        PairState[] pairs,
        Func<EndView, Confirmation?> confirmation,
        Func<EndView, bool> recorded,
        Func<PairAtEnd, (string Way, Presence Is)[]> needs
    )
    {
        Cell Told(EndView e)
        {
            var all = pairs.SelectMany(p => needs(p.At(e.Name)).Select(n => (p.Pair, n.Way, n.Is))).ToArray();
            if (all.Length == 0 || all.All(n => n.Is == Presence.NotNeeded))
                return new("automatic", Source.Default, e.Platform.Title, null, null);
            if (all.Any(n => n.Is == Presence.Unknown))
                return new(
                    null,
                    Source.Unknown,
                    null,
                    null,
                    e.Platform.Manual is null ? "the platform profile does not say" : "not recorded"
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
                confirmation(e),
                null
            );
        }

        var (a, b) = (Told(view.A), Told(view.B));
        if (a.Source == Source.Default && b.Source == Source.Default)
            return;
        bool Short(Cell c) => c.Text?.StartsWith("missing", StringComparison.Ordinal) == true;
        bool IsConfirmed(Cell c) => c.Confirmed is not null || c.Source == Source.Default;
        var answer =
            a.Text is null || b.Text is null
                ? Relation.Undetermined
                : RelationOf(equal: !Short(a) && !Short(b), confirmed: IsConfirmed(a) && IsConfirmed(b));
        rows.Add(new(key, label, a, b, answer));
    }
}
