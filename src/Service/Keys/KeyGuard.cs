using System.Buffers;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace Vellumkeep.Service.Keys;

/// <summary>
/// Keeps kept keys out of everything that people type and paste: whatever is written is searched for every key of every
/// tunnel that ends on a gateway it concerns, also in groups, split over lines, in capitals, in UTF-16, in Base64 (RFC
/// 4648, section 4) and in hexadecimal. What is found is refused and never repeated.
/// </summary>
public sealed class KeyGuard(AtRest atRest) : IWriteGuard
{
    /// <summary>Shorter ones would be found by chance; no key that is made here is near it.</summary>
    private const int Shortest = 8;

    public async Task LookAsync(
        KeepContext context,
        Act act,
        IReadOnlyCollection<(IRecord Record, IRecord? Before)> written,
        CancellationToken ct
    )
    {
        if (written.Count == 0)
            return;
        var texts = new List<(string Field, string Text)>();
        if (act.Reason is { } reason)
            texts.Add(("reason", reason));
        foreach (var (record, before) in written)
        {
            var known = before is null ? [] : Texts(before).Select(t => t.Text).ToHashSet();
            texts.AddRange(Texts(record).Where(t => !known.Contains(t.Text)));
        }

        texts.RemoveAll(t => t.Text.Length < Shortest);
        if (texts.Count == 0)
            return;
        var keys = await KeysAsync(context, await GatewaysAsync(context, written.Select(w => w.Record), ct), ct);
        foreach (var (field, text) in texts)
            Refuse(field, keys, text);
    }

    /// <summary>Refuses texts and files of a change that hold a key.</summary>
    public async Task LookAsync(
        KeepContext context,
        IRecord about,
        IEnumerable<(string Field, string? Text)> texts,
        (string Field, byte[] Octets)? file,
        CancellationToken ct
    )
    {
        var keys = await KeysAsync(context, await GatewaysAsync(context, [about], ct), ct);
        foreach (var (field, text) in texts)
            Refuse(field, keys, text ?? "");
        if (file is not { } given)
            return;
        foreach (var read in Readings(given.Octets))
            Refuse(given.Field, keys, read);
    }

    private static void Refuse(string field, SearchValues<string>? keys, string text)
    {
        if (keys is not null && Squeezed(text).AsSpan().ContainsAny(keys))
            throw ProblemException.Field(
                field,
                "it contains a pre-shared key that is stored here",
                "the same text without the key"
            );
    }

    /// <summary>Letters and digits only: groups, dashes, quotes and line breaks do not hide a key.</summary>
    private static string Squeezed(string text) => new([.. text.Where(char.IsAsciiLetterOrDigit)]);

    /// <summary>The octets of a file as the texts that they may be.</summary>
    private static IEnumerable<string> Readings(byte[] octets)
    {
        yield return Encoding.Latin1.GetString(octets);
        foreach (var from in new[] { 0, 1 })
        {
            yield return Encoding.Unicode.GetString(octets.AsSpan(Math.Min(from, octets.Length)));
            yield return Encoding.BigEndianUnicode.GetString(octets.AsSpan(Math.Min(from, octets.Length)));
        }
    }

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

    /// <summary>The gateways that a record concerns; null when it may concern any.</summary>
    private static async Task<IReadOnlyCollection<string>?> GatewaysAsync(
        KeepContext context,
        IEnumerable<IRecord> records,
        CancellationToken ct
    )
    {
        var found = new HashSet<string>();
        foreach (var record in records)
        {
            IEnumerable<string>? these = record switch
            {
                Gateway g => [g.Id],
                Tunnel t => [t.A.GatewayId, t.B.GatewayId],
                Site s => await context
                    .Links.Where(l => l.ToId == s.Id && l.Role == "site")
                    .Select(l => l.FromId)
                    .ToListAsync(ct),
                Change c => [.. c.Request.Gateways, .. await OfTunnelsAsync(context, c.Request.Tunnels, ct)],
                Customer c => await OfCustomerAsync(context, c.Id, ct),
                _ => null,
            };
            if (these is null)
                return null;
            found.UnionWith(these);
        }

        return found;
    }

    private static async Task<HashSet<string>> OfTunnelsAsync(
        KeepContext context,
        IReadOnlyCollection<string> tunnels,
        CancellationToken ct
    )
    {
        var found = new HashSet<string>();
        foreach (var some in tunnels.Chunk(500))
            found.UnionWith(
                await context
                    .Links.Where(l => some.Contains(l.FromId) && (l.Role == "a" || l.Role == "b"))
                    .Select(l => l.ToId)
                    .ToListAsync(ct)
            );
        return found;
    }

    private static async Task<HashSet<string>> OfCustomerAsync(
        KeepContext context,
        string customer,
        CancellationToken ct
    )
    {
        var tunnels = context
            .Records.Where(r => r.OwnerId == customer && r.Kind == RecordKind.Tunnel)
            .Select(r => r.Id);
        var ends = context
            .Links.Where(l => tunnels.Contains(l.FromId) && (l.Role == "a" || l.Role == "b"))
            .Select(l => l.ToId);
        var own = context.Records.Where(r => r.OwnerId == customer && r.Kind == RecordKind.Gateway).Select(r => r.Id);
        return [.. await ends.Union(own).ToListAsync(ct)];
    }

    /// <summary>
    /// The keys of every tunnel that ends on these gateways, in each of their spellings; null when there is none.
    /// </summary>
    private async Task<SearchValues<string>?> KeysAsync(
        KeepContext context,
        IReadOnlyCollection<string>? gateways,
        CancellationToken ct
    )
    {
        var rows = new List<KeyRow>();
        if (gateways is null)
            rows = await context.Keys.AsNoTracking().ToListAsync(ct);
        else
            foreach (var some in gateways.Chunk(200))
            {
                var tunnels = context
                    .Links.Where(l => some.Contains(l.ToId) && (l.Role == "a" || l.Role == "b"))
                    .Select(l => l.FromId);
                rows.AddRange(
                    await context.Keys.AsNoTracking().Where(k => tunnels.Contains(k.TunnelId)).ToListAsync(ct)
                );
            }

        var spelled = rows.Where(KeyWork.IsHere)
            .SelectMany(Spellings)
            .Where(s => s.Length >= Shortest)
            .Distinct()
            .ToArray();
        return spelled.Length == 0 ? null : SearchValues.Create(spelled, StringComparison.OrdinalIgnoreCase);
    }

    private IEnumerable<string> Spellings(KeyRow row)
    {
        string key;
        try
        {
            key = atRest.Decrypt(row.Under, row.Ciphertext, KeyWork.Belongs(row.TunnelId, row.Version));
        }
        catch (Exception e) when (e is EncryptionKeyMissingException or CryptographicException)
        {
            // What cannot be opened here cannot be recognised either.
            return [];
        }

        var octets = Encoding.UTF8.GetBytes(key);
        // Base64 without its last signs, which depend on what follows the key.
        return
        [
            Squeezed(key),
            Squeezed(Convert.ToBase64String(octets)[..(octets.Length / 3 * 4)]),
            Convert.ToHexString(octets),
        ];
    }
}
