namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>New keys for these tunnels.</summary>
/// <param name="TunnelIds">What identifies the tunnels; never shown.</param>
public sealed record RekeyRequest(ImmutableArray<string> TunnelIds) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "rekey";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => TunnelIds;
}
