using System.Data;
using System.Data.Common;
using System.IO.Compression;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore.Metadata;

namespace Vellumkeep.Storage.Backups;

/// <summary>What a restore brought back.</summary>
public sealed record Restored(long Rows, long Commits, string Migration);

/// <summary>A backup that cannot be restored, and why.</summary>
public sealed class BackupException(string message) : Exception(message);

/// <summary>
/// The whole database as one compressed file of JSON lines, taken while the service runs: one read transaction sees one
/// moment. The same file restores into SQLite and into PostgreSQL. Sessions, cookie keys and kept answers are left out:
/// they belong to the moment. Password and token digests are in it, so guard it.
/// </summary>
public static partial class Backup
{
    private const string Form = "backup/1";

    private static readonly Type[] LeftOut =
    [
        typeof(SessionRow),
        typeof(CookieKeyRow),
        typeof(AnsweredRow),
        typeof(SignInTryRow),
    ];

    public static async Task<long> WriteAsync(Databases databases, Stream to, CancellationToken ct)
    {
        await using var context = databases.Open();
        await context.Database.OpenConnectionAsync(ct);
        var connection = context.Database.GetDbConnection();
        // A reader of SQLite's write-ahead log sees the moment of its first read and keeps no writer waiting.
        await using var transaction = connection is SqliteConnection sqlite
            ? sqlite.BeginTransaction(deferred: true)
            : await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, ct);
        await using var zipped = new GZipStream(to, CompressionLevel.Fastest, leaveOpen: true);
        await using var writer = new StreamWriter(zipped, leaveOpen: true) { NewLine = "\n" };
        await writer.WriteLineAsync(
            JsonSerializer.Serialize(
                new { vellumkeep = Form, migration = Name(context.Database.GetMigrations().Last()) }
            )
        );
        long rows = 0;
        foreach (var table in Tables(context))
        {
            await writer.WriteLineAsync(
                JsonSerializer.Serialize(new { table = table.Name, columns = table.Columns.Select(c => c.Name) })
            );
            await using var command = connection.CreateCommand();
            command.Transaction = transaction;
            command.CommandText =
                $"select {string.Join(", ", table.Columns.Select(c => Quote(c.Name)))} from {Quote(table.Name)}";
            await using var reader = await command.ExecuteReaderAsync(ct);
            while (await reader.ReadAsync(ct))
            {
                await writer.WriteLineAsync(Line(reader, table.Columns.Length));
                rows++;
            }
        }

