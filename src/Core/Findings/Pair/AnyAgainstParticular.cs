using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-16: one end carries selectors from any to any, the other particular pairs.</summary>
public static class AnyAgainstParticular
{
    /// <summary>Any-to-any selectors against particular pairs (PAIR-16).</summary>
    public static readonly Check Check = new("PAIR-16", "any-to-any selectors against single pairs", c =>
    {
        if (c.View.A.AnyToAny == c.View.B.AnyToAny || c.View.Ends.Any(e => !e.AnyToAny && !e.LocalSubnets.Known))
            return [];
        var any = c.View.Ends.First(e => e.AnyToAny);
        var strict =
            c.View.Ends.Any(e => e.Platform.SelectorsOf(c.View.Version) == SelectorRule.MustBeEqual)
            || c.View.Version == IkeVersion.IKEv1;
        return
        [
            new Finding
            {
                Severity = strict ? Severity.Blocks : Severity.Degrades,
                RowKey = Settings.PairsPerChild,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What = $"{any.Name} has any-to-any selectors; {any.Name.Other()} has single pairs.",
                Why = strict
                    ? Sentence.Plain("An end that accepts only equal selectors refuses the other end's.")
                    : Sentence.Of(
                        $"It works only if {any.Name.Other()} narrows what {any.Name} offers. {any.Name} sends "
                            + $"everything that is routed there into the tunnel."
                    ),
                Do =
                    $"Use any-to-any selectors at both ends and routes for the rest, or enter the same pairs at both ends.",
                Consequence =
                    $"{any.Name} has any-to-any selectors, {any.Name.Other()} has single "
                    + $"pairs{(strict ? ", and only equal selectors are accepted" : ""):w}.",
                Standard = "RFC 7296 section 2.9",
                Evidence = Checked.Of(c.Row(Settings.PairsPerChild)),
            },
        ];
    }) { Meets = cause => cause is SelectorsRefused or SelectorsNarrowed };
}
