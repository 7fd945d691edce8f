using System.Security.Cryptography;

namespace Vellumkeep.Service.Keys;

/// <summary>
/// Digests of the parts by which every kept key is recognised (<see cref="KeySpellings"/>), under a number that nobody
/// knows and that is another in each process. A text is held against all of them in one pass for each length of a part,
/// however many keys there are. Nothing of it is stored.
/// </summary>
public sealed class KeyIndex(AtRest atRest)
{
    /// <summary>2^61 - 1, a prime: digests are polynomials in <see cref="secret"/> modulo it.</summary>
    private const ulong Prime = (1UL << 61) - 1;

    private readonly ulong secret =
        BitConverter.ToUInt64(RandomNumberGenerator.GetBytes(8)) % (Prime - 1_000_000) + 500_000;

    private readonly SemaphoreSlim door = new(1);
    private readonly HashSet<(string Tunnel, int Version)> known = [];
    private readonly Dictionary<int, HashSet<ulong>> building = [];

    /// <summary>The digests by the length of what they are of; replaced as a whole.</summary>
    private volatile Dictionary<int, HashSet<ulong>> parts = [];

    /// <summary>The last commit whose keys are in it; none yet.</summary>
    private long seen = -1;

    public bool IsEmpty => Interlocked.Read(ref seen) < 0;

    /// <summary>Takes in the keys that were made since, by whichever service.</summary>
    public async Task RefreshAsync(KeepContext context, CancellationToken ct)
    {
        var from = Interlocked.Read(ref seen);
        var acts = await context
            .Commits.AsNoTracking()
            .Where(c => c.Number > from)
            .GroupBy(c => c.Act == KeyWork.Making)
            .Select(g => new { Makes = g.Key, Last = g.Max(c => c.Number) })
            .ToListAsync(ct);
        if (from < 0 || acts.Any(a => a.Makes))
            await TakeInAsync(context, ct);
        Interlocked.Exchange(ref seen, acts.Select(a => a.Last).Append(Math.Max(from, 0)).Max());
    }

    private async Task TakeInAsync(KeepContext context, CancellationToken ct)
    {
        await door.WaitAsync(ct);
        try
        {
            var rows = await Kept(context).Select(k => new { k.TunnelId, k.Version }).ToListAsync(ct);
            var made = rows.Where(r => !known.Contains((r.TunnelId, r.Version))).Select(r => r.TunnelId).Distinct();
            foreach (var some in made.Chunk(500))
            foreach (var row in await Kept(context).Where(k => some.Contains(k.TunnelId)).ToListAsync(ct))
                Add(row);
            parts = building.ToDictionary(p => p.Key, p => new HashSet<ulong>(p.Value));
        }
        finally
        {
            door.Release();
        }
    }

    /// <summary>Whether a text holds the beginning or the end of a kept key, in whatever spelling.</summary>
    public bool IsIn(string text)
    {
        var now = parts;
        if (now.Count == 0)
            return false;
        var squeezed = KeySpellings.Squeezed(text);
        return now.Any(p => IsIn(squeezed, p.Key, p.Value));
    }

    private static IQueryable<KeyRow> Kept(KeepContext context) =>
        context.Keys.AsNoTracking().Where(k => k.Under != "");

    private void Add(KeyRow row)
    {
        if (!known.Add((row.TunnelId, row.Version)))
            return;
        string key;
        try
        {
            key = atRest.Decrypt(row.Under, row.Ciphertext, KeyWork.Belongs(row.TunnelId, row.Version));
        }
        catch (Exception e) when (e is EncryptionKeyMissingException or CryptographicException)
        {
            // What cannot be opened here cannot be recognised either.
            return;
        }

        foreach (var part in KeySpellings.Of(key))
        {
            if (!building.TryGetValue(part.Length, out var digests))
                building[part.Length] = digests = [];
            digests.Add(part.Aggregate(0UL, (sum, c) => Plus(Times(sum, secret), c)));
        }
    }

    private bool IsIn(string squeezed, int length, HashSet<ulong> digests)
    {
        if (squeezed.Length < length)
            return false;
        // What the sign that leaves a part has counted for.
        var leaving = 1UL;
        for (var i = 0; i < length; i++)
            leaving = Times(leaving, secret);
        var sum = 0UL;
        for (var i = 0; i < squeezed.Length; i++)
        {
            sum = Plus(Times(sum, secret), squeezed[i]);
            if (i >= length)
                sum = Plus(sum, Prime - Times(leaving, squeezed[i - length]));
            if (i >= length - 1 && digests.Contains(sum))
                return true;
        }

        return false;
    }

    private static ulong Plus(ulong a, ulong b)
    {
        var sum = a + b;
        return sum >= Prime ? sum - Prime : sum;
    }

    private static ulong Times(ulong a, ulong b)
    {
        var high = Math.BigMul(a, b, out var low);
        return Plus(low & Prime, (low >> 61) | (high << 3));
    }
}
