namespace Vellumkeep.Bench;

/// <summary>Where the time of a fleet check goes: rows, rehearsals, each check, the verdict.</summary>
internal static class WhereBench
{
    public static async Task RunAsync(Workplace at)
    {
        var inventory = await FleetBench.ReadAsync(at.Databases);
        var spent = new Dictionary<string, long>();
        T Counted<T>(string what, Func<T> run)
        {
            var from = Stopwatch.GetTimestamp();
            var result = run();
            spent[what] = spent.GetValueOrDefault(what) + Stopwatch.GetTimestamp() - from;
            return result;
        }

        for (var round = 0; round < 2; round++)
        {
            spent.Clear();
            foreach (var tunnel in inventory.Tunnels)
            {
                var about = Counted("view, rows and pairs", () => new Checked(new(inventory, tunnel, Workplace.Today)));
                Counted("rehearsal from A", () => about.Rehearsed(EndName.A));
                Counted("rehearsal from B", () => about.Rehearsed(EndName.B));
                var findings = Checks
                    .All.SelectMany(c => Counted(c.Code, () => c.Run(about).ToArray()))
                    .OrderBy(f => f.Severity)
                    .ToImmutableArray();
                Counted("verdict", () => Verdict.Of(about, findings));
            }
        }

        var whole = spent.Values.Sum();
        foreach (var (what, elapsed) in spent.OrderByDescending(s => s.Value).Take(16))
            Console.WriteLine(
                $"{what, -24} {elapsed * 100.0 / whole, 5:0.0} %  "
                    + $"{elapsed * 1e6 / Stopwatch.Frequency / inventory.Tunnels.Count(), 8:0.0} us a tunnel"
            );
    }
}
