using Vellumkeep.Core.Changes.Lifecycle;
using Vellumkeep.Core.Keys;

namespace Vellumkeep.Service.Keys;

/// <summary>
/// Pre-shared keys: made here, encrypted at rest, shown with a reason. Nothing of a key is ever logged, told in an
/// error, kept in the history or exported.
/// </summary>
public sealed partial class KeyWork(Databases databases, Keeper keeper, AtRest atRest, AuditLog audit)
{
    /// <summary>Two keys of a tunnel that are made within this are one that was asked for twice.</summary>
    private static readonly TimeSpan AtOnce = TimeSpan.FromSeconds(1);

    /// <summary>The act under which a key is made.</summary>
    public const string Making = "make key";

    public async Task<KeysPage> ListAsync(Asker asker, string code, CancellationToken ct)
    {
        await using var context = databases.Open();
        var tunnel = (await Find.TunnelAsync(new(context), asker.Scope, code, ct)).Record;
        var rows = await context
            .Keys.AsNoTracking()
            .Where(k => k.TunnelId == tunnel.Id)
            .OrderByDescending(k => k.Version)
            .ToListAsync(ct);
        var views = (
            await context.KeyViews.AsNoTracking().Where(k => k.TunnelId == tunnel.Id).OrderBy(k => k.Id).ToListAsync(ct)
        ).ToLookup(k => k.Version);
        var changes = rows.Select(r => r.ChangeId).OfType<string>().Distinct().ToArray();
        var codes = await context
            .Records.AsNoTracking()
            .Where(r => changes.Contains(r.Id))
            .ToDictionaryAsync(r => r.Id, r => r.Code, ct);
        return new(
            tunnel.Code,
            [
                .. rows.Select(r => new KeyVersionLine
                {
                    Version = r.Version,
                    State = r.State,
                    Bits = r.Bits,
                    Length = r.Length,
                    CheckCode = r.CheckCode,
                    MadeBy = r.MadeBy,
                    MadeAt = Moment(r.MadeAt),
                    Change = r.ChangeId is { } id ? codes.GetValueOrDefault(id) : null,
                    Viewed = [.. views[r.Version].Select(s => new KeyViewLine(s.Who, Moment(s.At), s.Why, s.From))],
                }),
            ],
            tunnel.A.KeyHeld?.ToString(),
            tunnel.B.KeyHeld?.ToString()
        );
    }

