namespace Vellumkeep.Core.Forms;

public static partial class WrittenTunnel
{
    private static MapNode WriteKeyHeld(KeyHeld held, INames names) =>
        held.OneForBoth
            ? new MapWriter().Always("both", ListNode.OfTexts(held.Send)).Done()
            : new MapWriter()
                .Always("send", ListNode.OfTexts(held.Send))
                .Always("receive", ListNode.OfTexts(held.Receive))
                .Done();

    private static EnteredSubnets? ReadSubnets(Fields s)
    {
        bool localGiven = s.Has("local"),
            remoteGiven = s.Has("remote"),
            pairsGiven = s.Has("pairs");
        var local = s.Values("local", "local prefixes", Prefix.Parse);
        var localFrom = s.OptionalText("localFrom", "shared entry with the local prefixes");
        var remote = s.Values("remote", "remote prefixes", Prefix.Parse);
        var remoteFrom = s.OptionalText("remoteFrom", "shared entry with the remote prefixes");
        var pairs = s.Maps("pairs", "pairs, where the platform has pairs", OfSelector.Read);
        s.Name("localFrom", "local prefixes from a shared entry");
        s.Name("remoteFrom", "remote prefixes from a shared entry");
        s.Name("pairs", "pairs", "pair");
        var confirmation = s.Value("confirmed", "how, when and by whom: read 2026-11-03 by tomas", Confirmation.Parse);
        if (localGiven && localFrom is not null)
            s.Refuse("local", "'local' cannot go with 'localFrom'", "one of the two");
        if (remoteGiven && remoteFrom is not null)
            s.Refuse("remote", "'remote' cannot go with 'remoteFrom'", "one of the two");
        if (pairsGiven && (localGiven || remoteGiven || localFrom is not null || remoteFrom is not null))
            s.Refuse("pairs", "'pairs' cannot go with lists", "pairs, or local and remote");
        return s.Build(() =>
            new EnteredSubnets(
                localGiven ? local : null,
                localFrom,
                remoteGiven ? remote : null,
                remoteFrom,
                pairsGiven ? pairs : null,
                confirmation
            )
        );
    }

    /// <summary>Writes selectors as entered; null when nobody recorded any.</summary>
    public static MapNode? WriteSubnets(EnteredSubnets? s) =>
        s is null
            ? null
            : new MapWriter()
                .Always("local", s.Local is { } local ? ListNode.OfTexts(local) : null)
                .Add("localFrom", s.LocalFrom)
                .Always("remote", s.Remote is { } remote ? ListNode.OfTexts(remote) : null)
                .Add("remoteFrom", s.RemoteFrom)
                .Always("pairs", s.Pairs is { } pairs ? ListNode.Of(pairs.Select(Write)) : null)
                .Add("confirmed", s.Confirmed?.ToString())
                .Done();

    /// <summary>Writes a firewall rule.</summary>
    public static Node Write(Rule rule) => OfRule.Write(rule, IdNames.Instance);

    /// <summary>Writes a selector, or a no-NAT rule, which has its two prefixes alone.</summary>
    public static Node Write(LocalRemote rule) => OfSelector.Write(rule, IdNames.Instance);

    /// <summary>Writes a route.</summary>
    public static Node Write(Route route) => OfRoute.Write(route, IdNames.Instance);
}
