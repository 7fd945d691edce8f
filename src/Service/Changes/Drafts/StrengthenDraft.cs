using Vellumkeep.Core.Changes.Strengthening;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>Better protection for a tunnel.</summary>
internal static class StrengthenDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft, DraftStrengthen given)
    {
        var tunnel = await draft.TunnelAsync("tunnel", given.Tunnel);
        var suite = await draft.SuiteAsync(given.Suite);
        return Drafted.Of(
            new StrengthenRequest(tunnel.Id, suite?.Id),
            $"Strengthen {tunnel.Code}{(suite is null ? "" : $" to {suite.Code}")}"
        );
    }
}
