using Vellumkeep.Core.Changes.Rekeying;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>New keys for one or several tunnels.</summary>
internal static class RekeyDraft
{
    public static async Task<Drafted> ReadAsync(Draft draft, DraftRekey given)
    {
        var tunnels = new List<Tunnel>();
        foreach (var code in (given.Also ?? []).Prepend(given.Tunnel!).OfType<string>())
            tunnels.Add(await draft.TunnelAsync("tunnel", code));
        return new(new RekeyRequest([.. tunnels.Select(t => t.Id).Distinct()]), around =>
            $"{(tunnels.All(t => IsCertified(around, t, draft.Today)) ? "New certificates" : "New key")} for "
            + Say.And(tunnels.Select(t => t.Code).Distinct())
        );
    }

    private static bool IsCertified(Inventory around, Tunnel tunnel, DateOnly today) =>
        new TunnelView(around, tunnel, today).Ends.Any(e =>
            e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate
        );
}
