using Vellumkeep.Core.Changes.Retiring;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>A tunnel that goes.</summary>
internal static class RetireDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft, DraftRetire given)
    {
        var tunnel = await draft.TunnelAsync("tunnel", given.Tunnel);
        return Drafted.Of(new RetireRequest(tunnel.Id), $"Retire {tunnel.Code}");
    }
}
