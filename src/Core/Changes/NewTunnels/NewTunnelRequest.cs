namespace Vellumkeep.Core.Changes.NewTunnels;

/// <summary>Tunnels that are recorded as planned are to be built, at both ends.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
public sealed record NewTunnelRequest(string TunnelId) : ChangeRequest
{
    /// <summary>Other planned tunnels that are built with it, such as those to the second endpoint.</summary>
    public ImmutableArray<string> Also { get; init; } = [];

    /// <inheritdoc/>
    public override string Kind => "new tunnel";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [.. Also.Prepend(TunnelId).Distinct()];
}
