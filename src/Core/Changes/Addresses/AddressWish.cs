namespace Vellumkeep.Core.Changes.Addresses;

/// <summary>An uplink of a gateway gets another outer address.</summary>
/// <param name="TunnelIds">The tunnels that use the uplink.</param>
public sealed record AddressWish(string GatewayId, string Uplink, Address Address, ImmutableArray<string> TunnelIds)
    : Wish
{
    /// <inheritdoc/>
    public override string Kind => "address move";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => TunnelIds;

    /// <inheritdoc/>
    public override ImmutableArray<string> Gateways => [GatewayId];
}
