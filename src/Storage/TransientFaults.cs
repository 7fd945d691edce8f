using System.Net.Sockets;
using Microsoft.Data.Sqlite;
using Npgsql;

namespace Vellumkeep.Storage;

/// <summary>
/// What a database may suffer that passes: then the answer is 503 and nothing is wrong with what was asked.
/// </summary>
public static class TransientFaults
{
    // Result codes of SQLite.
    private const int Busy = 5,
        Locked = 6,
        ReadOnly = 8,
        InputOutput = 10,
        Full = 13,
        CannotOpen = 14;

    /// <summary>In a few words what the trouble is; null when the failure is no trouble of the database.</summary>
    public static string? Of(Exception e) =>
        e switch
        {
            BusyException => "the database is busy",
            SqliteException s => s.SqliteErrorCode switch
            {
                Busy or Locked => "the database is locked",
                Full => "the disk is full",
                ReadOnly or InputOutput or CannotOpen => "the database file cannot be read or written",
                _ => null,
            },
            PostgresException p when p.SqlState.StartsWith("53", StringComparison.Ordinal) =>
                "the database is out of disk, memory or connections",
            PostgresException p
                when p.SqlState.StartsWith("57", StringComparison.Ordinal)
                    || p.SqlState.StartsWith("08", StringComparison.Ordinal) =>
                "the database is shutting down or starting",
            PostgresException p when p.SqlState is "40001" or "40P01" or "55P03" => "the database is locked",
            PostgresException => null,
            NpgsqlException => "the database does not respond",
            SocketException => "the database does not respond",
            TimeoutException => "the database does not answer in time",
            _ => e.InnerException is { } inner ? Of(inner) : null,
        };

    /// <summary>Whether two wrote the same at the same moment, and the database let one in.</summary>
    public static bool IsTwice(Exception e) =>
        e switch
        {
            SqliteException { SqliteErrorCode: 19 } => true,
            PostgresException { SqlState: "23505" } => true,
            _ => e.InnerException is { } inner && IsTwice(inner),
        };
}
