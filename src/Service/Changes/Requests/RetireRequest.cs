using Vellumkeep.Core.Changes.Retiring;

namespace Vellumkeep.Service.Changes.Requests;

/// <summary>A tunnel that goes.</summary>
internal static class RetireRequest
{
    public static async Task<Drafted> ReadAsync(Draft draft)
    {
        var tunnel = await draft.TunnelAsync("tunnel", draft.Given.Tunnel);
        return Drafted.Of(new RetireWish(tunnel.Id), $"Retire {tunnel.Code}");
    }
}
