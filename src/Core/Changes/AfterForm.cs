using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes;

/// <summary>Brings a tunnel to the form it will have: edits of its written form, read back.</summary>
internal static class AfterForm
{
    public static MapNode Of(Tunnel tunnel) => WrittenTunnel.Form.Write(tunnel, IdNames.Instance);

    /// <exception cref="InvalidOperationException">The form cannot be read: a planner made nonsense.</exception>
    public static Tunnel Read(Tunnel was, MapNode form)
    {
        var reading = new Reading(IdNames.Instance);
        return WrittenTunnel.Form.Read(was.Id, new Fields(form, "", reading))
            ?? throw new InvalidOperationException(
                $"The plan would leave {was.Code} unreadable: {reading.Problems[0].Field}: {reading.Problems[0].Wrong}"
            );
    }

    public static Gateway Read(Gateway was, MapNode form)
    {
        var reading = new Reading(IdNames.Instance);
        return WrittenGateway.Form.Read(was.Id, new Fields(form, "", reading))
            ?? throw new InvalidOperationException(
                $"The plan would leave {was.Code} unreadable: {reading.Problems[0].Field}: {reading.Problems[0].Wrong}"
            );
    }

    /// <summary>A value of a setting as it is written.</summary>
    public static Node Written(Setting setting, object value) =>
        ((MapNode)WrittenSettings.Write(setting, value, new(SeenHow.Typed, default, "nobody"))).Find("is")!;

    /// <summary>Sets a setting for both ends: agreed, and on each end that records it.</summary>
    public static MapNode Agree(MapNode form, Setting setting, object value)
    {
        var node = Written(setting, value);
        form = Edits.Put(form, $"agreed.{setting.Key}", node);
        foreach (var e in new[] { "a", "b" })
            form = Edits.Put(form, $"{e}.set.{setting.Key}", node);
        return form;
    }

    /// <summary>
    /// Says on each end itself what it is about to have entered: what was agreed, and what the platform needs beside
    /// it, so that the record of what was built stands on the end and not on the agreement.
    /// </summary>
    public static MapNode Entered(TunnelView view, MapNode form, Func<EndView, bool>? which = null)
    {
        foreach (var end in view.Ends.Where(e => which?.Invoke(e) ?? true))
        {
            var e = end.Name.Key();
            foreach (var setting in Settings.All)
                if (
                    setting.On(end) is { Any: { } value, Source: Source.Agreed }
                    && Entries.Of(end).Any(x => x.Key == setting.Key)
                )
                    form = Edits.Put(form, $"{e}.set.{setting.Key}", Written(setting, value));
            if (end.End.PeerAddress is null && end.PeerAddress.Value is { } peer)
                form = Edits.Put(form, $"{e}.peerAddress", peer.ToString());
            if (end.End.IdentitySent is null && end.IdentitySent is { Source: Source.Agreed, Value: { } sent })
                form = Edits.Put(form, $"{e}.identitySent", sent.ToString());
            if (
                end.End.IdentityExpected is null
                && end.IdentityExpected is { Source: Source.Agreed, Value: { } expected }
            )
                form = Edits.Put(form, $"{e}.identityExpected", expected.ToString());
            var entries = Entries.Of(end);
            var other = end.Name.Other();
            var pairs = view.Tunnel.Agreed.Pairs.Select(p => new OwnPeer(p.On(end.Name), p.On(other))).ToArray();
            if (end.End.Subnets is null && !end.AnyToAny && pairs.Length > 0)
                form = entries.Any(x => x.Key.StartsWith("pair ", StringComparison.Ordinal))
                    ? Edits.Put(form, $"{e}.subnets.pairs", ListNode.Of(pairs.Select(WrittenTunnel.Write)))
                    : Edits.Put(
                        Edits.Put(form, $"{e}.subnets.own", ListNode.OfTexts(pairs.Select(p => p.Own).Distinct())),
                        $"{e}.subnets.peer",
                        ListNode.OfTexts(pairs.Select(p => p.Peer).Distinct())
                    );
            if (end.End.Rules is null && entries.Any(x => x.Work == Work.Rules))
                form = Edits.Put(
                    form,
                    $"{e}.rules",
                    ListNode.Of(
                        pairs
                            .SelectMany(p =>
                                new[] { new Rule(RuleWay.In, p.Own, p.Peer), new Rule(RuleWay.Out, p.Own, p.Peer) }
                            )
                            .Select(WrittenTunnel.Write)
                    )
                );
            if (end.End.NoTranslation is null && entries.Any(x => x.Work == Work.NoTranslation))
                form = Edits.Put(form, $"{e}.noTranslation", ListNode.Of(pairs.Select(WrittenTunnel.Write)));
            if (end.End.Routes is null && entries.Any(x => x.Work is Work.Routes or Work.Discard))
                form = Edits.Put(
                    form,
                    $"{e}.routes",
                    ListNode.Of(
                        pairs
                            .Select(p => p.Peer)
                            .Distinct()
                            .SelectMany(p => new[] { new Route(p, false), new Route(p, true) })
                            .Where(r => end.Platform.MadeByHand(r.Discard ? "discard route" : "route") == true)
                            .Select(WrittenTunnel.Write)
                    )
                );
        }

        return form;
    }
}