        await writer.WriteLineAsync(JsonSerializer.Serialize(new { end = rows }));
        return rows;
    }

    /// <summary>Restores into an empty database, then goes through the whole chain.</summary>
    /// <exception cref="BackupException">The file is no backup, or cut short, or from a later version, or the database
    /// is not empty, or the history in it does not hold.</exception>
    public static async Task<Restored> RestoreAsync(Databases databases, Stream from, CancellationToken ct)
    {
        using var zipped = new GZipStream(from, CompressionMode.Decompress, leaveOpen: true);
        using var reader = new StreamReader(zipped);
        var migration = await MigrationAsync(reader, ct);
        await databases.MigrateAsync(ct);
        long rows = 0;
        await using (var context = databases.Open())
        {
            if (!context.Database.GetMigrations().Select(Name).Contains(migration))
                throw new BackupException(
                    $"The backup was made by a later version (at {migration}). Restore it with that one."
                );
            if (await context.Commits.AnyAsync(ct) || await context.People.AnyAsync(ct))
                throw new BackupException(
                    "The database is not empty. Expected: a new folder (--data) or an empty database (--postgres)."
                );
            await context.Database.OpenConnectionAsync(ct);
            var connection = context.Database.GetDbConnection();
            await using var transaction = await connection.BeginTransactionAsync(ct);
            var tables = Tables(context).ToDictionary(t => t.Name);
            rows = await InsertAsync(reader, connection, transaction, tables, ct);
            if (databases.IsPostgres)
                await SequencesAsync(connection, transaction, tables.Values, ct);
            await transaction.CommitAsync(ct);
        }

        var verified = await Verification.RunAsync(databases, ct);
        return verified.Broken is { } at
                ? throw new BackupException($"The history in the backup is broken from commit {at} on.")
            : verified.Differs.Count > 0
                ? throw new BackupException($"The backup's records do not match its history: {verified.Differs[0]}.")
            : new(rows, verified.Commits, migration);
    }

    /// <summary>The last migration that the database had when it was saved.</summary>
    private static async Task<string> MigrationAsync(StreamReader reader, CancellationToken ct)
    {
        try
        {
            using var head = JsonDocument.Parse(await reader.ReadLineAsync(ct) ?? "");
            if (head.RootElement.GetProperty("vellumkeep").GetString() != Form)
                throw new BackupException("This backup has an unknown format.");
            return head.RootElement.GetProperty("migration").GetString()!;
        }
        catch (Exception e)
            when (e is JsonException or InvalidDataException or KeyNotFoundException or InvalidOperationException)
        {
            throw new BackupException("This file is not a backup. Expected: a file that backup wrote.");
        }
    }

    /// <summary>Inserts the rows of every table of the file, up to its end.</summary>
    /// <returns>How many there were.</returns>
    private static async Task<long> InsertAsync(
        StreamReader reader,
        DbConnection connection,
        DbTransaction transaction,
        Dictionary<string, Table> tables,
        CancellationToken ct
    )
    {
        long rows = 0;
        DbCommand? insert = null;
        Column[] columns = [];
        var ended = false;
        while (!ended && await LineAsync(reader, ct) is { } line)
        {
            using var json = JsonDocument.Parse(line);
            if (json.RootElement.ValueKind == JsonValueKind.Object)
            {
                if (json.RootElement.TryGetProperty("end", out var end))
                {
                    ended = end.GetInt64() == rows;
                    break;
                }

                if (insert is not null)
                    await insert.DisposeAsync();
                var table = tables[json.RootElement.GetProperty("table").GetString()!];
                columns =
                [
                    .. json
                        .RootElement.GetProperty("columns")
                        .EnumerateArray()
                        .Select(c => table.Columns.Single(k => k.Name == c.GetString())),
                ];
                insert = Insert(connection, transaction, table, columns);
                continue;
            }

            var values = json.RootElement.EnumerateArray().ToArray();
            for (var i = 0; i < values.Length; i++)
                insert!.Parameters[i].Value = Value(values[i], columns[i].Type);
            await insert!.ExecuteNonQueryAsync(ct);
            rows++;
        }

        if (insert is not null)
            await insert.DisposeAsync();
        return ended
            ? rows
            : throw new BackupException("The backup is incomplete: its end is missing. Nothing was restored.");
    }

    private static DbCommand Insert(DbConnection connection, DbTransaction transaction, Table table, Column[] columns)
    {
        var insert = connection.CreateCommand();
        insert.Transaction = transaction;
        insert.CommandText =
            $"insert into {Quote(table.Name)} ({string.Join(", ", columns.Select(c => Quote(c.Name)))}) "
            + $"values ({string.Join(", ", columns.Select((_, i) => $"@p{i}"))})";
        foreach (var i in Enumerable.Range(0, columns.Length))
        {
            var parameter = insert.CreateParameter();
            parameter.ParameterName = $"@p{i}";
            insert.Parameters.Add(parameter);
        }

        return insert;
    }

    /// <summary>The next line, when the file has all of it: what a broken copy ends in is no line.</summary>
    private static async Task<string?> LineAsync(StreamReader reader, CancellationToken ct)
    {
        try
        {
            return await reader.ReadLineAsync(ct) is [.., '}' or ']'] line ? line : null;
        }
        catch (InvalidDataException)
        {
            return null;
        }
    }

    /// <summary>A step of the tables has one name on both databases, after the time that it was made at.</summary>
    private static string Name(string migration) => migration[(migration.IndexOf('_', StringComparison.Ordinal) + 1)..];
}
