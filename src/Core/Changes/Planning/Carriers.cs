namespace Vellumkeep.Core.Changes.Planning;

/// <summary>Which step carries out which edit: by the very place, or by the end and the kind of work on it.</summary>
internal sealed class Carriers
{
    private readonly Dictionary<(Place At, bool Later), string> byPlace = [];
    private readonly Dictionary<(string TunnelId, EndName End, Work Work, bool Later), string> byWork = [];

    /// <summary>A step carries what stands at a place, and below it.</summary>
    /// <param name="at">Where the value stands.</param>
    /// <param name="stepKey">The step, by its key in the plan.</param>
    /// <param name="later">Whether in the stage in which the old is withdrawn.</param>
    public void Take(Place at, string stepKey, bool later = false) => byPlace.TryAdd((at, later), stepKey);

    /// <summary>A step carries a kind of work on an end, but for places that another carries.</summary>
    public void Take(string tunnelId, EndName end, Work work, string stepKey, bool later = false) =>
        byWork.TryAdd((tunnelId, end, work, later), stepKey);

    /// <summary>The key of the step that carries an edit at a place; null when none does.</summary>
    public string? Of(Place at, bool later)
    {
        for (var depth = at.Path.Steps.Length; depth > 0; depth--)
            if (byPlace.TryGetValue((at with { Path = at.Path.First(depth) }, later), out var here))
                return here;
        return
            at.Kind == RecordKind.Tunnel
            && WorkAt(at.Path) is var (end, work)
            && byWork.TryGetValue((at.RecordId, end, work, later), out var key)
            ? key
            : null;
    }

    /// <summary>
    /// The end and the kind of work that a place on a tunnel belongs to; null when it is entered nowhere.
    /// </summary>
    internal static (EndName End, Work Work)? WorkAt(FieldPath path)
    {
        if (TunnelPaths.EndOf(path) is not { } end)
            return null;
        var at = TunnelPaths.Of(end);
        return WorkOf(path, at) is { } work ? (end, work) : null;
    }

    private static Work? WorkOf(FieldPath path, EndPaths at)
    {
        foreach (var (outer, work) in Rooms(at))
            if (path.IsWithin(outer))
                return work;
        return path.IsWithin(at.Settings) ? Work.Options : null;
    }

    private static IEnumerable<(FieldPath Outer, Work Work)> Rooms(EndPaths at) =>
        [
            .. Settings.All.Where(s => Entries.Protects(s)).Select(s => (at.Setting(s), Work.Proposals)),
            (at.ProposalsFrom, Work.Proposals),
            (at.PeerAddress, Work.Peer),
            (at.FurtherPeers, Work.Peer),
            (at.IdentitySent, Work.Peer),
            (at.IdentityExpected, Work.Peer),
            (at.KeyFor, Work.Peer),
            (at.KeyHeld, Work.Key),
            (at.Certificate, Work.Key),
            (at.Anchors, Work.Key),
            (at.Subnets, Work.Selectors),
            (at.Rules, Work.Rules),
            (at.NoNat, Work.NoNat),
            (at.Routes, Work.Routes),
            (at.TunnelAddress, Work.Interface),
            (at.Routing, Work.Routing),
        ];
}
