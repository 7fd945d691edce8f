using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>A tunnel as it is, as it will be, and perhaps as it stands in between.</summary>
/// <param name="Was">As it is.</param>
/// <param name="Then">As it will be.</param>
/// <param name="Mid">
/// Where it stands in between: the new beside the old, until the new is proven; null when it is replaced at once.
/// </param>
internal sealed record TunnelStages(TunnelView Was, TunnelView Then, TunnelView? Mid = null)
{
    // Asked for by every part of the plan.
    private readonly EndDifference?[] differs = new EndDifference?[2];
    private readonly EndDifference?[] withdraws = new EndDifference?[2];

    private readonly Dictionary<TunnelView, MapNode> grounds = [];

    private MapNode? wasForm;

    /// <summary>
    /// A stage written with everything that its ends have entered said on the ends themselves, as it stands on devices.
    /// </summary>
    public MapNode Ground(TunnelView stage)
    {
        if (!grounds.TryGetValue(stage, out var ground))
            grounds[stage] = ground = WrittenTunnel.Form.Write(stage.WithEntered(), IdNames.Instance);
        return ground;
    }

    /// <summary>The tunnel as it is, written.</summary>
    public MapNode WasForm => wasForm ??= WrittenTunnel.Form.Write(Was.Tunnel, IdNames.Instance);

    /// <summary>The pairs that it is to carry and was not.</summary>
    public ImmutableArray<SubnetPair> NewPairs => [.. Then.Tunnel.Agreed.Pairs.Except(Was.Tunnel.Agreed.Pairs)];

    /// <summary>The pairs that it carries no longer.</summary>
    public ImmutableArray<SubnetPair> GonePairs => [.. Was.Tunnel.Agreed.Pairs.Except(Then.Tunnel.Agreed.Pairs)];

    /// <summary>Whether anything runs through it until then.</summary>
    public bool Runs => Was.Tunnel.State is TunnelState.InService or TunnelState.Building or TunnelState.Suspended;

    /// <summary>Whether the device of an end is empty at first, because it is another one.</summary>
    public bool Fresh(EndName end) =>
        Was.End(end).Gateway.Id != Then.End(end).Gateway.Id || Was.End(end).Platform.Id != Then.End(end).Platform.Id;

    /// <summary>What is done before it is proven.</summary>
    public EndDifference Differs(EndName end) =>
        differs[(int)end] ??= EndDifference.Between(
            Fresh(end) ? [] : Entries.Of(Was.End(end)),
            Entries.Of((Mid ?? Then).End(end))
        );

    /// <summary>What is withdrawn after it was proven.</summary>
    public EndDifference Withdraws(EndName end) =>
        withdraws[(int)end] ??= Mid is null
            ? EndDifference.None
            : EndDifference.Between(Entries.Of(Mid.End(end)), Entries.Of(Then.End(end)));

    /// <summary>Whether nothing of the tunnel stays on an end.</summary>
    public bool Goes(EndName end) => Then.Tunnel.State == TunnelState.Retired && !Differs(end).IsEmpty;

    /// <summary>Whether an end has the new beside the old until the new is proven.</summary>
    public bool Adds(EndName end) => !Withdraws(end).IsEmpty;
}
