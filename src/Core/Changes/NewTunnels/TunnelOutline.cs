namespace Vellumkeep.Core.Changes.NewTunnels;

/// <summary>
/// What the engineer gives for a tunnel that is not there yet: two gateways, the pairs, and perhaps a suite.
/// </summary>
public sealed record TunnelOutline
{
    /// <summary>The code that it gets.</summary>
    public required string Code { get; init; }

    /// <summary>The id of the customer it belongs to.</summary>
    public required string CustomerId { get; init; }

    /// <summary>Its name.</summary>
    public required string Name { get; init; }

    /// <summary>The gateway at end A.</summary>
    public required EndOutline A { get; init; }

    /// <summary>The gateway at end B.</summary>
    public required EndOutline B { get; init; }

    /// <summary>The subnets that should reach each other.</summary>
    public ImmutableArray<SubnetPair> Pairs { get; init; } = [];

    /// <summary>
    /// What is in use in the pools of the two gateways, wherever else it is: no tunnel address lies in it.
    /// </summary>
    public ImmutableArray<Prefix> Used { get; init; } = [];

    /// <summary>The suite that is asked for; null for the strongest that both can do.</summary>
    public string? SuiteId { get; init; }
}

/// <summary>One end of a tunnel that is not there yet.</summary>
/// <param name="GatewayId">The gateway.</param>
/// <param name="Uplinks">The labels of the uplinks that it uses; none for every one of the gateway.</param>
public sealed record EndOutline(string GatewayId, ImmutableArray<string> Uplinks);
