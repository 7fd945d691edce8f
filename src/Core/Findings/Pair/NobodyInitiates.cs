using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-13: neither end initiates, or both always do.</summary>
public static class NobodyInitiates
{
    /// <summary>Nobody initiates, or both always do (PAIR-13).</summary>
    public static readonly Check Check = new("PAIR-13", "neither end initiates, or both always do", c => [
            .. c.Differences<NeitherInitiates>()
                .Select(d => new Finding
                {
                    Severity = Severity.Blocks,
                    RowKey = d.Row.Key,
                    What =
                        $"Neither end initiates: {EndName.A} {d.Difference.WhyNotA:w}, {EndName.B} {d.Difference.WhyNotB:w}.",
                    Why = $"Each end waits for the other, so a tunnel that goes down stays down.",
                    Do = Initiate(c),
                    Consequence =
                        $"Neither end initiates: {EndName.A} {d.Difference.WhyNotA:w}, {EndName.B} {d.Difference.WhyNotB:w}.",
                    Evidence = Checked.Of(d.Row),
                }),
            .. c.Differences<BothStart>()
                .Select(d => new Finding
                {
                    Severity = Severity.Note,
                    RowKey = d.Row.Key,
                    What = $"Both ends always initiate.",
                    Why = $"Two IKE SAs can come up at once, and the ends must delete one of them.",
                    Do = $"Set initiation to 'always' at one end and 'responds only' at the other.",
                    Standard = "RFC 7296 section 2.8.1",
                    Evidence = Checked.Of(d.Row),
                }),
        ]) { Meets = cause => cause is DoesNotStart };

    /// <summary>Only an end that knows where to send can be told to initiate.</summary>
    private static Sentence Initiate(Checked c)
    {
        var able = c.View.Ends.Where(e => StartFaults.NoDestination(e) is null).Select(e => e.Name).ToArray();
        if (able.Length > 0)
            return $"Set initiation to 'always' at {string.Join(" or ", able):w}.";
        var any = c.View.Ends.FirstOrDefault(e => StartFaults.NoDestination(e) == StartFault.AnyAddressEntered);
        return any is null
            ? Sentence.Of($"Give one end a fixed address, or a name that follows it, and let the other initiate.")
            : Sentence.Of(
                $"Enter {any.Other.OuterText} as the peer address at {any.Name}, and let {any.Name} initiate."
            );
    }
}
