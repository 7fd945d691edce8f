using Vellumkeep.Core.Changes.Platforms;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>Another platform for a gateway.</summary>
internal static class PlatformDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft)
    {
        var gateway = await draft.NamedAsync<Gateway>("gateway", RecordKind.Gateway, draft.Given.Gateway);
        var platform = await draft.NamedAsync<Platform>("platform", RecordKind.Platform, draft.Given.Platform);
        var tunnels = await draft.BuiltOnAsync(gateway);
        Address? beside = draft.Given.Beside is null
            ? null
            : await draft.FreeAddressAsync("beside", draft.Given.Beside, gateway);
        return Drafted.Of(
            new PlatformRequest(gateway.Id, platform.Id, [.. tunnels.Select(t => t.Id)]) { Beside = beside },
            $"Move {gateway.Code} to {platform.Title}"
        );
    }
}
