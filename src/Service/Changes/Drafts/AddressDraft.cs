using Vellumkeep.Core.Changes.Addresses;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>Another outer address for an uplink of a gateway.</summary>
internal static class AddressDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft, DraftAddress given)
    {
        var gateway = await draft.NamedAsync<Gateway>("gateway", RecordKind.Gateway, given.Gateway);
        var uplink = given.Uplink ?? gateway.Uplinks.FirstOrDefault()?.Label ?? "";
        bool Over(TunnelEnd end) =>
            end.GatewayId == gateway.Id && (end.Uplinks.IsEmpty || end.Uplinks.Contains(uplink));
        var tunnels = (await draft.BuiltOnAsync(gateway)).Where(t => Over(t.A) || Over(t.B));
        var address = await draft.FreeAddressAsync("address", given.Address, gateway);
        return Drafted.Of(
            new AddressRequest(gateway.Id, uplink, address, [.. tunnels.Select(t => t.Id)]),
            $"New outer address for {gateway.Code} {uplink}"
        );
    }
}
