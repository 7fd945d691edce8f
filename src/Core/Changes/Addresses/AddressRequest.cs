namespace Vellumkeep.Core.Changes.Addresses;

/// <summary>An uplink of a gateway gets another outer address.</summary>
/// <param name="TunnelIds">The tunnels that use the uplink.</param>
public sealed record AddressRequest(string GatewayId, string Uplink, Address Address, ImmutableArray<string> TunnelIds)
    : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "address move";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => TunnelIds;

    /// <inheritdoc/>
    public override ImmutableArray<string> Gateways => [GatewayId];
}
