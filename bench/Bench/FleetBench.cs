namespace Vellumkeep.Bench;

/// <summary>Makes the fleet through the one entrance, and reads what is needed of it.</summary>
internal static class FleetBench
{
    /// <summary>The demo's keepfiles as one inventory: the platforms of the fleet are its.</summary>
    public static Inventory Demo(Workplace at)
    {
        var names = new Vellumkeep.Core.Forms.CodeNames();
        var inventory = Inventory.Empty;
        foreach (var file in Directory.GetFiles(Path.Combine(at.Root, "demo"), "*.yaml").OrderBy(DemoScenario.Place))
        {
            var sofar = inventory;
            inventory = inventory.With(
                Keepfile
                    .Read(
                        DemoScenario.Days(File.ReadAllText(file), Workplace.Today),
                        names,
                        id => sofar.Find<Gateway>(id),
                        null
                    )
                    .Records
            );
        }

        return inventory;
    }

    /// <summary>Every record of the fleet but its changes.</summary>
    public static async Task<Inventory> ReadAsync(Databases databases)
    {
        await using var context = databases.Open();
        var records = new List<IRecord>();
        await foreach (
            var row in context.Records.AsNoTracking().Where(r => r.Kind != RecordKind.Change).AsAsyncEnumerable()
        )
            records.Add(RecordBody.Read(row.Kind, row.Id, row.Body));
        return Inventory.Of(records);
    }

    public static async Task MakeAsync(Workplace at)
    {
        Directory.CreateDirectory(at.Folder);
        foreach (var file in Directory.GetFiles(at.Folder, "vellumkeep.db*"))
            File.Delete(file);
        var size = FleetSize.Whole.Over(at.Parts);
        var databases = at.Databases;
        await databases.MigrateAsync(CancellationToken.None);
        var keeper = new Keeper(databases);
        var clock = Stopwatch.StartNew();
        var count = 0;
        // Records are written through the one entrance, a few thousand to a commit, so that projections, findings and
        // the chain are those of real use.
        foreach (var chunk in FleetMaker.Make([.. Demo(at).All.OfType<Platform>()], size, at.Seed).Chunk(4000))
        {
            await keeper.WriteAsync(
                new("maker", new(2026, 11, 24, 8, 0, 0, TimeSpan.Zero), "import"),
                (writing, _) =>
                {
                    foreach (var record in chunk)
                        writing.Put(record, 0);
                    return Task.FromResult(true);
                },
                CancellationToken.None
            );
            count += chunk.Length;
            Console.Error.Write($"\r{count:N0} records, {clock.Elapsed.TotalSeconds:N0} s   ");
        }

        await using var context = databases.Open();
        Console.Error.WriteLine();
        Console.WriteLine(
            $"fleet in {at.Folder}: {await context.Records.CountAsync(r => r.Kind == RecordKind.Customer):N0} "
                + $"customers, {await context.Records.CountAsync(r => r.Kind == RecordKind.Gateway):N0} gateways, "
                + $"{await context.Records.CountAsync(r => r.Kind == RecordKind.Tunnel):N0} tunnels, "
                + $"{await context.Findings.CountAsync():N0} findings, "
                + $"{new FileInfo(Path.Combine(at.Folder, "vellumkeep.db")).Length / 1024 / 1024:N0} MB, made in "
                + $"{clock.Elapsed.TotalSeconds:N0} s"
        );
    }
}
