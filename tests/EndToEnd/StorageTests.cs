using System.Diagnostics;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Running;
using Vellumkeep.Storage;
using Vellumkeep.Storage.Writing;
using Xunit;

namespace Vellumkeep.EndToEnd;

public class StorageTests
{
    [Fact]
    public async Task A_kill_during_a_close_leaves_all_of_it_or_nothing_and_a_whole_chain()
    {
        await using var service = await RunningService.StartAsync();
        string[] tunnels = ["SAL-SPIT", "SAL-DUNLIN", "SAL-WHIMBREL", "BRI-NETTLE"];
        string[] adds = ["10.70.9.0/24", "10.70.9.0/24", "10.99.0.0/24", "10.61.40.0/24"];
        foreach (var ((tunnel, add), wait) in tunnels.Zip(adds).Zip([0, 8, 20, 45]))
        {
            string change;
            using (var ines = await service.ClientAsync("ines"))
            {
                change = await HttpTests.Worked(ines, tunnel, add);
                // The kill falls somewhere into the close: before, within or after its transaction.
                var closing = ines.ActAsync(change, "close", new(null, null), null, Ct);
                await Task.WhenAny(closing, Spin(wait));
                service.Kill();
                await Should.NotThrowAsync(async () =>
                {
                    try
                    {
                        await closing;
                    }
                    catch (Exception e) when (e is HttpRequestException or IOException or TaskCanceledException)
                    {
                        // The answer went with the service; what it did is asked of the next one.
                    }
                });
                var acknowledged = closing.IsCompletedSuccessfully;
                await service.StartAgainAsync();
                using var again = await service.ClientAsync("ines");
                var state = (await again.ChangeAsync(change, Ct)).State;
                var written = (await again.HistoryAsync(tunnel, Ct)).Any(h => h.Change == change);
                (state == "done").ShouldBe(written);
                (acknowledged && !written).ShouldBeFalse();
                state.ShouldBeOneOf("done", "under way");
            }
        }

        service.Kill();
        var (commits, broken, differs) = await Verification.RunAsync(
            Databases.Sqlite(Path.Combine(service.Data, "vellumkeep.db")),
            Ct
        );
        differs.ShouldBeEmpty();
        broken.ShouldBeNull();
        commits.ShouldBeGreaterThan(100);
    }

    /// <summary>
    /// By the programs, from SQLite into PostgreSQL; the storage's own tests go every way between the two.
    /// </summary>
    [Fact]
    public async Task A_backup_taken_while_the_service_runs_restores_into_the_other_database()
    {
        await using var service = await RunningService.StartAsync();
        await using var empty = await ShortPostgres.StartAsync();
        var file = Path.Combine(service.Data, "kept.backup");
        var odile = await service.ClientTokenAsync("odile");
        var writing = service.CommandAsync(
            "tunnel describe TID-PUMP --purpose 'written while the backup is taken'",
            null,
            odile
        );
        (await service.CommandAsync($"backup {file}", null, odile)).Status.ShouldBe(0);
        (await writing).Status.ShouldBe(0);
        using var before = await service.ClientAsync("odile");
        var tunnels = (await before.TunnelsAsync(null, null, null, null, null, null, Ct))
            .Items.Select(t => t.Code)
            .ToArray();
        var history = await before.HistoryAsync("BRI-DEPOT", Ct);

        // What was written in one database comes up in the other.
        var folder = Path.Combine(service.Data, "restored");
        string[] where = ["--data", folder, "--postgres", empty.Connection];
        var (status, output, error) = await RunningService.ServiceAsync(["restore", file, .. where]);
        (status, error).ShouldBe((0, ""));
        output.ShouldContain("The history of");
        // A database that holds something is never written over; nor is half a backup taken.
        (await RunningService.ServiceAsync(["restore", file, .. where])).Error.ShouldContain("not empty");
        var half = Path.Combine(service.Data, "half.backup");
        await File.WriteAllBytesAsync(half, (await File.ReadAllBytesAsync(file, Ct))[..^2000], Ct);
        (
            await RunningService.ServiceAsync(["restore", half, "--data", Path.Combine(service.Data, "other")])
        ).Status.ShouldBe(2);
        (
            await RunningService.ServiceAsync([
                "restore",
                Path.Combine(RunningService.Root, "README.md"),
                "--data",
                Path.Combine(service.Data, "other"),
            ])
        ).Error.ShouldContain("not a backup");

        await using var again = await RunningService.StartAsync(
            false,
            [.. where, "--demo", Path.Combine(RunningService.Root, "demo")]
        );
        using var after = await again.ClientAsync("odile");
        (await after.TunnelsAsync(null, null, null, null, null, null, Ct)).Items.Select(t => t.Code).ShouldBe(tunnels);
        (await after.HistoryAsync("BRI-DEPOT", Ct)).Select(h => h.Digest).ShouldBe(history.Select(h => h.Digest));
        (await after.SearchAsync("ashlow", Ct)).Hits.Count.ShouldBeGreaterThan(3);
        // It is written on, too: the chain goes on from where it was.
        await after.WriteAsync(
            "sites",
            "BRI-CHURN",
            1,
            new(null, null, [new("notes", "after the restore")], null),
            false,
            Ct
        );
        (await after.VerifyAsync(Ct)).Broken.ShouldBeNull();
    }

