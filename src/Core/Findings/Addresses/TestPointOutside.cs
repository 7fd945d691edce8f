namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-11: a test point that lies outside its network cannot prove it.</summary>
public static class TestPointOutside
{
    /// <summary>Test point outside its network (ADR-11).</summary>
    public static readonly Check Check = new("ADR-11", "test point outside its network", c => c.View.Ends.SelectMany(
            e =>
                e.Site.Networks.SelectMany(n => n.TestPoints.Select(t => (Network: n, Point: t)))
                    .Where(x =>
                        !x.Network.Prefix.Contains(x.Point.Address) && !x.Network.AsPresented.Contains(x.Point.Address)
                    )
                    .Select(x => new Finding
                    {
                        Severity = Severity.Note,
                        Subject = $"{e.Name}:{x.Point.Address}",
                        What =
                            $"The test point {x.Point.Address} is not in {x.Network.Name:w} ({x.Network.Prefix}) at "
                            + $"{e.Site.Name:w}, where it is recorded.",
                        Why = $"A reply from it proves nothing about the pairs of this tunnel.",
                        Do = $"Correct the address of the test point, or record it with the network that it is in.",
                        Evidence = [new Evidence(e.Name, "Test point", x.Point.Address.ToString(), "recorded")],
                    })
        ));
}
