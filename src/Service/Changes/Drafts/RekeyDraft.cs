using Vellumkeep.Core.Changes.Rekeying;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>New keys for one or several tunnels.</summary>
internal static class RekeyDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft)
    {
        var tunnels = new List<Tunnel>();
        foreach (var code in (draft.Given.Also ?? []).Prepend(draft.Given.Tunnel!).OfType<string>())
            tunnels.Add(await draft.TunnelAsync("tunnel", code));
        var codes = tunnels.Select(t => t.Code).Distinct();
        return Drafted.Of(new RekeyRequest([.. tunnels.Select(t => t.Id).Distinct()]), $"New key for {Say.And(codes)}");
    }
}
