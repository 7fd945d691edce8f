namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>Subnets to add or remove behind one end of a tunnel.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="End">The end behind which they are.</param>
/// <param name="Add">The prefixes to add, as seen inside the tunnel.</param>
/// <param name="Reach">The prefixes on the other side that they should reach; empty: all that the tunnel carries
/// there.</param>
public sealed record SubnetsRequest(
    string TunnelId,
    EndName End,
    ImmutableArray<Prefix> Add,
    ImmutableArray<Prefix> Reach
) : ChangeRequest
{
    /// <summary>Prefixes that are to go.</summary>
    public ImmutableArray<Prefix> Remove { get; init; } = [];

    /// <summary>
    /// The same on further tunnels, each with the end at which the network lives: a network that joins several.
    /// </summary>
    public ImmutableArray<TunnelSide> Also { get; init; } = [];

    /// <inheritdoc/>
    public override string Kind => "subnets";

    /// <inheritdoc/>
    public override EndName? Side => End;

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [.. Also.Select(a => a.TunnelId).Prepend(TunnelId).Distinct()];
}

/// <summary>One side of a tunnel.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="End">The end of it.</param>
public sealed record TunnelSide(string TunnelId, EndName End)
{
    /// <summary>
    /// What is added there, where it is not what the request names: the other side of the same tunnel.
    /// </summary>
    public ImmutableArray<Prefix>? Add { get; init; }

    /// <summary>What is to go there, likewise.</summary>
    public ImmutableArray<Prefix>? Remove { get; init; }
}
