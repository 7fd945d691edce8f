using System.Net.Http.Headers;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Vellumkeep.Storage.Rows;

namespace Vellumkeep.Bench;

/// <summary>
/// The service over the fleet with a long history: how long its pages take beside an empty one, how large it grows, and
/// what an import costs.
/// </summary>
internal static partial class Serving
{
    private const string Password = "four-unrelated-words-here";

    /// <summary>
    /// Loads entries into the history: each a commit of one record with another note, chained as real ones are, so that
    /// the history verifies. Written in bulk: a note changes no projection but the record's own row.
    /// </summary>
    public static async Task HistoryAsync(string file, int count, int seed)
    {
        var databases = Databases.Sqlite(file);
        await databases.MigrateAsync(default);
        CommitRow last;
        List<(
            string Id,
            RecordKind Kind,
            int Version,
            byte[] Body,
            string Code,
            string Name,
            string? State,
            string? Owner
        )> records;
        await using (var context = databases.Open())
        {
            last = await context.Commits.AsNoTracking().OrderByDescending(c => c.Number).FirstAsync();
            RecordKind[] kinds = [RecordKind.Customer, RecordKind.Site, RecordKind.Gateway, RecordKind.Tunnel];
            records =
            [
                .. (
                    await context
                        .Records.AsNoTracking()
                        .Where(r => kinds.Contains(r.Kind))
                        .Select(r => new
                        {
                            r.Id,
                            r.Kind,
                            r.Version,
                            r.Body,
                            r.CodeKey,
                            r.Name,
                            r.State,
                            r.OwnerId,
                        })
                        .ToListAsync()
                ).Select(r => (r.Id, r.Kind, r.Version, r.Body, r.CodeKey, r.Name, r.State, r.OwnerId)),
            ];
        }

        using var connection = new SqliteConnection($"Data Source={file}");
        connection.Open();
        Run(connection, "pragma synchronous=off");
        Run(connection, "pragma cache_size=-400000");
        var random = new Random(seed);
        var clock = Stopwatch.StartNew();
        var at = new DateTimeOffset(2026, 11, 24, 9, 0, 0, TimeSpan.Zero);
        var changed = new HashSet<int>();
        for (var done = 0; done < count; )
        {
            using var transaction = connection.BeginTransaction();
            using var commit = Prepared(
                connection,
                transaction,
                "insert into commits (number, at, who, act, reason, change_id, \"before\", digest) values ($p0, "
                    + "$p1, $p2, $p3, $p4, null, $p5, $p6)",
                7
            );
            using var version = Prepared(
                connection,
                transaction,
                "insert into versions (record_id, version, kind, commit_number, body, code_key, name, state, "
                    + "owner_id) values ($p0, $p1, $p2, $p3, $p4, $p5, $p6, $p7, $p8)",
                9
            );
            for (var i = 0; i < 50_000 && done < count; i++, done++)
            {
                var n = random.Next(records.Count);
                var r = records[n];
                at = at.AddSeconds(4);
                var body = Noted(r.Body, $"visit {done}");
                records[n] = r = r with { Version = r.Version + 1, Body = body };
                changed.Add(n);
                var row = new VersionRow
                {
                    RecordId = r.Id,
                    Version = r.Version,
                    Kind = r.Kind,
                    CommitNumber = last.Number + 1,
                    Body = body,
                };
                last = Chain.Next(
                    last,
                    last.Number + 1,
                    new(
                        random.Next(5) switch
                        {
                            0 => "ines",
                            1 => "tomas",
                            2 => "odile",
                            3 => "bram",
                            _ => "maker",
                        },
                        at,
                        "describe"
                    ),
                    [row]
                );
                Execute(commit, last.Number, last.At, last.Who, last.Act, null, last.Before, last.Digest);
                Execute(version, r.Id, r.Version, (int)r.Kind, last.Number, body, r.Code, r.Name, r.State, r.Owner);
            }

            transaction.Commit();
            Console.Error.Write($"\r{done:N0} entries, {clock.Elapsed.TotalSeconds:N0} s   ");
        }

        using (var transaction = connection.BeginTransaction())
        {
            using var update = Prepared(
                connection,
                transaction,
                "update records set version = $p0, commit_number = $p1, body = $p2 where id = $p3",
                4
            );
            foreach (var n in changed)
                Execute(update, records[n].Version, last.Number, records[n].Body, records[n].Id);
            transaction.Commit();
        }

        Run(connection, "pragma wal_checkpoint(truncate)");
        Run(connection, "analyze");
        Console.Error.WriteLine();
        Console.WriteLine(
            $"{count:N0} entries loaded in {clock.Elapsed.TotalSeconds:N0} s, "
                + $"{new FileInfo(file).Length / 1024 / 1024:N0} MB on disk"
        );
    }

