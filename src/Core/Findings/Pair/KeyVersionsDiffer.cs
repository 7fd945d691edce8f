using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-10. Keys are compared by version.</summary>
public static class KeyVersionsDiffer
{
    /// <summary>Key versions or directions differ (PAIR-10).</summary>
    public static readonly Check Check = new("PAIR-10", "key versions or directions differ", c =>
        c.Differences<KeysDiffer>()
            .Select(d => Of(c, d.Row, d.Difference))
            .Concat(
                c.Met(Check!)
                    .Where(x => x.Obstacle.Cause is Rehearsing.KeyNotFound)
                    .Select(x => new Finding
                    {
                        Severity = Severity.Blocks,
                        Subject = $"{x.Obstacle.RefusedBy}:lookup",
                        RowKey = RowKey.KeyHeld,
                        What = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                        Why =
                            $"{x.Obstacle.RefusedBy!.Value} must choose the PSK before it sees the identity, so it "
                            + $"can choose only by source address.",
                        Do =
                            $"Use IKEv2 {c.WhereNotIkev2():w}, or enter one PSK for any address at "
                            + $"{x.Obstacle.RefusedBy!.Value}.",
                        Consequence = $"{x.Obstacle.RefusedBy.Value} has no PSK for an address that it does not know.",
                        Standard =
                            x.Rehearsal.Version == IkeVersion.IKEv1 ? "RFC 2409 section 5.4" : "RFC 7296 section 2.15",
                        Evidence = Checked.Of(c.Row(RowKey.KeyHeld)),
                    })
            )
    )
    {
        Meets = cause => cause is KeysMismatch or KeyNotFound or KeyEachWay,
    };

    private static Finding Of(Checked c, Row row, KeysDiffer keys)
    {
        var old = c.View.Version == IkeVersion.IKEv1;
        var eachWay = old && !(keys.A.OneForBoth && keys.B.OneForBoth);
        return new()
        {
            Severity = Severity.Blocks,
            RowKey = row.Key,
            What = $"{EndName.A} holds key {keys.A.ToString():w}; {EndName.B} holds {keys.B.ToString():w}.",
            Why = eachWay
                ? Sentence.Of($"IKEv1 has one PSK for both directions, so a key each way does not authenticate.")
                : Sentence.Of(
                    $"The next authentication fails{(old ? "" : " with AUTHENTICATION_FAILED"):w}. A tunnel that is up "
                        + $"stays up until then."
                ),
            Do = eachWay
                ? Sentence.Of(
                    $"Enter one key version for both directions at both ends, or use IKEv2 {c.WhereNotIkev2():w}."
                )
                : Newer(keys),
            Consequence =
                $"The next authentication fails: {EndName.A} holds key {keys.A.ToString():w}, {EndName.B} "
                + $"{keys.B.ToString():w}.",
            Standard = old ? "RFC 2409 section 5" : "RFC 7296 section 2.15",
            Evidence = Checked.Of(row),
        };
    }

    /// <summary>The newest version at the end that does not have it, or each end's keys made to mirror.</summary>
    private static Sentence Newer(KeysDiffer keys)
    {
        if (!keys.A.OneForBoth || !keys.B.OneForBoth)
            return $"At each end, receive the key version that the other sends. Then compare check codes.";
        var newest = keys.A.Send.Concat(keys.B.Send).DefaultIfEmpty().Max();
        var behind = keys.A.Send.Contains(newest) ? EndName.B : EndName.A;
        return $"Enter key version {newest} at {behind}, then compare check codes.";
    }
}
