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
                            Severity = Severity.Blocks,
                            Subject = $"{end.Name}:{local}-{remote}",
                            RowKey = RowKey.NoNat,
                            Pairs = [state.Pair],
                            What =
                                $"{end.Name} lacks a no-NAT rule for {ownName:w} → {peerName:w} ({local} → {remote}).",
                            Why =
                                $"{end.Gateway.Code} applies NAT to traffic from {ownName:w} before it looks up the "
                                + $"tunnel. The traffic then matches no selector and leaves unencrypted or is "
                                + $"dropped.",
                            Do = $"Add a no-NAT rule {local} → {remote} at {end.Name}, above all NAT rules.",
                            Consequence =
                                $"NAT at {end.Name} changes traffic from {ownName:w} to {peerName:w}, so it misses the tunnel.",
                            Evidence = Checked.Of(c.Row(RowKey.NoNat)),
                        };
                    })
        )) { StopsPackets = true };
}
