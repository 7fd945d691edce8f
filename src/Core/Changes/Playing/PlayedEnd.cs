using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>
/// The device of one end of a tunnel: what is entered there and what is active. It is the record of the end, with what
/// stands on the device said on the end itself, and the entries of each step put where the record keeps them.
/// </summary>
internal sealed class PlayedEnd
{
    private readonly TunnelStages stages;
    private readonly bool empty;
    private readonly HashSet<string> awaited;
    private readonly HashSet<Altering> altered = [];
    private MapNode entered;
    private MapNode active;
    private bool removed;
    private bool stands;
    private bool gone;

    public PlayedEnd(TunnelStages stages, EndName name)
    {
        (this.stages, Name) = (stages, name);
        Fresh = stages.Fresh(name) && stages.Runs;
        empty = Fresh || !stages.Runs;
        awaited = empty ? [.. stages.Differs(name).Enter.Select(e => e.After.Key)] : [];
        // What is put on an empty device counts once all of it stands there.
        entered = active = empty ? stages.Ground(stages.Mid ?? stages.Then) : stages.Ground(stages.Was);
        stands = !empty;
    }

    public EndName Name { get; }

    /// <summary>Whether another device takes the place of the one that carries the tunnel now.</summary>
    public bool Fresh { get; }

    /// <summary>Whether the other device carries it by now.</summary>
    public bool Switched { get; private set; }

    /// <summary>The platform of the device that is worked on.</summary>
    public Platform Platform => (Fresh ? stages.Then : stages.Was).End(Name).Platform;

    /// <summary>The gateway, which the two devices have in common where there are two.</summary>
    public Gateway Gateway => stages.Was.End(Name).Gateway;

    /// <summary>Whether the device that carries the tunnel has all of it.</summary>
    public bool Stands => Fresh && !Switched || stands;

    /// <summary>Whether the tunnel was removed from the device.</summary>
    public bool Gone => gone;

    /// <summary>Whether everything for the other device stands on it.</summary>
    public bool IsReady => stands;

    /// <summary>Whether something is entered that is not active.</summary>
    public bool Waits => !ReferenceEquals(entered, active);

    /// <summary>The tunnel's form, of which this end is as it stands on the device.</summary>
    public MapNode Form => Fresh && !Switched ? stages.Ground(stages.Was) : active;

    /// <summary>Enters, alters or removes something.</summary>
    public void Enter(DeviceEntry change)
    {
        altered.Add(AlteredBy.Of(change.Entry));
        if (empty)
            awaited.Remove(change.Entry.Key);
        if (change.Gone && change.Entry.Work == Work.Peer)
            removed = true;
        var source = stages.Ground(change.Later ? stages.Then : stages.Mid ?? stages.Then);
        foreach (var place in PlacesOf(change.Entry))
            if (!empty || change.Later)
                entered = Edits.Put(entered, place, change.Gone ? null : Edits.Find(source, place));
    }

    /// <summary>What was entered takes effect; what that alters of the device that carries the tunnel.</summary>
    public ImmutableArray<Altering> Activate()
    {
        var built = empty && !stands;
        ImmutableArray<Altering> now = built || (Fresh && !Switched) ? [] : [.. altered.Order()];
        altered.Clear();
        active = entered;
        stands |= awaited.Count == 0;
        gone |= removed;
        return now;
    }

    /// <summary>The other device carries it from now on.</summary>
    public void Switch() => Switched = true;

    /// <summary>Whether this end appears just now: an empty device has all of the tunnel.</summary>
    public bool IsEmpty => empty && !Fresh;

    private IEnumerable<FieldPath> PlacesOf(Entry entry)
    {
        var paths = TunnelPaths.Of(Name);
        switch (entry.Work)
        {
            case Work.Selectors when entry.Pair is { } pair:
                return [paths.SubnetPair(pair)];
            case Work.Selectors:
                var own = entry.Key == Entry.LocalSubnets;
                return [own ? paths.LocalSubnets : paths.RemoteSubnets, paths.SubnetsFrom(own)];
            case Work.Rules:
                return [paths.Rule(entry.Rule!)];
            case Work.NoNat:
                return [paths.NoNatRule(entry.Pair!)];
            case Work.Routes or Work.Discard:
                return [paths.Route(entry.Route!)];
            case Work.Proposals:
                return [entry.At!.Path, paths.ProposalsFrom];
            default:
                return entry.At is { Kind: RecordKind.Tunnel } at ? [at.Path] : [];
        }
    }
}
