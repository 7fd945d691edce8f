using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What a plan leaves unknown, although what it builds needs it.</summary>
internal static class UnknownValues
{
    private static readonly ImmutableArray<Setting> Needed =
    [
        Settings.IkeVersions,
        Settings.IkeProposals,
        Settings.EspProposals,
        Settings.Authentication,
        Settings.Pfs,
    ];

    /// <summary>The needed values that nobody recorded, at the ends on which something is entered.</summary>
    public static ImmutableArray<UnknownValue> Of(IEnumerable<TunnelStages> tunnels) =>
        [
            .. from t in tunnels
            where t.Then.Tunnel.State != TunnelState.Retired
            from end in t.Then.Ends
            where !t.Differs(end.Name).IsEmpty
            from what in OnEnd(end)
            select new UnknownValue(t.Then.Tunnel.Code, end.Name, what),
        ];

    private static IEnumerable<string> OnEnd(EndView end)
    {
        foreach (var setting in Needed)
            if (setting.On(end) is { Any: null, Pending: null })
                yield return setting.Label;
        if (end.PeerAddress is { Known: false, Pending: null })
            yield return "peer address";
    }
}
