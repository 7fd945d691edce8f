namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-16: one end carries selectors from any to any, the other particular pairs.</summary>
public static class AnyAgainstParticular
{
    /// <summary>Any-to-any selectors against particular pairs (PAIR-16).</summary>
    public static readonly Check Check = new("PAIR-16", "any-to-any selectors against particular pairs", c =>
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
                Code = "PAIR-16",
                Severity = strict ? Severity.Blocks : Severity.Degrades,
                RowKey = Settings.PairsPerChild.Key,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What = $"{any.Name} carries selectors from any to any, {any.Name.Other()} particular pairs.",
                Why = strict
                    ? Sentence.Plain("An end that takes only equal selectors refuses the other's.")
                    : Sentence.Of(
                        $"It works only as far as {any.Name.Other()} narrows what {any.Name} offers, and {any.Name} sends into the tunnel whatever is routed there."
                    ),
                Do = $"Let both ends carry from any to any and leave it to routes, or enter the same pairs at both.",
                Consequence =
                    $"{any.Name} carries from any to any, {any.Name.Other()} particular pairs{(strict ? ", and only equal ones are taken" : ""):w}.",
                Standard = "RFC 7296 section 2.9",
                Evidence = Checked.Of(c.Row(Settings.PairsPerChild.Key)),
            },
        ];
    });
}