    /// <summary>Makes the version that a change needs, or the next one, within both platforms' limits.</summary>
    public async Task<KeysPage> MakeAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        MakeKeyGiven given,
        CancellationToken ct
    )
    {
        if (atRest.Missing() is { Count: > 0 } missing)
            throw new ProblemException(
                409,
                "refused",
                "Refused",
                $"No key is made: the key folder {atRest.Folder} lacks {string.Join(", ", missing)}, which older "
                    + $"keys are encrypted with. Restore the folder first."
            );
        await keeper.WriteAsync(
            new(asker.Name, now, Making, code),
            async (writing, reader) =>
            {
                var tunnel = (await Find.TunnelAsync(reader, asker.Scope, code, ct)).Record;
                asker.Need(Role.Engineer, tunnel.CustomerId, tunnel.Code);
                var view = new TunnelView(
                    await reader.AroundAsync([tunnel.Id], false, ct),
                    tunnel,
                    DateOnly.FromDateTime(now.UtcDateTime)
                );
                if (view.Ends.Any(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate))
                    throw new ProblemException(
                        409,
                        "refused",
                        "Refused",
                        $"{tunnel.Code} authenticates with certificates and needs no pre-shared key."
                    );
                var change = given.Change is null
                    ? null
                    : (await Find.ChangeAsync(reader, asker.Scope, given.Change, ct)).Record;
                var known = await writing
                    .Read.Keys.Where(k => k.TunnelId == tunnel.Id)
                    .Select(k => k.Version)
                    .ToListAsync(ct);
                int[] held = [.. view.Ends.SelectMany(e => e.End.KeyHeld is { } k ? k.Send.Concat(k.Receive) : [])];
                var version = change is null
                    ? known.Concat(held).DefaultIfEmpty(0).Max() + 1
                    : VersionFor(change, tunnel, known)
                        ?? throw ProblemException.Field(
                            "change",
                            $"{change.Code} does not replace the key of {tunnel.Code}",
                            "a change of kind rekey or new tunnel, or none"
                        );
                await NotTwiceAsync(writing.Read, tunnel, change, held, now, ct);
                if (known.Contains(version))
                    throw new ProblemException(
                        409,
                        "refused",
                        "Refused",
                        $"Key version {version} of {tunnel.Code} exists already. Next: vellumkeep key list {tunnel.Code}"
                    );
                var row = given.MadeBy is null
                    ? MadeHere(view, version, asker, now, change)
                    : MadeElsewhere(tunnel, version, given, now, change);
                writing.Beside(context =>
                {
                    context.Keys.Add(row);
                    return Task.CompletedTask;
                });
                if (change is null)
                    writing.Note();
                else
                    await MadeForAsync(writing, reader, change, new(tunnel.Id, version), asker, now, ct);
                return true;
            },
            ct
        );
        return await ListAsync(asker, code, ct);
    }

    /// <summary>
    /// A version that was made a moment ago and that no end holds is the one that is asked for: two presses, or two
    /// people at once, make one.
    /// </summary>
    private static async Task NotTwiceAsync(
        KeepContext context,
        Tunnel tunnel,
        Change? change,
        IEnumerable<int> held,
        DateTimeOffset now,
        CancellationToken ct
    )
    {
        var last = await context
            .Keys.AsNoTracking()
            .Where(k => k.TunnelId == tunnel.Id)
            .OrderByDescending(k => k.Version)
            .FirstOrDefaultAsync(ct);
        if (
            change is null
            && last is not null
            && !held.Contains(last.Version)
            && (now - Moment(last.MadeAt)).Duration() < AtOnce
        )
            throw new ProblemException(
                409,
                "refused",
                "Refused",
                $"Key version {last.Version} of {tunnel.Code} was just made by {last.MadeBy}. Use that one, or make "
                    + $"another in a moment. Next: vellumkeep key list {tunnel.Code}"
            );
    }

    /// <summary>
    /// The first version that a change needs of a tunnel's key and that is not made; its last when all are.
    /// </summary>
    private static int? VersionFor(Change change, Tunnel tunnel, List<int> known)
    {
        var needed = change.Plan.Keys.Where(k => k.TunnelId == tunnel.Id).Select(k => k.Version).ToArray();
        if (needed.Length == 0)
            return null;
        return needed.Except(known).FirstOrDefault() is > 0 and var open ? open : needed[^1];
    }

    /// <summary>The step that makes the key for a change is done by this, where the change is under way.</summary>
    private static async Task MadeForAsync(
        Writing writing,
        RecordReader reader,
        Change change,
        VersionOfKey version,
        Asker asker,
        DateTimeOffset now,
        CancellationToken ct
    )
    {
        var kept = (await reader.ByIdAsync<Change>(asker.Scope, change.Id, ct))!;
        var seen = ChangeLife.SeenDone(kept.Record, asker.Name, now, new HashSet<VersionOfKey> { version });
        if (seen.Attempts.Length > kept.Record.Attempts.Length)
            writing.Put(seen, kept.Version);
        else
            writing.Note();
    }

    private KeyRow MadeHere(TunnelView view, int version, Asker asker, DateTimeOffset now, Change? change)
    {
        var tunnel = view.Tunnel;
        var bits = new[] { view.A, view.B }
            .SelectMany(e =>
                (e.Get(Settings.IkeProposals).Value?.Items.Select(p => Strength.Of(p).Bits) ?? []).Concat(
                    e.Get(Settings.EspProposals).Value?.Items.Select(p => Strength.Of(p).Bits) ?? []
                )
            )
            .DefaultIfEmpty(KeyMaking.LeastBits)
            .Max();
        var made = KeyMaking.Make([.. view.Ends.Select(e => e.Platform.Keys).OfType<KeyLimits>()], bits);
        if (!made.Ok)
            throw new ProblemException(
                409,
                "refused",
                "Refused",
                $"No key can be made for {tunnel.Code}: {made.Wrong}. Expected: {made.Right}."
            );
        var (under, closed) = atRest.Encrypt(made.Value.Text, Belongs(tunnel.Id, version));
        return new()
        {
            TunnelId = tunnel.Id,
            Version = version,
            State = KeyMaking.States.Of(KeyState.Prepared),
            Ciphertext = closed,
            Under = under,
            CheckCode = KeyMaking.CheckCode(made.Value.Text, tunnel.Code, version),
            Bits = made.Value.Bits,
            Length = made.Value.Text.Length,
            MadeBy = asker.Name,
            MadeAt = Moment(now),
            ChangeId = change?.Id,
        };
    }

    /// <summary>A key that the other party made: only about it is known here, and nothing can be shown.</summary>
    private static KeyRow MadeElsewhere(
        Tunnel tunnel,
        int version,
        MakeKeyGiven given,
        DateTimeOffset now,
        Change? change
    )
    {
        if (string.IsNullOrWhiteSpace(given.MadeBy) || given.MadeBy.Length > 80)
            throw ProblemException.Field("madeBy", "who made the key is missing", "a name of at most 80 characters");
        if (given.CheckCode is { Length: > 20 })
            throw ProblemException.Field("checkCode", "it is no check code", "the check code as it was read out");
        return new()
        {
            TunnelId = tunnel.Id,
            Version = version,
            State = KeyMaking.States.Of(KeyState.Prepared),
            Ciphertext = [],
            Under = "",
            CheckCode = given.CheckCode?.Trim() ?? "",
            MadeBy = $"{given.MadeBy.Trim()}, elsewhere",
            MadeAt = Moment(now),
            ChangeId = change?.Id,
        };
    }

    /// <summary>Whether a key is encrypted here, and not only known about.</summary>
    internal static bool IsHere(KeyRow row) => row.Under.Length > 0;

    /// <summary>The versions that exist of the keys that a change brings into use.</summary>
    public static async Task<IReadOnlySet<VersionOfKey>> MadeAsync(
        KeepContext context,
        Change change,
        CancellationToken ct
    )
    {
        var tunnels = change.Plan.Keys.Select(k => k.TunnelId).Distinct().ToArray();
        var made = new HashSet<VersionOfKey>();
        foreach (var some in tunnels.Chunk(500))
        foreach (
            var row in await context
                .Keys.AsNoTracking()
                .Where(k => some.Contains(k.TunnelId))
                .Select(k => new { k.TunnelId, k.Version })
                .ToListAsync(ct)
        )
            made.Add(new(row.TunnelId, row.Version));
        return made;
    }

    private static HashSet<int> HeldAt(TunnelEnd end) => end.KeyHeld is { } k ? [.. k.Send, .. k.Receive] : [];

    /// <summary>What a version is when a change is closed; null where that alters nothing.</summary>
    private static KeyState? StateOf(int version, KeyVersion key, HashSet<int>[] held)
    {
        var anywhere = held.Any(h => h.Contains(version));
        if (version == key.Version)
            return anywhere ? KeyState.InUse : KeyState.Prepared;
        if (!key.Replaces.Contains(version) || !held.All(h => h.Contains(key.Version)))
            return null;
        return anywhere ? KeyState.Superseded : KeyState.Withdrawn;
    }

    private static string Moment(DateTimeOffset at) => at.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);

    private static DateTimeOffset Moment(string at) => DateTimeOffset.Parse(at, CultureInfo.InvariantCulture);
}
