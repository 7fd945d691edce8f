namespace Vellumkeep.Bench;

/// <summary>Ratios taken in one run, so that the machine falls on both sides of each.</summary>
internal static class MeasureBench
{
    public static async Task RunAsync(Workplace at)
    {
        await at.Databases.MigrateAsync(CancellationToken.None);
        var fleet = await FleetBench.ReadAsync(at.Databases);
        var lines = new List<Ratio>();
        var (check, read) = await CheckAgainstReadAsync(at, fleet);
        lines.Add(
            new(
                $"full check and both-way rehearsal of {fleet.Tunnels.Count():N0} tunnels / reading and building the "
                    + $"same {fleet.All.Count():N0} records",
                $"{check / read:0.00}",
                $"{check:0.00} s / {read:0.00} s"
            )
        );
        await EditAgainstSizeAsync(at, lines);
        await OverlapBench.MeasureAsync(at, fleet, lines);
        foreach (var line in lines)
            Console.WriteLine(line);
        Console.WriteLine(
            $"| highest memory of this run | | {Process.GetCurrentProcess().PeakWorkingSet64 / 1024 / 1024:N0} MB |"
        );
    }

    /// <summary>
    /// Reading every record of the fleet and building it, against checking and rehearsing every tunnel of it. A first
    /// run warms both up.
    /// </summary>
    /// <param name="at">Where the fleet is.</param>
    /// <param name="warm">The fleet as read before, to warm up with.</param>
    /// <param name="byProcessor">Whether seconds are those of the processor and not of the clock.</param>
    /// <returns>The seconds of each, the median of three.</returns>
    public static async Task<(double Check, double Read)> CheckAgainstReadAsync(
        Workplace at,
        Inventory warm,
        bool byProcessor = false
    )
    {
        CheckAll(Inventory.Of(warm.All.Where(r => r is not Tunnel).Concat(warm.Tunnels.Take(2000))));
        var reads = new List<double>();
        var checks = new List<double>();
        for (var i = 0; i < 3; i++)
        {
            var (inventory, read) = await TakenAsync(() => FleetBench.ReadAsync(at.Databases));
            reads.Add(read);
            var (_, check) = await TakenAsync(() => Task.FromResult(CheckAll(inventory)));
            checks.Add(check);
        }

        return (Timing.Median(checks), Timing.Median(reads));

        Task<(T Result, double Seconds)> TakenAsync<T>(Func<Task<T>> run) =>
            byProcessor ? Timing.WorkedAsync(run) : Timing.TimedAsync(run);
    }

    private static int CheckAll(Inventory inventory)
    {
        var found = 0;
        foreach (var tunnel in inventory.Tunnels)
        {
            var about = new Checked(new(inventory, tunnel, Workplace.Today));
            var (a, b) = (about.Rehearsed(EndName.A), about.Rehearsed(EndName.B));
            var findings = Checks.Run(about);
            found += findings.Length + Verdict.Of(about, findings).Length + a.Obstacles.Length + b.Obstacles.Length;
        }

        return found;
    }

    /// <summary>One edit, written and checked again, on the whole fleet and on a twentieth of it.</summary>
    private static async Task EditAgainstSizeAsync(Workplace at, List<Ratio> lines)
    {
        var little = Workplace.Of(at.Root, at.Parts * 20, at.Seed);
        if (!little.Made)
            await FleetBench.MakeAsync(little);
        await EditAsync(little.Databases, false);
        await EditAsync(at.Databases, false);
        List<double> dryBig = [],
            drySmall = [],
            keptBig = [],
            keptSmall = [];
        // Taken in turns, so that what the machine does beside falls on both.
        for (var i = 0; i < 5; i++)
        {
            dryBig.Add(await EditAsync(at.Databases, false));
            drySmall.Add(await EditAsync(little.Databases, false));
            keptBig.Add(await EditAsync(at.Databases, true));
            keptSmall.Add(await EditAsync(little.Databases, true));
        }

        lines.Add(
            Edits(
                "one edit and its re-check, without the commit to disk, on the whole fleet / on a twentieth of it",
                dryBig,
                drySmall
            )
        );
        lines.Add(Edits("the same with the commit to disk", keptBig, keptSmall));
    }

    private static Ratio Edits(string what, List<double> big, List<double> small) =>
        new(
            what,
            $"{Timing.Median(big) / Timing.Median(small):0.00}",
            $"{Timing.Median(big) * 1000:0.0} ms / {Timing.Median(small) * 1000:0.0} ms"
        );

    /// <summary>Sixty edits, each another held key at B; the median of their seconds.</summary>
    private static async Task<double> EditAsync(Databases on, bool keep)
    {
        var keeper = new Keeper(on);
        await using var context = on.Open();
        var rows = await context
            .Records.AsNoTracking()
            .Where(r => r.Kind == RecordKind.Tunnel && r.CodeKey.EndsWith("-T1"))
            .OrderBy(r => r.CodeKey)
            .Take(60)
            .ToListAsync();
        var times = new List<double>();
        foreach (var row in rows)
        {
            var tunnel = (Tunnel)RecordBody.Read(row.Kind, row.Id, row.Body);
            var held = tunnel.B with { KeyHeld = new([DateTime.UtcNow.Millisecond + 2], [1]) };
            var (_, time) = await Timing.TimedAsync(() =>
                keeper.WriteAsync(
                    new("bench", DateTimeOffset.UtcNow, "correct", "measured"),
                    (writing, _) =>
                    {
                        writing.Put(tunnel with { B = held });
                        return Task.FromResult(true);
                    },
                    CancellationToken.None,
                    keep
                )
            );
            times.Add(time);
        }

        return Timing.Median(times);
    }
}
