using System.Data.Common;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;

namespace Vellumkeep.Storage;

/// <summary>Where the inventory is kept, and how a context on it is made.</summary>
public sealed class Databases
{
    /// <summary>
    /// Connections to PostgreSQL that one service holds at most, where the connection string says nothing: well below
    /// the 100 that a server gives out by default.
    /// </summary>
    private const int DefaultPool = 40;

    /// <summary>
    /// Seconds for which SQLite waits for another writer of the same file; writers of this service wait in line before
    /// that.
    /// </summary>
    private const int Busy = 5;

    private readonly Func<KeepContext> make;

    private Databases(Func<KeepContext> make, int? pool) => (this.make, PoolSize) = (make, pool);

    public bool IsPostgres => PoolSize is not null;

    /// <summary>The most connections to PostgreSQL; null for SQLite.</summary>
    public int? PoolSize { get; }

    /// <summary>The line of writers: SQLite would let one in by chance, and has one door.</summary>
    internal SemaphoreSlim Writers { get; } = new(1);

    /// <summary>SQLite in a file; the folder is made when it is missing, for its owner alone.</summary>
    public static Databases Sqlite(string file)
    {
        Private.Folder(Path.GetDirectoryName(Path.GetFullPath(file))!);
        Private.File(file);
        var options = new DbContextOptionsBuilder<SqliteKeepContext>()
            .UseSqlite($"Data Source={file};Foreign Keys=True;Default Timeout={Busy}")
            .UseSnakeCaseNamingConvention()
            .AddInterceptors(Pragmas.Instance)
            .Options;
        return new(() => new SqliteKeepContext(options), null);
    }

    /// <summary>PostgreSQL by a connection string; what it does not say is bounded here.</summary>
    /// <exception cref="ArgumentException">It is no connection string.</exception>
    public static Databases Postgres(string connection)
    {
        var built = new NpgsqlConnectionStringBuilder(connection);
        var said = built.Keys.Cast<string>().ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (!said.Contains("Maximum Pool Size"))
            built.MaxPoolSize = DefaultPool;
        if (!said.Contains("Timeout"))
            built.Timeout = 10;
        if (!said.Contains("Command Timeout"))
            built.CommandTimeout = 30;
        // A copy of many rows goes in few pieces.
        if (!said.Contains("Write Buffer Size"))
            built.WriteBufferSize = 128 * 1024;
        var options = new DbContextOptionsBuilder<PostgresKeepContext>()
            .UseNpgsql(built.ConnectionString)
            .UseSnakeCaseNamingConvention()
            .Options;
        return new(() => new PostgresKeepContext(options), built.MaxPoolSize);
    }

    public KeepContext Open() => make();

    /// <summary>Brings the tables up to this version.</summary>
    /// <exception cref="NewerDatabaseException">A later version has written to the database; nothing was
    /// touched.</exception>
    public async Task MigrateAsync(CancellationToken ct)
    {
        await using var context = Open();
        var known = context.Database.GetMigrations().ToHashSet();
        var applied = (await context.Database.GetAppliedMigrationsAsync(ct)).ToArray();
        var newer = applied.Where(m => !known.Contains(m)).ToArray();
        if (newer.Length > 0)
            throw new NewerDatabaseException(newer[^1], known.Max()!);
        // Migrating compares the whole model first, which takes longer than everything else of a start together.
        if (applied.Length < known.Count)
            await context.Database.MigrateAsync(ct);
        // What the planner knows of the tables is brought up to date; PostgreSQL sees to that itself.
        if (!IsPostgres)
            await context.Database.ExecuteSqlRawAsync("PRAGMA optimize=0x10002", ct);
    }

    /// <summary>
    /// What SQLite's planner knows of the tables is taken anew, from a few hundred rows of each: after a large write
    /// what it knew is of another database. PostgreSQL sees to that itself.
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

        private const string Text =
            "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON; PRAGMA cache_size=-16384;";

        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData data)
        {
            if (OnlyReads(connection))
                return;
            using var command = connection.CreateCommand();
            command.CommandText = Text;
            command.ExecuteNonQuery();
        }

        /// <summary>Whether somebody only looks whether the file is there.</summary>
        private static bool OnlyReads(DbConnection connection) =>
            new SqliteConnectionStringBuilder(connection.ConnectionString).Mode == SqliteOpenMode.ReadOnly;

        public override async Task ConnectionOpenedAsync(
            DbConnection connection,
            ConnectionEndEventData data,
            CancellationToken ct = default
        )
        {
            if (OnlyReads(connection))
                return;
            await using var command = connection.CreateCommand();
            command.CommandText = Text;
            await command.ExecuteNonQueryAsync(ct);
        }
    }
}

/// <summary>The database was written by a later version, which this one would spoil.</summary>
public sealed class NewerDatabaseException(string theirs, string ours)
    : Exception(
        $"The database is at {theirs}, which this version does not know; it knows up to {ours}. Start the later "
            + $"version, or restore a backup made by this one."
    );

/// <summary>For making migrations: <c>dotnet ef migrations add NAME --context SqliteKeepContext</c>.</summary>
internal sealed class SqliteDesign : IDesignTimeDbContextFactory<SqliteKeepContext>
{
    public SqliteKeepContext CreateDbContext(string[] args) =>
        new(
            new DbContextOptionsBuilder<SqliteKeepContext>()
                .UseSqlite("Data Source=design.db")
                .UseSnakeCaseNamingConvention()
                .Options
        );
}

internal sealed class PostgresDesign : IDesignTimeDbContextFactory<PostgresKeepContext>
{
    public PostgresKeepContext CreateDbContext(string[] args) =>
        new(
            new DbContextOptionsBuilder<PostgresKeepContext>()
                .UseNpgsql("Host=design")
                .UseSnakeCaseNamingConvention()
                .Options
        );
}
