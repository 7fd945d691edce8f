using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-03: one finding for each end and pair, with the directions that are missing.</summary>
public static class RuleMissing
{
    /// <summary>Firewall rule missing for a pair (PATH-03).</summary>
    public static readonly Check Check = new("PATH-03", "firewall rule missing for a pair", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        foreach (var end in c.View.Ends)
        {
            var lacking = c
                .Pairs.Where(p => p.At(end.Name).RuleIn == Presence.No || p.At(end.Name).RuleOut == Presence.No)
                .ToArray();
            foreach (var state in lacking)
            {
                var at = state.At(end.Name);
                Prefix local = state.Pair.On(end.Name),
                    remote = state.Pair.On(end.Name.Other());
                string ownName = c.View.NameOf(end.Name, local),
                    peerName = c.View.NameOf(end.Name.Other(), remote);
                bool noIn = at.RuleIn == Presence.No,
                    noOut = at.RuleOut == Presence.No;
                var ways =
                    noIn && noOut ? "in or out"
                    : noIn ? "in"
                    : "out";
                Sentence what = noIn
                    ? Sentence.Of(
                        $"{end.Name} has no rule {ways:w} from {peerName:w} to {ownName:w}: {remote} to {local}."
                    )
                    : Sentence.Of($"{end.Name} has no rule out from {ownName:w} to {peerName:w}: {local} to {remote}.");
                Sentence consequence =
                    noIn && noOut ? Sentence.Of($"Nothing passes between {peerName:w} and {ownName:w}.")
                    : noIn ? Sentence.Of($"Nothing from {peerName:w} reaches {ownName:w}.")
                    : Sentence.Of($"Nothing {ownName:w} starts reaches {peerName:w}.");
                yield return new()
                {
                    Code = "PATH-03",
                    Severity = c.Weight(lacking.Select(p => p.Pair)),
                    Subject = $"{end.Name}:{local}-{remote}",
                    RowKey = "rules",
                    Pairs = [state.Pair],
                    What = what,
                    Why = $"The pair has its selectors, but {end.Gateway.Code} drops what no rule lets pass.",
                    Do =
                        noIn && noOut
                            ? Sentence.Of($"Add a rule both ways at {end.Name}: own {local}, peer {remote}.")
                            : Sentence.Of(
                                $"Add a rule {ways:w} at {end.Name}: own {local}, peer {remote}, as for the pairs that have one."
                            ),
                    Consequence = consequence,
                    Evidence = Checked.Of(c.Row("rules")),
                };
            }
        }
    }
}
