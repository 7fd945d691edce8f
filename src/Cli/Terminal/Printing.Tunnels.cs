using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Terminal;

/// <summary>Rows of tunnels, and facts with their heading.</summary>
internal static partial class Printing
{
    /// <summary>Tunnels as rows; how many more there are than those that a page holds.</summary>
    public static void Tunnels(Screen s, IReadOnlyList<TunnelSummary> tunnels, int inAll)
    {
        s.Table(
            ["tunnel", "", "state", "A", "B", "verdict"],
            tunnels.Select(t =>
                (IReadOnlyList<string>)
                    [
                        s.In("strong", t.Code),
                        s.Stroke(t.Form),
                        t.State,
                        s.In("a", t.EndA),
                        s.In("b", t.EndB),
                        string.Join(" ", t.Verdict.Select(v => v.Says.Text)),
                    ]
            )
        );
        if (inAll > tunnels.Count)
            s.Line(s.In("soft", $"{inAll - tunnels.Count} more tunnels: vellumkeep tunnel list"));
    }

    public static void Facts(Screen s, string head, IReadOnlyList<FactLine> facts)
    {
        if (facts.Count == 0)
            return;
        s.Line("\n" + s.In("strong", head));
        var wide = facts.Max(x => x.What.Length) + 2;
        foreach (var x in facts)
        {
            var lines = Screen.Lines(x.Value, s.Width - wide - 2).ToArray();
            s.Line($"  {x.What.PadRight(wide)}{lines[0]}");
            foreach (var line in lines[1..])
                s.Line(new string(' ', wide + 2) + line);
        }
    }
}
