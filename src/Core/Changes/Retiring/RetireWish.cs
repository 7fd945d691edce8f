namespace Vellumkeep.Core.Changes.Retiring;

/// <summary>A tunnel is to go, from both ends.</summary>
public sealed record RetireWish(string TunnelId) : Wish
{
    /// <inheritdoc/>
    public override string Kind => "retire";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [TunnelId];
}
