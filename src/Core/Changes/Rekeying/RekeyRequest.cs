namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>New keys for these tunnels.</summary>
public sealed record RekeyRequest(ImmutableArray<string> TunnelIds) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "rekey";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => TunnelIds;
}
