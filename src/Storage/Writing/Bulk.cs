using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using NpgsqlTypes;
using SQLitePCL;

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// Inserts the rows of one table at once: one prepared statement on SQLite, COPY on PostgreSQL. Nothing is tracked; a
/// row that is there already is refused. A single tunnel leaves a hundred rows, an import millions.
/// </summary>
internal static class Bulk
{
    /// <returns>The number of rows.</returns>
    public static async Task<int> InsertAsync<T>(KeepContext context, IEnumerable<T> rows, CancellationToken ct)
        where T : class
    {
        using var all = rows.GetEnumerator();
        if (!all.MoveNext())
            return 0;
        var entity = context.Model.FindEntityType(typeof(T))!;
        var table = StoreObjectIdentifier.Table(entity.GetTableName()!);
        // Numbers that the database gives are left to it.
        var properties = entity.GetProperties().Where(p => p.ValueGenerated == ValueGenerated.Never).ToArray();
        var columns = string.Join(", ", properties.Select(p => $"\"{p.GetColumnName(table)}\""));
        var read = properties.Select(Reader).ToArray();
        var transaction = context.Database.CurrentTransaction!.GetDbTransaction();
        return transaction.Connection is NpgsqlConnection postgres
            ? await CopyAsync(postgres, $"copy \"{table.Name}\" ({columns}) from stdin (format binary)", all, read, ct)
            : Insert(
                (SqliteConnection)transaction.Connection!,
                $"insert into \"{table.Name}\" ({columns}) values ({string.Join(", ", properties.Select(_ => "?"))})",
                all,
                read,
                ct
            );
    }

    private static Func<object, object?> Reader(IProperty property)
    {
        var (getter, converter) = (property.GetGetter(), property.GetTypeMapping().Converter);
        return converter is null ? getter.GetClrValue : row => converter.ConvertToProvider(getter.GetClrValue(row));
    }

    /// <summary>
    /// One prepared statement of SQLite itself: the provider's commands look a parameter up by its name for every
    /// value, which takes longer than the row.
    /// </summary>
    private static int Insert<T>(
        SqliteConnection connection,
        string text,
        IEnumerator<T> rows,
        Func<object, object?>[] read,
        CancellationToken ct
    )
        where T : class
    {
        var database = connection.Handle!;
        Check(database, raw.sqlite3_prepare_v2(database, text, out var statement));
        using (statement)
        {
            var count = 0;
            do
            {
                if (count++ % 1000 == 0)
                    ct.ThrowIfCancellationRequested();
                for (var i = 0; i < read.Length; i++)
                    Check(database, Bind(statement, i + 1, read[i](rows.Current)));
                var stepped = raw.sqlite3_step(statement);
                if (stepped != raw.SQLITE_DONE)
                    Check(database, stepped);
                raw.sqlite3_reset(statement);
            } while (rows.MoveNext());
            return count;
        }
    }

    private static int Bind(sqlite3_stmt statement, int at, object? value) =>
        value switch
        {
            null => raw.sqlite3_bind_null(statement, at),
            string text => raw.sqlite3_bind_text(statement, at, text),
            byte[] bytes => raw.sqlite3_bind_blob(statement, at, bytes),
            bool yes => raw.sqlite3_bind_int(statement, at, yes ? 1 : 0),
            int number => raw.sqlite3_bind_int(statement, at, number),
            long number => raw.sqlite3_bind_int64(statement, at, number),
            Enum word => raw.sqlite3_bind_int(statement, at, Convert.ToInt32(word, CultureInfo.InvariantCulture)),
            _ => throw new NotSupportedException($"A column of {value.GetType().Name} is not written in bulk."),
        };

    private static void Check(sqlite3 database, int result)
    {
        if (result is not (raw.SQLITE_OK or raw.SQLITE_ROW or raw.SQLITE_DONE))
            SqliteException.ThrowExceptionForRC(result, database);
    }

    /// <summary>With its type said: looking the type of each value up takes longer than writing it.</summary>
    private static void Write(NpgsqlBinaryImporter copy, object? value)
    {
        switch (value)
        {
            case null:
                copy.WriteNull();
                break;
            case string text:
                copy.Write(text, NpgsqlDbType.Text);
                break;
            case byte[] bytes:
                copy.Write(bytes, NpgsqlDbType.Bytea);
                break;
            case bool yes:
                copy.Write(yes, NpgsqlDbType.Boolean);
                break;
            case int number:
                copy.Write(number, NpgsqlDbType.Integer);
                break;
            case long number:
                copy.Write(number, NpgsqlDbType.Bigint);
                break;
            case Enum word:
                copy.Write(Convert.ToInt32(word, CultureInfo.InvariantCulture), NpgsqlDbType.Integer);
                break;
            default:
                throw new NotSupportedException($"A column of {value.GetType().Name} is not written in bulk.");
        }
    }

    private static async Task<int> CopyAsync<T>(
        NpgsqlConnection connection,
        string text,
        IEnumerator<T> rows,
        Func<object, object?>[] read,
        CancellationToken ct
    )
        where T : class
    {
        await using var copy = await connection.BeginBinaryImportAsync(text, ct);
        var count = 0;
        do
        {
            // Into a buffer: only when it is full does anything wait.
            copy.StartRow();
            foreach (var of in read)
                Write(copy, of(rows.Current));
            if (count++ % 1000 == 0)
                ct.ThrowIfCancellationRequested();
        } while (rows.MoveNext());
        await copy.CompleteAsync(ct);
        return count;
    }
}
