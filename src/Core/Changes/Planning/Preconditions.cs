namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What approval of a plan rests on: places of its tunnels and of their gateways.</summary>
/// <param name="OfTunnels">Places in the form of each tunnel.</param>
/// <param name="OfGateways">Places in the form of each gateway.</param>
internal sealed record Preconditions(ImmutableArray<FieldPath> OfTunnels, ImmutableArray<FieldPath> OfGateways)
{
    /// <summary>Everything that is entered for a tunnel.</summary>
    public static readonly Preconditions Everything = new(
        [TunnelPaths.State, TunnelPaths.Form, TunnelPaths.Agreed, EndPaths.A.Whole, EndPaths.B.Whole],
        [GatewayPaths.Platform, GatewayPaths.SharedEntries, GatewayPaths.Uplinks, GatewayPaths.RunBy]
    );

    /// <summary>What decides which subnets reach each other.</summary>
    public static readonly Preconditions OfSubnets = new(
        [
            TunnelPaths.State,
            TunnelPaths.Form,
            TunnelPaths.Pairs,
            .. OfBoth(e => e.Gateway),
            .. OfBoth(e => e.ProtectedVrf),
            .. OfBoth(e => e.Subnets),
            .. OfBoth(e => e.Rules),
            .. OfBoth(e => e.NoNat),
            .. OfBoth(e => e.Routes),
        ],
        [GatewayPaths.Platform, GatewayPaths.SharedEntries]
    );

    /// <summary>What stands there now.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for the plan any more.</exception>
    public ImmutableArray<RestsOn> Now(Inventory before, IReadOnlyList<TunnelStages> tunnels, CancellationToken ct)
    {
        var rests = new List<RestsOn>();
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            rests.AddRange(OfTunnels.Select(p => new RestsOn(Place.On(t.Was.Tunnel, p), Edits.Find(t.WasForm, p))));
        }

        foreach (var gateway in PlanEdits.GatewaysOf(tunnels, before))
        {
            var form = WrittenGateway.Form.Write(gateway, IdNames.Instance);
            rests.AddRange(OfGateways.Select(p => new RestsOn(Place.On(gateway, p), Edits.Find(form, p))));
        }

        return [.. rests];
    }

    private static IEnumerable<FieldPath> OfBoth(Func<EndPaths, FieldPath> place) =>
        [place(EndPaths.A), place(EndPaths.B)];
}
