using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-08.</summary>
public static class PeerAddressWrong
{
    /// <summary>Peer address is not the other end's outer address (PAIR-08).</summary>
    public static readonly Check Check = new("PAIR-08", "peer address is not the other end's outer address", c =>
        c.Differences<AddressDiffers>()
            .Select(d =>
            {
                var (on, other) = (d.Difference.EnteredOn, d.Difference.EnteredOn.Other());
                var isDynamic = d.Difference.RealIsDynamic;
                Sentence real = isDynamic
                    ? Sentence.Of($"{other}'s outer address is dynamic")
                    : Sentence.Of($"{other}'s outer address is {d.Difference.Real}");
                return new Finding
                {
                    Severity = Severity.Blocks,
                    Subject = on.ToString(),
                    RowKey = d.Row.Key,
                    What = $"{on} has {d.Difference.Entered} as the peer address; {real}.",
                    Why =
                        $"{on} sends to the wrong address, and does not recognise {other} when {other} initiates "
                        + $"from its real address.",
                    Do = isDynamic
                        ? Sentence.Of(
                            $"Enter 'any' as the peer address at {on} and select the peer by identity, or give "
                                + $"{other} a fixed address."
                        )
                        : Sentence.Of($"Enter {d.Difference.Real} as the peer address at {on}."),
                    Consequence = $"{on} sends to {d.Difference.Entered}, but {real}.",
                    Evidence = Checked.Of(d.Row),
                };
            })
            .Concat(
                c.Met(Check!)
                    .Where(x => x.Obstacle.Cause is Rehearsing.LandsElsewhere)
                    .Select(x => new Finding
                    {
                        Severity = Severity.Blocks,
                        Subject = $"{x.Obstacle.RefusedBy}:elsewhere",
                        RowKey = x.Obstacle.RowKey,
                        What = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                        Why = $"The more specific entry matches first, with its own proposals, identity and PSK.",
                        Do =
                            $"Select {x.Rehearsal.Initiator} by identity at {x.Obstacle.RefusedBy!.Value}, or give "
                            + $"it an address that no other tunnel uses.",
                        Consequence =
                            $"{x.Obstacle.RefusedBy.Value} matches {x.Rehearsal.Initiator} to another tunnel's peer entry.",
                        Evidence = x.Obstacle.RowKey is { } key ? Checked.Of(c.Row(key)) : [],
                    })
            )
            .Concat(c.View.Ends.SelectMany(e => NotTheirs(c, e)))
    )
    {
        Meets = cause => cause is WrongAddress or NoPeerEntry or LandsElsewhere,
    };

    /// <summary>Of several peer addresses, those that no uplink of the other end has, where another one fits.</summary>
    private static IEnumerable<Finding> NotTheirs(Checked c, EndView end)
    {
        if (end.End.FurtherPeers.IsEmpty || end.End.PeerAddress?.Value is not { } first)
            yield break;
        var (on, other) = (end.Name, end.Other);
        var all = end.End.FurtherPeers.Prepend(first).ToArray();
        if (!all.Any(p => other.Uplinks.Any(p.Names)))
            yield break;
        foreach (var peer in all.Where(p => p.Address is not null && !other.Gateway.Uplinks.Any(p.Names)))
            yield return new()
            {
                Severity = Severity.Risk,
                Subject = $"{on}:{peer}",
                RowKey = RowKey.AddressOf(other.Name),
                What = $"{on} has {peer.ToString()} among the peer addresses; {other.Name} has no such outer address.",
                Why = $"{on} tries it in its turn, and waits for an answer that does not come.",
                Do = $"Remove {peer.ToString()} from the peer addresses at {on}.",
                Evidence = Checked.Of(c.Row(RowKey.AddressOf(other.Name))),
            };
    }
}
