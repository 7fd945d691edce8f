using Vellumkeep.Core.Changes.Platforms;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>Another platform for a gateway.</summary>
internal static class PlatformDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft, DraftPlatform given)
    {
        var gateway = await draft.NamedAsync<Gateway>("gateway", RecordKind.Gateway, given.Gateway);
        var platform = await draft.NamedAsync<Platform>("platform", RecordKind.Platform, given.Platform);
        var tunnels = await draft.BuiltOnAsync(gateway);
        Address? beside = given.Beside is null ? null : await draft.FreeAddressAsync("beside", given.Beside, gateway);
        return Drafted.Of(
            new PlatformRequest(gateway.Id, platform.Id, [.. tunnels.Select(t => t.Id)]) { Beside = beside },
            $"Move {gateway.Code} to {platform.Title}"
        );
    }
}
