using Microsoft.Data.Sqlite;

namespace Vellumkeep.Bench;

/// <summary>How long an import takes beside bare inserts.</summary>
internal static partial class Serving
{
    /// <summary>How an import went beside bare inserts of what it left.</summary>
    /// <param name="Import">Its seconds.</param>
    /// <param name="Inserts">The seconds of the inserts.</param>
    /// <param name="ImportWork">The seconds of processor of the service for it.</param>
    /// <param name="InsertWork">The seconds of processor of the inserts.</param>
    /// <param name="Line">The line of the table.</param>
    internal sealed record Imports(double Import, double Inserts, double ImportWork, double InsertWork, string Line);

    public static async Task ImportAsync(string root, int rows) =>
        Console.WriteLine((await ImportedAsync(root, rows)).Line);

    /// <summary>
    /// A sheet of so many rows through the service, against bare inserts of the rows that it left in the database.
    /// </summary>
    public static async Task<Imports> ImportedAsync(string root, int rows)
    {
        var folder = Directory.CreateTempSubdirectory("vellumkeep-import-").FullName;
        var sheet = new System.Text.StringBuilder(
            "VPN,Customer,Site A,Public IP A,Networks A,Site B,Public IP B,Networks B,Phase 1,P1 lifetime,Phase "
                + "2,P2 lifetime,PFS,State\n"
        );
        for (var i = 0; i < rows; i++)
        {
            var (c, k) = (i / 50, i % 50);
            sheet.Append(
                System.Globalization.CultureInfo.InvariantCulture,
                $"S{c:0000}-T{k},Sheet customer {c},Hub {c},hub.s{c}.example,10.{c % 200}.0.0/22,Shop "
                    + $"{c}-{k},shop{k}.s{c}.example,10.{c % 200}.{100 + k}.0/24,AES256/SHA256/DH14,8h,AES256/SHA256,3600,group "
                    + $"14,live\n"
            );
        }

        var (process, url) = await StartAsync(root, folder);
        using var _ = process;
        using var open = new Client.KeepClient(url, null);
        using var client = new Client.KeepClient(
            url,
            (await open.TokenByPasswordAsync(new("bench", Password, "bench", 1), default)).Token
        );
        var workBefore = Timing.ProcessorSeconds(process);
        var clock = Stopwatch.StartNew();
        var said = 0;
        var outcome = await client.ImportSheetAsync(
            "big.csv",
            System.Text.Encoding.UTF8.GetBytes(sheet.ToString()),
            [],
            null,
            true,
            false,
            default,
            (doing, done, of) =>
            {
                said++;
                Console.Error.Write($"\r{done:N0} of {of:N0} {doing}, {clock.Elapsed.TotalSeconds:N0} s   ");
            }
        );
        var import = clock.Elapsed.TotalSeconds;
        var importWork = Timing.ProcessorSeconds(process) - workBefore;
        Console.Error.WriteLine();
        var memory = File.ReadLines($"/proc/{process.Id}/status")
            .First(l => l.StartsWith("VmHWM", StringComparison.Ordinal));
        process.Kill();
        await process.WaitForExitAsync();

        var bare = Path.Combine(folder, "bare.db");
        await Databases.Sqlite(bare).MigrateAsync(default);
        using var from = new SqliteConnection($"Data Source={Path.Combine(folder, "vellumkeep.db")}");
        using var to = new SqliteConnection($"Data Source={bare}");
        from.Open();
        to.Open();
        Run(to, "pragma journal_mode=wal; pragma synchronous=full");
        var tables = new List<(string Name, List<object?[]> Rows)>();
        foreach (
            var name in new[]
            {
                "commits",
                "records",
                "versions",
                "links",
                "version_links",
                "prefixes",
                "held",
                "lookups",
                "tunnels",
                "findings",
                "words",
            }
        )
        {
            using var select = from.CreateCommand();
            select.CommandText = $"select * from {name}";
            using var reader = select.ExecuteReader();
            var read = new List<object?[]>();
            while (reader.Read())
            {
                var values = new object?[reader.FieldCount];
                reader.GetValues(values!);
                read.Add(values);
            }

            tables.Add((name, read));
        }

        using var own = Process.GetCurrentProcess();
        workBefore = Timing.ProcessorSeconds(own);
        clock.Restart();
        using (var transaction = to.BeginTransaction())
        {
            foreach (var (name, read) in tables.Where(t => t.Rows.Count > 0))
            {
                using var insert = Prepared(
                    to,
                    transaction,
                    $"insert into {name} values ({string.Join(", ", Enumerable.Range(0, read[0].Length).Select(i => $"$p{i}"))})",
                    read[0].Length
                );
                foreach (var values in read)
                    Execute(insert, values);
            }

            transaction.Commit();
        }

        var inserts = clock.Elapsed.TotalSeconds;
        var insertWork = Timing.ProcessorSeconds(own) - workBefore;
        Directory.Delete(folder, true);
        return new(
            import,
            inserts,
            importWork,
            insertWork,
            $"| import of a sheet of {rows:N0} rows ({outcome.Tunnels:N0} tunnels, "
                + $"{outcome.Outcome!.Added.Count:N0} records) / bare inserts of the "
                + $"{tables.Sum(t => t.Rows.Count):N0} rows it left | {import / inserts:0.0} | {import:0.0} s / "
                + $"{inserts:0.0} s; told {said} times how far; service {memory} |"
        );
    }

    private static async Task<(string[] Customers, string[] Tunnels)> SomeAsync(string folder)
    {
        await using var context = Databases.Sqlite(Path.Combine(folder, "vellumkeep.db")).Open();
        return (
            [
                .. await context
                    .Records.Where(r => r.Kind == RecordKind.Customer)
                    .OrderBy(r => r.CodeKey)
                    .Select(r => r.Code)
                    .Take(3000)
                    .ToListAsync(),
            ],
            [
                .. await context
                    .Records.Where(r => r.Kind == RecordKind.Tunnel)
                    .OrderBy(r => r.CodeKey)
                    .Select(r => r.Code)
                    .ToListAsync(),
            ]
        );
    }

    private static SqliteCommand Prepared(
        SqliteConnection connection,
        SqliteTransaction transaction,
        string sql,
        int parameters
    )
    {
        var command = connection.CreateCommand();
        command.Transaction = transaction;
        command.CommandText = sql;
        for (var i = 0; i < parameters; i++)
            command.Parameters.Add(new($"$p{i}", null));
        return command;
    }

    private static void Execute(SqliteCommand command, params object?[] values)
    {
        for (var i = 0; i < values.Length; i++)
            command.Parameters[i].Value = values[i] ?? DBNull.Value;
        command.ExecuteNonQuery();
    }

    private static void Run(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }
}
