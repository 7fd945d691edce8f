using Vellumkeep.Running;
using Vellumkeep.Storage.Backups;

namespace Vellumkeep.Storage.Tests;

public sealed class BackupOfSqlite(DemoOnSqlite demo) : BackupTests(demo), IClassFixture<DemoOnSqlite>;

public sealed class BackupOfPostgres(DemoOnPostgres demo) : BackupTests(demo), IClassFixture<DemoOnPostgres>;

/// <summary>A backup brings back all of it, in either database, or nothing.</summary>
public abstract class BackupTests(KeptDemo demo)
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<byte[]> TakenAsync(Databases databases)
    {
        using var stream = new MemoryStream();
        await Backup.WriteAsync(databases, stream, Ct);
        return stream.ToArray();
    }

    private static async Task<string> ReadableAsync(byte[] backup)
    {
        using var zipped = new System.IO.Compression.GZipStream(
            new MemoryStream(backup),
            System.IO.Compression.CompressionMode.Decompress
        );
        using var reader = new StreamReader(zipped);
        return await reader.ReadToEndAsync(Ct);
    }

    /// <summary>An empty database of either kind, and how it is thrown away.</summary>
    private static async Task<(Databases Databases, Func<Task> Drop)> EmptyAsync(bool postgres)
    {
        if (postgres)
        {
            var server = await ShortPostgres.StartAsync();
            return (Databases.Postgres(server.Connection), async () => await server.DisposeAsync());
        }

        var folder = Directory.CreateTempSubdirectory("vellumkeep-restored-").FullName;
        return (Databases.Sqlite(Path.Combine(folder, "vellumkeep.db")), () =>
        {
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            Directory.Delete(folder, true);
            return Task.CompletedTask;
        });
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task What_was_restored_gives_the_same_backup_again(bool postgres)
    {
        var taken = await TakenAsync(demo.Databases);
        var (other, drop) = await EmptyAsync(postgres);
        try
        {
            var restored = await Backup.RestoreAsync(other, new MemoryStream(taken), Ct);
            await using var context = demo.Databases.Open();
            restored.Commits.ShouldBe(await context.Commits.LongCountAsync(Ct));
            // Row by row; a table gives its rows in no order of its own.
            static string[] Lines(string text) => [.. text.Split('\n').Order(StringComparer.Ordinal)];
            Lines(await ReadableAsync(await TakenAsync(other))).ShouldBe(Lines(await ReadableAsync(taken)));
            // It is written on as before, and not restored into once more.
            var site = DemoInventory.All.All.OfType<Site>().First();
            await new Keeper(other).WriteAsync(
                new("ines", KeptDemo.Noon.AddDays(1), "edit"),
                (writing, _) =>
                {
                    writing.Put(site with { Notes = "after the restore" }, 1);
                    return Task.FromResult(true);
                },
                Ct
            );
            (await Verification.RunAsync(other, Ct)).Broken.ShouldBeNull();
            (
                await Should.ThrowAsync<BackupException>(Backup.RestoreAsync(other, new MemoryStream(taken), Ct))
            ).Message.ShouldContain("not empty");
        }
        finally
        {
            await drop();
        }
    }

    [Fact]
    public async Task A_backup_taken_while_people_write_is_one_moment()
    {
        var site = DemoInventory.All.All.OfType<Site>().Last();
        using var stop = new CancellationTokenSource();
        var wrote = 0;
        var writing = Task.Run(
            async () =>
            {
                for (; !stop.IsCancellationRequested; wrote++)
                    await demo.Keeper.WriteAsync(
                        new("ines", KeptDemo.Noon, "edit"),
                        (w, _) =>
                        {
                            w.Put(site with { Notes = $"note {wrote}" });
                            return Task.FromResult(true);
                        },
                        Ct
                    );
            },
            Ct
        );
        while (Volatile.Read(ref wrote) < 2)
            await Task.Delay(5, Ct);
        var taken = await TakenAsync(demo.Databases);
        await stop.CancelAsync();
        await writing;
        var (other, drop) = await EmptyAsync(false);
        try
        {
            var restored = await Backup.RestoreAsync(other, new MemoryStream(taken), Ct);
            var seen = await Verification.RunAsync(other, Ct);
            (seen.Broken, seen.Differs.Count, seen.Commits).ShouldBe((null, 0, restored.Commits));
            await using var context = demo.Databases.Open();
            restored.Commits.ShouldBeInRange(2, await context.Commits.LongCountAsync(Ct));
        }
        finally
        {
            await drop();
        }
    }

    [Fact]
    public async Task A_backup_cut_short_anywhere_restores_nothing()
    {
        var taken = await TakenAsync(demo.Databases);
        var (other, drop) = await EmptyAsync(false);
        try
        {
            foreach (var part in new[] { 0.02, 0.3, 0.7, 0.95, 0.999 })
            {
                var cut = taken[..(int)(taken.Length * part)];
                await Should.ThrowAsync<BackupException>(
                    Backup.RestoreAsync(other, new MemoryStream(cut), Ct),
                    $"{part:P1}"
                );
                await using var context = other.Open();
                (await context.Records.AnyAsync(Ct)).ShouldBeFalse($"{part:P1}");
                (await context.Commits.AnyAsync(Ct)).ShouldBeFalse($"{part:P1}");
            }

            // Whole, it goes into the same database that refused the parts.
            (await Backup.RestoreAsync(other, new MemoryStream(taken), Ct)).Rows.ShouldBeGreaterThan(0);
        }
        finally
        {
            await drop();
        }
    }

    [Theory]
    [InlineData("", "not a backup")]
    [InlineData("hello\n", "not a backup")]
    [InlineData("{}\n", "not a backup")]
    [InlineData("{\"vellumkeep\":\"backup/9\",\"migration\":\"First\"}\n", "unknown format")]
    [InlineData("{\"vellumkeep\":\"backup/1\",\"migration\":\"Later\"}\n{\"end\":0}\n", "later version")]
    public async Task What_is_no_backup_of_ours_is_refused_as_what_it_is(string text, string says)
    {
        using var stream = new MemoryStream();
        await using (
            var zipped = new System.IO.Compression.GZipStream(
                stream,
                System.IO.Compression.CompressionLevel.Fastest,
                true
            )
        )
            await zipped.WriteAsync(System.Text.Encoding.UTF8.GetBytes(text), Ct);
        var (other, drop) = await EmptyAsync(false);
        try
        {
            (
                await Should.ThrowAsync<BackupException>(
                    Backup.RestoreAsync(other, new MemoryStream(stream.ToArray()), Ct)
                )
            ).Message.ShouldContain(says);
        }
        finally
        {
            await drop();
        }
    }

    [Fact]
    public async Task Sessions_and_what_belongs_to_the_moment_are_left_out()
    {
        var text = await ReadableAsync(await TakenAsync(demo.Databases));
        text.ShouldContain("\"table\":\"records\"");
        foreach (var table in new[] { "sessions", "cookie_keys", "answered", "sign_in_tries" })
            text.ShouldNotContain($"\"table\":\"{table}\"");
    }
}
