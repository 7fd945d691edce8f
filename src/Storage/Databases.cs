using System.Data.Common;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Vellumkeep.Storage;

/// <summary>Where the inventory is kept, and how a context on it is made.</summary>
public sealed class Databases
{
    private readonly Func<KeepContext> make;

    private Databases(Func<KeepContext> make, bool postgres) => (this.make, IsPostgres) = (make, postgres);

    public bool IsPostgres { get; }

    /// <summary>SQLite in a file; the folder is made when it is missing.</summary>
    public static Databases Sqlite(string file)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(file))!);
        var options = new DbContextOptionsBuilder<SqliteKeepContext>().UseSqlite($"Data Source={file};Foreign Keys=True;Default Timeout=30").UseSnakeCaseNamingConvention()
            .AddInterceptors(Pragmas.Instance).Options;
        return new(() => new SqliteKeepContext(options), false);
    }

    /// <summary>PostgreSQL by a connection string.</summary>
    public static Databases Postgres(string connection)
    {
        var options = new DbContextOptionsBuilder<PostgresKeepContext>().UseNpgsql(connection).UseSnakeCaseNamingConvention().Options;
        return new(() => new PostgresKeepContext(options), true);
    }

    public KeepContext Open() => make();

    /// <summary>Brings the tables up to this version.</summary>
    /// <exception cref="NewerDatabaseException">A later version has written to the database; nothing was touched.</exception>
    public async Task MigrateAsync(CancellationToken ct)
    {
        await using var context = Open();
        var known = context.Database.GetMigrations().ToHashSet();
        var newer = (await context.Database.GetAppliedMigrationsAsync(ct)).Where(m => !known.Contains(m)).ToArray();
        if (newer.Length > 0)
            throw new NewerDatabaseException(newer[^1], known.Max()!);
        await context.Database.MigrateAsync(ct);
        // What the planner knows of the tables is brought up to date; PostgreSQL sees to that itself.
        if (!IsPostgres)
            await context.Database.ExecuteSqlRawAsync("PRAGMA optimize=0x10002", ct);
    }

    /// <summary>
    /// What SQLite's planner knows of the tables is taken anew, from a few hundred rows of each: after a large write what it knew is of another database.
    /// PostgreSQL sees to that itself.
    /// </summary>
    internal static async Task LearnAsync(KeepContext context, CancellationToken ct)
    {
        if (context.Database.ProviderName!.EndsWith("Sqlite", StringComparison.Ordinal))
            await context.Database.ExecuteSqlRawAsync("PRAGMA analysis_limit=300; ANALYZE", ct);
    }

    /// <summary>Write-ahead logging, and every commit on the disk before it is acknowledged.</summary>
    private sealed class Pragmas : DbConnectionInterceptor
    {
        public static readonly Pragmas Instance = new();

        private const string Text = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;";

        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData data)
        {
            using var command = connection.CreateCommand();
            command.CommandText = Text;
            command.ExecuteNonQuery();
        }

        public override async Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData data, CancellationToken ct = default)
        {
            await using var command = connection.CreateCommand();
            command.CommandText = Text;
            await command.ExecuteNonQueryAsync(ct);
        }
    }
}

/// <summary>The database was written by a later version, which this one would spoil.</summary>
public sealed class NewerDatabaseException(string theirs, string ours) : Exception($"The database is at {theirs}, which this version does not know; it knows up to {ours}. Start the later version, or restore a backup made by this one.");

/// <summary>For making migrations: <c>dotnet ef migrations add NAME --context SqliteKeepContext</c>.</summary>
internal sealed class SqliteDesign : IDesignTimeDbContextFactory<SqliteKeepContext>
{
    public SqliteKeepContext CreateDbContext(string[] args) => new(new DbContextOptionsBuilder<SqliteKeepContext>().UseSqlite("Data Source=design.db").UseSnakeCaseNamingConvention().Options);
}

internal sealed class PostgresDesign : IDesignTimeDbContextFactory<PostgresKeepContext>
{
    public PostgresKeepContext CreateDbContext(string[] args) => new(new DbContextOptionsBuilder<PostgresKeepContext>().UseNpgsql("Host=design").UseSnakeCaseNamingConvention().Options);
}
