namespace Vellumkeep.Core.Changes;

/// <summary>What the engineer wants of a change of kind subnets: these prefixes, on this side of this tunnel.</summary>
/// <param name="Reach">The prefixes on the other side that they should reach; empty: all that the tunnel carries there.</param>
public sealed record SubnetsWish(string TunnelId, EndName End, ImmutableArray<Prefix> Add, ImmutableArray<Prefix> Reach);
