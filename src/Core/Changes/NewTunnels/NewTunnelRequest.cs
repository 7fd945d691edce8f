namespace Vellumkeep.Core.Changes.NewTunnels;

/// <summary>A tunnel that is recorded as planned is to be built, at both ends.</summary>
public sealed record NewTunnelRequest(string TunnelId) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "new tunnel";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [TunnelId];
}
