namespace Vellumkeep.Core.Changes.Retiring;

/// <summary>A tunnel is to go, from both ends.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
public sealed record RetireRequest(string TunnelId) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "retire";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [TunnelId];
}
