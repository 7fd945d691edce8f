namespace Vellumkeep.Bench;

/// <summary>An address move of the gateway with the most tunnels, beside reading what it is planned from.</summary>
internal static class PlanBench
{
    public static async Task RunAsync(Workplace at)
    {
        await using var context = at.Databases.Open();
        // As many tunnels as a hub has: sixty, or the most that one gateway of the fleet has.
        var most = await context
            .Links.Where(l => l.Role == "a" || l.Role == "b")
            .GroupBy(l => l.ToId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync();
        var hub = most.OrderBy(g => Math.Abs(g.Count - 60)).First();
        var (reads, plans) = (new List<double>(), new List<double>());
        var steps = 0;
        for (var i = 0; i < 30; i++)
        {
            var reader = new Vellumkeep.Storage.Reading.RecordReader(context);
            var tunnels = (await reader.OnGatewayAsync(hub.Key, default)).Select(t => t.Id).ToImmutableArray();
            var (around, read) = await Timing.TimedAsync(() => reader.AroundAsync(tunnels, true, default));
            var gateway = around.Get<Gateway>(hub.Key);
            var (planned, plan) = await Timing.TimedAsync(() =>
                Task.FromResult(
                    Vellumkeep.Core.Changes.Planner.Plan(
                        around,
                        new Vellumkeep.Core.Changes.Addresses.AddressRequest(
                            hub.Key,
                            gateway.Uplinks[0].Label,
                            Vellumkeep.Core.Addressing.Address.Parse("192.0.2.251").Value,
                            tunnels
                        ),
                        Workplace.Today
                    )
                )
            );
            steps = planned.Plan?.Steps.Length
                ?? throw new InvalidOperationException(planned.Refused[0].Wrong.ToString());
            if (i > 14)
                (reads, plans) = ([.. reads, read], [.. plans, plan]);
        }

        Console.WriteLine(
            $"| address move of a gateway with {hub.Count} tunnels, {steps} steps: planned / reading what it is "
                + $"planned from | {Timing.Median(plans) / Timing.Median(reads):0.00} | "
                + $"{Timing.Median(plans) * 1000:0} ms / {Timing.Median(reads) * 1000:0} ms |"
        );
    }
}
