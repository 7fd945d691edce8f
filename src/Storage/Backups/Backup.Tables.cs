using System.Data;
using System.Data.Common;
using System.IO.Compression;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore.Metadata;

namespace Vellumkeep.Storage.Backups;

public static partial class Backup
{
    private sealed record Column(string Name, Type Type, bool Made);

    private sealed record Table(string Name, Column[] Columns);

    /// <summary>The tables in an order in which foreign keys hold.</summary>
    private static Table[] Tables(KeepContext context)
    {
        var types = context.Model.GetEntityTypes().Where(t => !LeftOut.Contains(t.ClrType)).ToList();
        var ordered = new List<IEntityType>();
        while (types.Count > 0)
        {
            var next = types.First(t =>
                t.GetForeignKeys().All(f => f.PrincipalEntityType == t || ordered.Contains(f.PrincipalEntityType))
            );
            types.Remove(next);
            ordered.Add(next);
        }

        return
        [
            .. ordered.Select(t => new Table(
                t.GetTableName()!,
                [
                    .. t.GetProperties()
                        .Select(p => new Column(
                            p.GetColumnName(StoreObjectIdentifier.Table(t.GetTableName()!, t.GetSchema()))!,
                            Nullable.GetUnderlyingType(p.ClrType) ?? p.ClrType,
                            p.ValueGenerated == ValueGenerated.OnAdd && p.ClrType == typeof(long)
                        )),
                ]
            )),
        ];
    }

    private static string Quote(string name) => $"\"{name}\"";

    private static string Line(DbDataReader reader, int count)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream))
        {
            json.WriteStartArray();
            for (var i = 0; i < count; i++)
                switch (reader.IsDBNull(i) ? null : reader.GetValue(i))
                {
                    case null:
                        json.WriteNullValue();
                        break;
                    case byte[] bytes:
                        json.WriteBase64StringValue(bytes);
                        break;
                    case string text:
                        json.WriteStringValue(text);
                        break;
                    case bool yes:
                        json.WriteNumberValue(yes ? 1 : 0);
                        break;
                    case { } number:
                        json.WriteNumberValue(Convert.ToInt64(number, CultureInfo.InvariantCulture));
                        break;
                }

            json.WriteEndArray();
        }

        return System.Text.Encoding.UTF8.GetString(stream.ToArray());
    }

    private static object Value(JsonElement value, Type type)
    {
        if (value.ValueKind == JsonValueKind.Null)
            return DBNull.Value;
        if (type == typeof(string))
            return value.GetString()!;
        if (type == typeof(byte[]))
            return value.GetBytesFromBase64();
        if (type == typeof(bool))
            return value.GetInt64() != 0;
        if (type == typeof(long))
            return value.GetInt64();
        return value.GetInt32();
    }

    /// <summary>PostgreSQL counts on from what it made itself, not from what was inserted.</summary>
    private static async Task SequencesAsync(
        DbConnection connection,
        DbTransaction transaction,
        IEnumerable<Table> tables,
        CancellationToken ct
    )
    {
        foreach (var table in tables)
        foreach (var column in table.Columns.Where(c => c.Made))
        {
            await using var command = connection.CreateCommand();
            command.Transaction = transaction;
            command.CommandText =
                $"select setval(pg_get_serial_sequence('{table.Name}', '{column.Name}'), coalesce((select "
                + $"max({Quote(column.Name)}) from {Quote(table.Name)}), 0) + 1, false) where "
                + $"pg_get_serial_sequence('{table.Name}', '{column.Name}') is not null";
            await command.ExecuteNonQueryAsync(ct);
        }
    }
}
