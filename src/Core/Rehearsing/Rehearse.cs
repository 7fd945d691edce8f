using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>
/// Rehearses a tunnel from one side: IKEv2 (RFC 7296) or IKEv1 (RFC 2409 in main, aggressive and quick mode). A pure
/// function of the resolved ends, the other peer entries of the responder's gateway and the path. Goes on after an
/// obstacle as though it were fixed, so that one run meets them all in order.
/// </summary>
public sealed partial class Rehearse
{
    private readonly TunnelView view;
    private readonly EndView initiator;
    private readonly EndView responder;
    private readonly ImmutableArray<SubnetPair> wanted;
    private readonly List<Exchange> exchanges = [];
    private readonly List<Obstacle> obstacles = [];
    private readonly List<OpenQuestion> open = [];
    private readonly List<SubnetPair> narrowed = [];
    private readonly List<SubnetPair> parts = [];
    private readonly List<(EndName, Assumption)> assumed = [];
    private IkeVersion? version;
    private ExchangeMode? mode;
    private IkeProposal? ike;
    private DhGroup? KeyExchange => ike is { } chosen ? chosen.Group : null;
    private EspProposal? esp;
    private DhGroup? pfs;
    private bool encapsulated;
    private Tunnel? elsewhere;

    private Rehearse(TunnelView view, EndName initiator)
    {
        this.view = view;
        this.initiator = view.End(initiator);
        responder = this.initiator.Other;
        wanted = view.Tunnel.Agreed.Pairs;
    }

    /// <summary>Rehearses the negotiation as one end begins it.</summary>
    public static Rehearsal From(TunnelView view, EndName initiator) => new Rehearse(view, initiator).Run();

    /// <summary>
    /// Every pairing of uplinks that the two ends may use, the preferred ones first; each is a view of the tunnel on
    /// just those two.
    /// </summary>
    public static IEnumerable<(Uplink A, Uplink B, TunnelView View)> Pairings(TunnelView view)
    {
        foreach (var a in view.A.Uplinks)
        foreach (var b in view.B.Uplinks)
        {
            var t = view.Tunnel with
            {
                A = view.Tunnel.A with { Uplinks = [a.Label] },
                B = view.Tunnel.B with { Uplinks = [b.Label] },
            };
            yield return (a, b, new(view.Inventory, t, view.Today));
        }
    }

    private bool Old => version == IkeVersion.IKEv1;

    private Authentication? MethodOf(EndView end) => end.Get(Settings.Authentication).Value?.Value;

    private Rehearsal Run()
    {
        version = view.Version;
        Begin();
        Reach();
        if (version is null)
            Versions();
        else
        {
            VersionSupported();
            FallBack();
        }

        // Where no version is in common the rest is told as the initiator would begin.
        version ??= new[] { initiator, responder }
            .Select(e => e.Get(Settings.IkeVersions).Value?.Items.Max())
            .FirstOrDefault(v => v is not null)
            ?? IkeVersion.IKEv2;
        var passing = Old ? First1() : First2();
        if (wanted.IsEmpty)
            open.Add(
                new(Stage.Selectors, null, "which subnets are to reach each other (no pair is agreed)", false, [])
            );
        var outcome = OutcomeRule.Of(new(wanted, obstacles, open, passing, narrowed));
        return new()
        {
            Initiator = initiator.Name,
            Version = version,
            Mode = mode,
            Outcome = outcome,
            Exchanges = [.. exchanges],
            Obstacles = [.. obstacles.OrderBy(o => o.Stage)],
            Open = [.. open.OrderBy(o => o.Stage)],
            Assumed = [.. assumed.Distinct()],
            Ike = ike,
            Esp = esp,
            Pfs = pfs,
            Encapsulated = encapsulated,
            Passing = outcome is Outcome.Up or Outcome.UpWithFewerPairs ? [.. passing] : [],
            Narrowed = outcome is Outcome.UpWithFewerPairs ? [.. narrowed] : [],
            Parts = outcome is Outcome.UpWithFewerPairs ? [.. parts] : [],
            Later =
                esp is null ? null
                : Old ? LaterUnderIkev1(passing)
                : Rekeying.OfPfs(view, KeyExchange, passing),
        };
    }

    private int Send(Message message, EndName from, SubnetPair? pair = null, int more = 0)
    {
        exchanges.Add(new(exchanges.Count + 1, message, from, pair, more));
        return exchanges.Count;
    }

    private void Stops(
        Stage stage,
        int at,
        EndName? by,
        string notify,
        RowKey? row,
        Cause cause,
        params ImmutableArray<SubnetPair> pairs
    )
    {
        if (
            Old
            && notify == Silence
            && stage is > Stage.Version and < Stage.Child
            && by is { } end
            && view.End(end).Platform.NotifiesInPhase1 is null
        )
            assumed.Add((end, Assumption.Silent));
        obstacles.Add(new(stage, at, by, notify, row, cause, pairs));
    }

    private void Asks(
        Stage stage,
        EndName? at,
        string what,
        bool ofProfile = false,
        params ImmutableArray<SubnetPair> pairs
    ) => open.Add(new(stage, at, what, ofProfile, pairs));

    /// <summary>
    /// The notify of a refused phase 1 of IKEv1: an error where the profile says that one is sent, otherwise silence.
    /// </summary>
    private static string InPhase1(EndView by, string notify) =>
        by.Platform.NotifiesInPhase1 == true ? notify : Silence;

    internal const string Silence = "no response";
}