    /// <summary>A start that cannot be is refused in one line that says what would be right.</summary>
    [Fact]
    public async Task A_wrong_start_is_refused_in_one_line()
    {
        await using var running = await RunningService.StartAsync(false);
        var fresh = Directory.CreateTempSubdirectory("vellumkeep-").FullName;
        foreach (
            var (args, says) in new (string[], string)[]
            {
                (["--review-within-hours", "0"], "1 to 720"),
                (["--clock", "2026-11-24T08:00:00Z"], "--demo with --clock"),
                (["--demo", Path.Combine(RunningService.Root, "demo"), "--clock", "noon"], "--clock is 'noon'"),
                (["--urls", running.Url.ToString()], "a port that nothing else uses"),
            }
        )
        {
            var (status, told, error) = await RunningService.ServiceAsync([
                "--data",
                fresh,
                .. args.Contains("--urls") ? [] : new[] { "--urls", "http://127.0.0.1:0" },
                .. args,
            ]);
            status.ShouldBe(2, says);
            told.ShouldNotContain("Vellumkeep is at");
            error
                .Split('\n')
                .ShouldContain(
                    l => l.Contains(says, StringComparison.Ordinal) && l.Contains("Expected", StringComparison.Ordinal),
                    error
                );
            error.ShouldNotContain("   at ");
        }
    }

    [Fact]
    public async Task A_database_of_a_later_version_is_refused_and_left_alone()
    {
        await using var service = await RunningService.StartAsync();
        service.Kill();
        var database = Path.Combine(service.Data, "vellumkeep.db");
        await using (var context = Databases.Sqlite(database).Open())
            await Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.ExecuteSqlRawAsync(
                context.Database,
                "insert into \"__EFMigrationsHistory\" values ('20990101000000_Later', '99')",
                Ct
            );
        var (status, _, error) = await RunningService.ServiceAsync([
            "--data",
            service.Data,
            "--urls",
            "http://127.0.0.1:0",
        ]);
        (status, error.Split('\n').First(l => l.Length > 0)).ShouldSatisfyAllConditions(
            r => r.status.ShouldBe(2),
            r => r.Item2.ShouldContain("20990101000000_Later, which this version does not know")
        );
        error.ShouldNotContain("   at ");
    }

    /// <summary>
    /// Ends the service as a power cut would, again and again while four people write. VELLUMKEEP_KILLS says how often;
    /// make kills does it 200 times.
    /// </summary>
    [Fact]
    public async Task Killed_at_random_while_people_write_nothing_that_was_acknowledged_is_lost()
    {
        var times = int.TryParse(Environment.GetEnvironmentVariable("VELLUMKEEP_KILLS"), out var asked) ? asked : 3;
        var random = new Random(times);
        await using var service = await RunningService.StartAsync();
        var token = await service.ClientTokenAsync("ines");
        string[] codes = ["BRI-CHURN", "SAL-HARBOUR", "TID-MAIN", "MOS-OFFICE"];
        var acknowledged = 0;
        for (var time = 0; time < times; time++)
        {
            var said = new (int Version, string Note)[codes.Length];
            var added = new System.Collections.Concurrent.ConcurrentBag<string>();
            var stop = false;
            var writers = codes
                .Select(
                    async (code, n) =>
                    {
                        using var client = new KeepClient(service.Url, token);
                        try
                        {
                            var version = (await client.FormAsync("sites", code, null, Ct)).Version;
                            for (var i = 0; !Volatile.Read(ref stop); i++)
                            {
                                var note = $"kill {time}, note {i}";
                                version = (
                                    await client.WriteAsync(
                                        "sites",
                                        code,
                                        version,
                                        new(null, null, [new("notes", note)], null),
                                        false,
                                        Ct
                                    )
                                ).Version;
                                said[n] = (version, note);
                                var made = await client.AddAsync(
                                    "customers",
                                    new(null, null, [new("code", $"K{time}N{n}I{i}"), new("name", "Killed")], null),
                                    false,
                                    Ct
                                );
                                added.Add(made.Code);
                            }
                        }
                        catch (Exception e) when (e is HttpRequestException or IOException or TaskCanceledException)
                        {
                            // The answer went with the service.
                        }
                    }
                )
                .ToArray();
            // Once something was acknowledged, at any moment.
            for (var i = 0; i < 400 && said.All(x => x.Version == 0); i++)
                await Task.Delay(25, Ct);
            await Task.Delay(random.Next(0, 600), Ct);
            service.Kill();
            stop = true;
            await Task.WhenAll(writers);
            await service.StartAgainAsync();
            using var again = new KeepClient(service.Url, token);
            for (var n = 0; n < codes.Length; n++)
                if (said[n].Version > 0)
                    (await again.HistoryAsync("sites", codes[n], Ct))
                        .Single(h => h.Version == said[n].Version)
                        .Differences.Single(d => d.Path == "notes")
                        .After.ShouldBe(said[n].Note);
            foreach (var code in added)
                (await again.FormAsync("customers", code, null, Ct)).Version.ShouldBe(1, code);
            acknowledged += added.Count + said.Count(x => x.Version > 0);
        }

        service.Kill();
        var (commits, broken, differs) = await Verification.RunAsync(
            Databases.Sqlite(Path.Combine(service.Data, "vellumkeep.db")),
            Ct
        );
        differs.ShouldBeEmpty();
        broken.ShouldBeNull();
        acknowledged.ShouldBeGreaterThan(times);
        TestContext.Current.SendDiagnosticMessage(
            $"{times} kills, {acknowledged:N0} acknowledged writes looked up, none lost; all {commits:N0} commits hold"
        );
    }

    private static async Task Spin(int milliseconds)
    {
        var clock = Stopwatch.StartNew();
        while (clock.ElapsedMilliseconds < milliseconds)
            await Task.Yield();
    }
}
