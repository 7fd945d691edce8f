using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-03: one finding for each end and pair, with the directions that are missing.</summary>
public static class RuleMissing
{
    /// <summary>Firewall rule missing for a pair (PATH-03).</summary>
    public static readonly Check Check = new("PATH-03", "firewall rule missing for a pair", Run)
    {
        StopsPackets = true,
    };

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
                var only = state.Pair.Only is { } traffic ? $", {traffic.OfPair}" : "";
                // A rule for a part of the traffic is there, and does not let the rest pass.
                var narrower = end.End.Rules?.Value?.Items.FirstOrDefault(r =>
                    r.Only is not null && r.Local.Contains(local) && r.Remote.Contains(remote)
                );
                var ways =
                    noIn && noOut ? "inbound or outbound"
                    : noIn ? "inbound"
                    : "outbound";
                Sentence what = noIn
                    ? Sentence.Of(
                        $"{end.Name} has no firewall rule {ways:w} for {peerName:w} → {ownName:w} "
                            + $"({remote} → {local}{only:w})."
                    )
                    : Sentence.Of(
                        $"{end.Name} has no firewall rule outbound for {ownName:w} → {peerName:w} "
                            + $"({local} → {remote}{only:w})."
                    );
                Sentence consequence =
                    noIn && noOut ? Sentence.Of($"No traffic passes between {peerName:w} and {ownName:w}.")
                    : noIn ? Sentence.Of($"No traffic from {peerName:w} reaches {ownName:w}.")
                    : Sentence.Of($"Connections from {ownName:w} do not reach {peerName:w}.");
                yield return new()
                {
                    Severity = c.Weight(lacking.Select(p => p.Pair)),
                    Subject = $"{end.Name}:{local}-{remote}{only}",
                    RowKey = RowKey.Rules,
                    Pairs = [state.Pair],
                    What = what,
                    Why = narrower is { Only: { } lets }
                        ? Sentence.Of($"A rule there allows {lets.AtEnd} alone; {end.Gateway.Code} drops the rest.")
                        : Sentence.Of(
                            $"The selectors are there, but {end.Gateway.Code} drops traffic that no rule allows."
                        ),
                    Do =
                        noIn && noOut
                            ? Sentence.Of(
                                $"At {end.Name}, allow inbound {remote} → {local} and outbound {local} → {remote}{only:w}."
                            )
                        : noIn
                            ? Sentence.Of(
                                $"At {end.Name}, allow inbound {remote} → {local}{only:w}, as for the other pairs."
                            )
                        : Sentence.Of(
                            $"At {end.Name}, allow outbound {local} → {remote}{only:w}, as for the other pairs."
                        ),
                    Consequence = consequence,
                    Evidence = Checked.Of(c.Row(RowKey.Rules)),
                };
            }
        }
    }
}
