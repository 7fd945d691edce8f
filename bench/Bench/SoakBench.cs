namespace Vellumkeep.Bench;

/// <summary>Random ends, rehearsed and checked, until one throws.</summary>
internal static class SoakBench
{
    public static int Run(Workplace at, int count)
    {
        var clock = Stopwatch.StartNew();
        var n = 0;
        var demo = FleetBench.Demo(at);
        // Among all the demo's gateways, with the few other tunnels of one busy hub: what stands around is put together
        // anew for each.
        var busy = demo.ByCode<Gateway>("harbour-gw")!.Id;
        var around = Inventory.Of(
            demo.All.Where(r => r is not Tunnel t || t.A.GatewayId == busy || t.B.GatewayId == busy)
        );
        foreach (var tunnel in RandomEnds.Tunnels(around, at.Seed).Take(count))
        {
            n++;
            try
            {
                var view = new TunnelView(around.With([tunnel]), tunnel, Workplace.Today);
                var about = new Checked(view);
                if (OneTruth.Broken(about) is { } broken)
                    throw new InvalidOperationException(broken);
                foreach (var r in about.Rehearsals)
                {
                    foreach (var o in r.Obstacles)
                        _ = FindingText.Why(about, r, o).ToString();
                    foreach (var x in r.Exchanges)
                        _ = FindingText.Carries(about, r, x).ToString();
                    _ = Timeline.Of(view, r);
                }

                _ = Verdict.Of(about, Checks.Run(about));
                if (n % 500 == 0)
                    _ = FixFinder.Of(view, about.Rehearsed(EndName.A)).Length;
            }
            catch (Exception e)
            {
                Console.WriteLine($"tunnel {n} of seed {at.Seed}: {e}");
                return 1;
            }

            if (n % 10_000 == 0)
                Console.Error.Write($"\r{n:N0}, {clock.Elapsed.TotalSeconds:N0} s   ");
        }

        Console.Error.WriteLine();
        Console.WriteLine(
            $"{n:N0} random tunnels of seed {at.Seed} rehearsed and checked in "
                + $"{clock.Elapsed.TotalSeconds:N0} s: none threw, and verdict, findings and rehearsals of each say the same."
        );
        return 0;
    }
}