    private static byte[] Noted(byte[] body, string note)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream))
        using (var was = JsonDocument.Parse(body))
        {
            json.WriteStartObject();
            foreach (var p in was.RootElement.EnumerateObject().Where(p => p.Name != "notes"))
                p.WriteTo(json);
            json.WriteString("notes", note);
            json.WriteEndObject();
        }

        return stream.ToArray();
    }

    /// <summary>The service over a folder, with a lead who can sign in.</summary>
    private static async Task<(Process Process, Uri Url)> StartAsync(string root, string folder)
    {
        var service = Path.Combine(root, "src/Service/bin/Release/net10.0/Vellumkeep.Service.dll");
        using var lead = Process.Start(
            new ProcessStartInfo("dotnet", [service, "add-lead", "bench", "--data", folder])
            {
                RedirectStandardInput = true,
                RedirectStandardError = true,
            }
        )!;
        await lead.StandardInput.WriteLineAsync(Password);
        lead.StandardInput.Close();
        await lead.WaitForExitAsync();
        var process = Process.Start(
            new ProcessStartInfo(
                "dotnet",
                [service, "--data", folder, "--urls", "http://127.0.0.1:0", "--largest-import", "1000000"]
            )
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        _ = Task.Run(async () =>
        {
            while (await process.StandardError.ReadLineAsync() is not null) { }
        });
        string? line;
        while (
            (line = await process.StandardOutput.ReadLineAsync()) is not null
            && !line.StartsWith("Vellumkeep is at ", StringComparison.Ordinal)
        ) { }

        return (process, new(line!["Vellumkeep is at ".Length..]));
    }

    /// <summary>
    /// Every list, searches and tunnel pages against an empty JSON endpoint of the same server under the same load.
    /// </summary>
    public static async Task<int> ServeAsync(string root, string folder, int clients, int seconds)
    {
        var (process, url) = await StartAsync(root, folder);
        using var _ = process;
        try
        {
            using var http = await SignedInAsync(url);
            var (customers, tunnels) = await SomeAsync(folder);
            string C(int i) => customers[i % customers.Length];
            string T(int i) => tunnels[i * 31 % tunnels.Length];
            (string What, Func<int, string> Path)[] pages =
            [
                ("tunnels", _ => "tunnels"),
                ("tunnels of a customer", i => $"tunnels?customer={C(i)}"),
                ("tunnels by a word", i => $"tunnels?q={C(i)}"),
                ("tunnels by a common word", _ => "tunnels?q=hub"),
                ("tunnels by an address", i => $"tunnels?q=10.{i % 200}.{i * 7 % 250}.9"),
                ("tunnels by a /16", i => $"tunnels?q=10.{i % 200}.0.0/16"),
                ("tunnels by a /8", _ => "tunnels?q=10.0.0.0/8"),
                ("tunnels that block", _ => "tunnels?severity=blocks"),
                ("tunnels with a finding", i => $"tunnels?finding={(i % 2 == 0 ? "PAIR-05" : "PAIR-03")}"),
                ("tunnels in a state", _ => "tunnels?state=suspended"),
                ("customers", _ => "customers"),
                ("sites", _ => "sites"),
                ("gateways", _ => "gateways"),
                ("platforms", _ => "platforms"),
                ("suites", _ => "suites"),
                ("offers", _ => "offers"),
                ("people", _ => "people"),
                ("findings", _ => "findings"),
                ("findings of a customer", i => $"findings?customer={C(i)}"),
                ("findings by code", _ => "findings?code=PAIR-05"),
                ("changes", _ => "changes"),
                ("today", _ => "today"),
                ("history", _ => "history"),
                ("history of a person", _ => "history?who=ines"),
                ("history of a customer", i => $"history?customer={C(i)}"),
                ("history of a kind", _ => "history?kind=gateway"),
                ("history of a day", _ => "history?from=2026-12-01&to=2026-12-01"),
                ("search, a code", i => $"search?q={T(i)}"),
                ("search, a word", _ => "search?q=hub"),
                ("search, one letter", _ => "search?q=c"),
                ("search, two words", i => $"search?q={C(i)}%20hub"),
                ("search, an address", i => $"search?q=10.{i % 200}.{i * 7 % 250}.9"),
                ("search, a /16", i => $"search?q=10.{i % 200}.0.0/16"),
                ("search, a /8", _ => "search?q=10.0.0.0/8"),
                ("tunnel page", i => $"tunnels/{T(i)}"),
                ("tunnel history", i => $"tunnels/{T(i)}/history"),
            ];
            // Each once, then a little while, so that code is compiled and files are read before anything is counted.
            foreach (var (_, path) in pages)
                await LoadAsync(http, path, clients, 1.5);
            var (emptyHalf, emptyMost, _) = await LoadAsync(http, _ => "/empty", clients, seconds);
            var bound = Math.Max(5 * emptyMost, 50);
            Console.WriteLine(
                $"{clients} clients, {seconds} s each; empty JSON: half within {emptyHalf:0.0} ms, 99 of 100 within "
                    + $"{emptyMost:0.0} ms; bound {bound:0} ms"
            );
            Console.WriteLine("| page | half within, ms | 99 of 100 within, ms | of the bound |");
            Console.WriteLine("|---|---|---|---|");
            var over = 0;
            foreach (var (what, path) in pages)
            {
                var (half, most, n) = await LoadAsync(http, path, clients, seconds);
                over += most > bound ? 1 : 0;
                Console.WriteLine(
                    $"| {what} | {half:0.0} | {most:0.0} | {most / bound:0.00}{(most > bound ? " **over**" : "")} |"
                );
            }

            process.Refresh();
            Console.WriteLine(
                "highest memory of the service: "
                    + File.ReadLines($"/proc/{process.Id}/status")
                        .First(l => l.StartsWith("VmHWM", StringComparison.Ordinal))
            );
            return over;
        }
        finally
        {
            process.Kill();
        }
    }
}
