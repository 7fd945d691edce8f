using System.Data.Common;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// Inserts the rows of one table at once: one prepared statement on SQLite, COPY on PostgreSQL. Nothing is tracked; a row that is there already is refused.
/// A single tunnel leaves a hundred rows, an import millions.
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
            : Insert(transaction, $"insert into \"{table.Name}\" ({columns}) values ({string.Join(", ", properties.Select((_, i) => $"@p{i}"))})", all, read, ct);
    }

    private static Func<object, object?> Reader(IProperty property)
    {
        var (getter, converter) = (property.GetGetter(), property.GetTypeMapping().Converter);
        return converter is null ? getter.GetClrValue : row => converter.ConvertToProvider(getter.GetClrValue(row));
    }

    private static int Insert<T>(DbTransaction transaction, string text, IEnumerator<T> rows, Func<object, object?>[] read, CancellationToken ct)
        where T : class
    {
        using var command = transaction.Connection!.CreateCommand();
        command.Transaction = transaction;
        command.CommandText = text;
        var parameters = read.Select((_, i) =>
        {
            var parameter = command.CreateParameter();
            parameter.ParameterName = $"@p{i}";
            command.Parameters.Add(parameter);
            return parameter;
        }).ToArray();
        var count = 0;
        do
        {
            ct.ThrowIfCancellationRequested();
            for (var i = 0; i < read.Length; i++)
                parameters[i].Value = read[i](rows.Current) ?? DBNull.Value;
            if (count++ == 0)
                command.Prepare();
            command.ExecuteNonQuery();
        }
        while (rows.MoveNext());
        return count;
    }

    private static async Task<int> CopyAsync<T>(NpgsqlConnection connection, string text, IEnumerator<T> rows, Func<object, object?>[] read, CancellationToken ct)
        where T : class
    {
        await using var copy = await connection.BeginBinaryImportAsync(text, ct);
        var count = 0;
        do
        {
            await copy.StartRowAsync(ct);
            foreach (var of in read)
            {
                if (of(rows.Current) is { } value)
                    await copy.WriteAsync(value, ct);
                else
                    await copy.WriteNullAsync(ct);
            }

            count++;
        }
        while (rows.MoveNext());
        await copy.CompleteAsync(ct);
        return count;
    }
}
