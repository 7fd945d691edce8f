using Vellumkeep.Storage.Backups;

namespace Vellumkeep.Service.Backups;

/// <summary>A backup while the service runs.</summary>
public static class BackupEndpoints
{
    public static void MapBackups(this RouteGroupBuilder api) =>
        api.MapGet("/backup", async (Databases databases, Keeper keeper, TimeProvider clock, HttpContext http, CancellationToken ct) =>
        {
            var now = clock.GetUtcNow();
            await keeper.NoteAsync(new(http.Asker().Name, now, "backup"), ct);
            return Results.Stream(async stream => await Backup.WriteAsync(databases, stream, ct), "application/gzip", $"vellumkeep-{now:yyyy-MM-dd-HHmm}.backup");
        }).For(Role.Lead).Produces(200, contentType: "application/gzip").WithName("backup").WithSummary("The whole database as one file, taken while the service runs; restored with: vellumkeep service restore FILE");
}

/// <summary>What is done with the database without the service: backup, restore, and the first person.</summary>
public static class Commands
{
    private const string Usage = "Right would be: backup FILE, restore FILE, or add-lead NAME (the password on standard input), each with --data FOLDER or --postgres CONNECTION.";

    /// <summary>Runs one of the commands, or gives null when there is none to run.</summary>
    public static async Task<int?> RunAsync(string[] args, Databases databases, IServiceProvider services, TimeProvider clock)
    {
        if (args is ["reseal", ..])
        {
            await Reprojecting.PrepareAsync(databases, services.GetRequiredService<Keeper>(), clock.GetUtcNow(), default);
            var (count, under) = await services.GetRequiredService<Keys.KeyWork>().ResealAsync("vellumkeep", clock.GetUtcNow(), default);
            Console.Out.WriteLine($"{Say.Count(count, "key")} sealed under {under} now. Older sealing keys open only older backups.");
            return 0;
        }

        if (args is not [("backup" or "restore" or "add-lead") and var what, ..])
            return null;
        try
        {
            if (args is not [_, var name, ..] || name.StartsWith("--", StringComparison.Ordinal))
                throw new BackupException(Usage);
            switch (what)
            {
                case "backup":
                    {
                        // Written beside and moved, so that a file of that name is always whole.
                        await Reprojecting.PrepareAsync(databases, services.GetRequiredService<Keeper>(), clock.GetUtcNow(), default);
                        var part = name + ".part";
                        await using (var file = File.Create(part))
                            Console.Out.WriteLine($"{await Backup.WriteAsync(databases, file, default):N0} rows written to {name}.");
                        File.Move(part, name, true);
                        return 0;
                    }

                case "restore":
                    {
                        if (!File.Exists(name))
                            throw new BackupException($"There is no file {name}.");
                        await using var file = File.OpenRead(name);
                        var restored = await Backup.RestoreAsync(databases, file, default);
                        Console.Out.WriteLine($"{restored.Rows:N0} rows restored. All {restored.Commits:N0} commits of the history hold.");
                        return 0;
                    }

                default:
                    await Reprojecting.PrepareAsync(databases, services.GetRequiredService<Keeper>(), clock.GetUtcNow(), default);
                    var people = services.GetRequiredService<PeopleStore>();
                    await people.AddAsync(new(name, clock.GetUtcNow(), "add", "on the machine itself"), name, name, [new(Role.Lead, null)], Console.In.ReadLine() ?? "", null, default);
                    Console.Out.WriteLine($"{name} is a lead and can sign in.");
                    return 0;
            }
        }
        catch (Exception e) when (e is BackupException or NewerDatabaseException or ProblemException or IOException)
        {
            Console.Error.WriteLine(e.Message);
            return 2;
        }
    }
}
