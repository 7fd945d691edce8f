namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>New keys for these tunnels.</summary>
public sealed record RekeyWish(ImmutableArray<string> TunnelIds) : Wish
{
    /// <inheritdoc/>
    public override string Kind => "rekey";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => TunnelIds;
}
