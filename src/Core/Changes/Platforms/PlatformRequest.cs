namespace Vellumkeep.Core.Changes.Platforms;

/// <summary>A gateway is to become another platform, with every tunnel that ends on it.</summary>
/// <param name="GatewayId">What identifies the gateway; never shown.</param>
/// <param name="PlatformId">What identifies the platform profile; never shown.</param>
/// <param name="TunnelIds">Every tunnel that ends on the gateway.</param>
public sealed record PlatformRequest(string GatewayId, string PlatformId, ImmutableArray<string> TunnelIds)
    : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "replace platform";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => TunnelIds;

    /// <inheritdoc/>
    public override ImmutableArray<string> Gateways => [GatewayId];

    /// <inheritdoc/>
    public override ImmutableArray<Named> Names => [new(RecordKind.Platform, PlatformId)];

    /// <summary>
    /// The new device's outer address, where it is built beside the old one; null when it takes the old one's place and
    /// address.
    /// </summary>
    public Address? Beside { get; init; }
}
