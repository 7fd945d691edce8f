namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-23: what the tunnel interfaces put around a packet, and what transport mode can carry.</summary>
public static class InterfacesDiffer
{
    /// <summary>Tunnel interfaces encapsulate differently, or nothing carries the subnets (PAIR-23).</summary>
    public static readonly Check Check = new("PAIR-23", "tunnel interfaces encapsulate differently", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        var (a, b) = (
            c.View.A.Get(Settings.InterfaceEncapsulation).Value?.Value,
            c.View.B.Get(Settings.InterfaceEncapsulation).Value?.Value
        );
        if (a is { } x && b is { } y && x != y)
            yield return new()
            {
                Severity = Severity.Blocks,
                Subject = "differ",
                RowKey = Settings.InterfaceEncapsulation,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What =
                    $"The tunnel interface encapsulates by {WordsOf.InterfaceEncapsulations.Of(x):w} at {EndName.A} and by "
                    + $"{WordsOf.InterfaceEncapsulations.Of(y):w} at {EndName.B}.",
                Why =
                    $"The SAs come up, and each end drops the other's packets: they are not what its interface expects.",
                Do = $"Set the same encapsulation at both ends.",
                Consequence =
                    $"The SAs come up and no traffic passes: the tunnel interfaces encapsulate by "
                    + $"{WordsOf.InterfaceEncapsulations.Of(x):w} at {EndName.A}, {WordsOf.InterfaceEncapsulations.Of(y):w} at "
                    + $"{EndName.B}.",
                Evidence = Checked.Of(c.Row(Settings.InterfaceEncapsulation)),
            };
        if (
            c.View.Ends.All(e => e.Get(Settings.EspMode).Value?.Value == EspMode.Transport)
            && (a, b) is (InterfaceEncapsulation.None, InterfaceEncapsulation.None)
            && !c.View.Tunnel.Agreed.Pairs.IsEmpty
        )
            yield return new()
            {
                Severity = Severity.Blocks,
                Subject = "transport",
                RowKey = Settings.EspMode,
                Pairs = c.View.Tunnel.Agreed.Pairs,
                What = $"Both ends use transport mode, and their interfaces encapsulate nothing.",
                Why = $"Transport mode protects packets between the two gateways alone, and no subnet behind them.",
                Do = $"Set tunnel mode at both ends, or an encapsulation of the tunnel interface at both ends.",
                Consequence = $"No subnet passes: transport mode carries only packets between the two gateways.",
                Standard = "RFC 4301 section 4.1",
                Evidence = Checked.Of(c.Row(Settings.EspMode)),
            };
    }
}
