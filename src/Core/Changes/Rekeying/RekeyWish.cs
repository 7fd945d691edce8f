namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>New keys for these tunnels.</summary>
public sealed record RekeyWish(ImmutableArray<string> TunnelIds) : Wish
{
    public override string Kind => "rekey";

    public override ImmutableArray<string> Tunnels => TunnelIds;
}
