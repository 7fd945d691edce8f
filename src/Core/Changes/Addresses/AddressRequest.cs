namespace Vellumkeep.Core.Changes.Addresses;

/// <summary>An uplink of a gateway gets another outer address.</summary>
/// <param name="GatewayId">What identifies the gateway; never shown.</param>
/// <param name="Uplink">The label of the uplink that moves.</param>
/// <param name="Address">The outer address that it gets.</param>
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
