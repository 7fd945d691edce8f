using System.Text.Json;

namespace Vellumkeep.Service.Keys;

/// <summary>
/// Keeps kept keys, anybody's, out of everything that people type and paste. It stands in two places: every call is
/// looked over before its endpoint sees it, and every record and reason before it is stored, whatever it was made from.
/// What is found is refused and never repeated.
/// </summary>
public sealed class KeyGuard(KeyIndex index) : IWriteGuard, ITextGuard
{
    public async Task LookAsync(
        KeepContext context,
        Act act,
        IReadOnlyCollection<(IRecord Record, IRecord? Before)> written,
        CancellationToken ct
    )
    {
        await index.RefreshAsync(context, ct);
        Refuse("reason", act.Reason ?? "");
        foreach (var (record, before) in written)
        {
            var known = before is null ? [] : Texts(before).Select(t => t.Text).ToHashSet();
            foreach (var (field, text) in Texts(record).Where(t => !known.Contains(t.Text)))
                Refuse(field, text);
        }
    }

    /// <summary>Looks over what a call was given.</summary>
    /// <param name="reads">Whether the call only reads: then keys that were just made elsewhere are not looked
    /// up.</param>
    public async Task LookAsync(
        Databases databases,
        IReadOnlyCollection<(string Field, string Text)> texts,
        bool reads,
        CancellationToken ct
    )
    {
        if (!reads || index.IsEmpty)
        {
            await using var context = databases.Open();
            await index.RefreshAsync(context, ct);
        }

        foreach (var (field, text) in texts)
            Refuse(field, text);
    }

    /// <summary>Refuses a file that holds a key, or that cannot be looked through.</summary>
    public void Refuse(string field, byte[] file)
    {
        foreach (var text in Readings.Of(file))
            if (text is null)
                throw ProblemException.Field(
                    field,
                    "it is compressed, and holds too much to look for keys in it",
                    "a file of at most 64 MiB when it is unpacked"
                );
            else if (index.IsIn(text))
                throw Found(field);
    }

    /// <summary>Whether a text holds a kept key.</summary>
    public bool IsIn(string text) => text.Length >= KeySpellings.Least && Readings.Of(text).Any(index.IsIn);

    private void Refuse(string field, string text)
    {
        if (IsIn(text))
            throw Found(field);
    }

    private static ProblemException Found(string field) =>
        ProblemException.Field(
            field,
            "it contains a pre-shared key that is stored here, or a part of one",
            "the same text without the key"
        );

    /// <summary>Everything that was typed into a record, with its place.</summary>
    private static List<(string Field, string Text)> Texts(IRecord record)
    {
        var texts = new List<(string, string)>();
        using var json = JsonDocument.Parse(RecordBody.Bytes(record));
        Walk(json.RootElement, "", texts);
        return texts;
    }

    private static void Walk(JsonElement json, string at, List<(string, string)> texts)
    {
        switch (json.ValueKind)
        {
            case JsonValueKind.String:
                texts.Add((at, json.GetString()!));
                break;
            case JsonValueKind.Array:
                var number = 0;
                foreach (var item in json.EnumerateArray())
                    Walk(item, $"{at}[{++number}]", texts);
                break;
            case JsonValueKind.Object:
                foreach (var property in json.EnumerateObject())
                    Walk(property.Value, at.Length == 0 ? Lower(property.Name) : $"{at}.{Lower(property.Name)}", texts);
                break;
        }
    }

    private static string Lower(string name) => name.Length == 0 ? name : char.ToLowerInvariant(name[0]) + name[1..];
}
