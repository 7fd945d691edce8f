using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-05.</summary>
public static class NoNatMissing
{
    /// <summary>No-NAT rule missing for a pair (PATH-05).</summary>
    public static readonly Check Check = new("PATH-05", "no-NAT rule missing for a pair", c => c.View.Ends.SelectMany(
            end =>
                c.Pairs.Where(p => p.At(end.Name).NoNat == Presence.No)
                    .Select(state =>
                    {
                        Prefix local = state.Pair.On(end.Name),
                            remote = state.Pair.On(end.Name.Other());
                        string ownName = c.View.NameOf(end.Name, local),
                            peerName = c.View.NameOf(end.Name.Other(), remote);
                        return new Finding
                        {
                            Code = "PATH-05",
                            Severity = Severity.Blocks,
                            Subject = $"{end.Name}:{local}-{remote}",
                            RowKey = "noNat",
                            Pairs = [state.Pair],
                            What =
                                $"{end.Name} has no no-NAT rule from {ownName:w} to {peerName:w}: {local} to {remote}.",
                            Why =
                                $"{end.Gateway.Code} translates what leaves {ownName:w} before it looks for the tunnel, so it fits no selector and goes out in the clear or nowhere.",
                            Do = $"Add a no-NAT rule at {end.Name}: own {local}, peer {remote}.",
                            Consequence =
                                $"What {ownName:w} sends to {peerName:w} is translated at {end.Name} and misses the tunnel.",
                            Evidence = Checked.Of(c.Row("noNat")),
                        };
                    })
        ));
}
