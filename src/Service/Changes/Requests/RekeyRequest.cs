using Vellumkeep.Core.Changes.Rekeying;

namespace Vellumkeep.Service.Changes.Requests;

/// <summary>New keys for one or several tunnels.</summary>
internal static class RekeyRequest
{
    public static async Task<Drafted> ReadAsync(Draft draft)
    {
        var tunnels = new List<Tunnel>();
        foreach (var code in (draft.Given.Also ?? []).Prepend(draft.Given.Tunnel!).OfType<string>())
            tunnels.Add(await draft.TunnelAsync("tunnel", code));
        var codes = tunnels.Select(t => t.Code).Distinct();
        return Drafted.Of(new RekeyWish([.. tunnels.Select(t => t.Id).Distinct()]), $"New key for {Say.And(codes)}");
    }
}
