using System.Text.Json;
using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Records;

/// <summary>
/// Records of every kind: read in their written form, added, edited, corrected and retired. What only describes is
/// edited directly; what alters how something in service behaves needs a reason and is marked as a correction. Callable
/// with any clock.
/// </summary>
public sealed partial class RecordWork(Databases databases, Keeper keeper)
{
    private static readonly JsonSerializerOptions Json = new() { Converters = { new NodeJson() } };

    /// <summary>The role it takes to write a record of a kind.</summary>
    public static Role Writes(RecordKind kind) => kind == RecordKind.Person ? Role.Lead : Role.Engineer;

    public async Task<RecordForm> FormAsync(
        Asker asker,
        RecordKind kind,
        string code,
        DateOnly? on,
        CancellationToken ct
    )
    {
        await using var context = databases.Open();
        var (record, version) = await FindAsync(context, asker.Scope, kind, code, on, ct);
        var form = WrittenRecord.Write(record, new StoredNames(context, Scope.Everything));
        return Shown(kind, record.Code, version, form, on);
    }

    /// <summary>The start of a new tunnel from one that is there.</summary>
    public async Task<RecordForm> CopyAsync(Asker asker, string code, string newCode, CancellationToken ct)
    {
        await using var context = databases.Open();
        var (record, _) = await FindAsync(context, asker.Scope, RecordKind.Tunnel, code, null, ct);
        return Shown(
            RecordKind.Tunnel,
            newCode,
            0,
            Copying.Tunnel(WrittenRecord.Write(record, new StoredNames(context, Scope.Everything)), newCode),
            null
        );
    }

    /// <summary>The empty form of a kind, for adding one.</summary>
    public static RecordForm Empty(RecordKind kind) => Shown(kind, "", 0, MapNode.Empty, null);

    private static RecordForm Shown(RecordKind kind, string code, int version, MapNode form, DateOnly? on) =>
        new(
            kind.Word(),
            code,
            version,
            JsonSerializer.SerializeToElement<Node>(form, Json),
            form.Entries.IsEmpty ? "" : YamlText.Write(form),
            [.. WrittenRecord.Describe(kind).Select(n => Info(kind, n, ""))],
            on is { } day ? Scalars.Write(day) : null
        );

    /// <param name="top">The key at the top of the record that it stands below; empty for one that is at the
    /// top.</param>
    private static FieldInfo Info(RecordKind kind, FieldNote n, string top) =>
        new(
            n.Key,
            n.Shape.ToString().ToLowerInvariant(),
            n.Required,
            n.About,
            Behaviour.Describes(kind, top.Length == 0 ? n.Key : top),
            n.Refers?.Word(),
            FieldControls.Words(n),
            [.. n.Inside.Select(i => Info(kind, i, top.Length == 0 ? n.Key : top))],
            FieldControls.Of(n),
            n.AskedFirst,
            n.Label,
            n.One
        );

    private static async Task<(IRecord Record, int Version)> FindAsync(
        KeepContext context,
        Scope scope,
        RecordKind kind,
        string code,
        DateOnly? on,
        CancellationToken ct
    )
    {
        var kept = on is { } day
            ? await (await Past.OnAsync(context, day, ct)).ByCodeAsync<IRecord>(scope, kind, code, ct)
                ?? throw ProblemException.NotFound($"{kind.Word()} on {Scalars.Write(day)}", code)
            : await Find.RecordAsync<IRecord>(new(context), scope, kind, code, ct);
        return (kept.Record, kept.Version);
    }

    /// <summary>Adds a record, or with a code and version edits the one that is there.</summary>
    public async Task<RecordWritten> WriteAsync(
        Asker asker,
        DateTimeOffset now,
        RecordKind kind,
        string? code,
        int? version,
        WriteRecord given,
        bool dryRun,
        CancellationToken ct
    )
    {
        var reason = string.IsNullOrWhiteSpace(given.Reason) ? null : given.Reason.Trim();
        await using var outside = databases.Open();
        // Whether it describes or corrects is known before the act is written: the act says which.
        var existing = code is null
            ? ((IRecord Record, int Version)?)null
            : await FindAsync(outside, asker.Scope, kind, code, null, ct);
        var made = Make(outside, kind, existing?.Record, given, asker);
        var altered = existing is { } was
            ? Behaviour.Altered(kind, RecordBody.Form(was.Record), RecordBody.Form(made.Record))
            : [];
        var act =
            existing is null ? "add"
            : altered.IsEmpty ? "describe"
            : "correct";
        string[] paths = [.. altered.Select(a => a.Path.ToString())];
        if (act == "correct" && reason is null && !dryRun)
            throw WithoutReason(made.Record, paths);
        TunnelPage? drawn = null;
        var wrote = await keeper.WriteAsync(
            new(asker.Name, now, act, reason),
            async (writing, reader) =>
            {
                await Ownership.NeedAsync(asker, reader, existing?.Record, made.Record, _ => null, ct);
                await Ownership.NeedFreeAsync(asker, reader, kind, made.Record.Code, existing?.Record.Id, "code", ct);
                var record = await PutAsync(writing, reader, made.Record, existing, version, ct);
                if (dryRun && record is Tunnel would)
                    drawn = await TunnelDraft.PageAsync(reader, would, existing?.Record.Id, asker.Scope, now, ct);
                return record;
            },
            ct,
            keep: !dryRun
        );

        var names = new StoredNames(outside, Scope.Everything);
        var changes = ChangesOf(
            wrote.FindingChanges,
            asker,
            await Ownership.SeenAsync(
                asker,
                outside,
                wrote.FindingChanges.Select(m => m.TunnelId).Where(id => id != wrote.Result.Id),
                ct
            ),
            names,
            wrote.Result
        );
        var differences = existing is { } before
            ? Wordings.Differences(Edits.Between(RecordBody.Form(before.Record), RecordBody.Form(made.Record)), names)
            : [];
        return new()
        {
            DryRun = dryRun,
            Kind = kind.Word(),
            Code = made.Record.Code,
            Version = (existing?.Version ?? 0) + (dryRun || (existing is not null && differences.Count == 0) ? 0 : 1),
            As = existing is not null && differences.Count == 0 ? "nothing" : Said(act),
            Differences = differences,
            Altered = paths,
            Derived = [.. made.Derived.Select(d => new DerivedValue(d.Path.ToString(), d.Value, d.From))],
            FindingsAdded = changes.Added,
            FindingsRemoved = changes.Removed,
            Tunnel = drawn,
        };
    }

    /// <summary>Puts a record in the place of the one that is there, or a new one with an id of its own.</summary>
    private static async Task<IRecord> PutAsync(
        Storage.Writing.Writing writing,
        RecordReader reader,
        IRecord made,
        (IRecord Record, int Version)? existing,
        int? version,
        CancellationToken ct
    )
    {
        if (existing is not { } there)
        {
            made = WrittenRecord.Read(made.Kind, writing.NewId(), RecordBody.Form(made), IdNames.Instance).Record!;
            writing.Put(made, 0);
            return made;
        }

        if (version is { } expected && there.Version != expected)
            throw new ConflictException(there.Record.Id, expected, there.Version);
        if (made is Person person)
            await LastLead.NeedAnotherAsync(reader, person, ct);
        writing.Put(made, there.Version);
        return made;
    }

    private static string Said(string act) =>
        act switch
        {
            "add" => "added",
            "describe" => "described",
            _ => "corrected",
        };

    private static ProblemException WithoutReason(IRecord record, string[] paths) =>
        ProblemException
            .Field(
                "reason",
                $"{Say.And(paths.Take(4))} alter{(paths.Length == 1 ? "s" : "")} how {record.Code} works, so a reason "
                    + $"is needed",
                "a reason, such as: the device has always had this"
            )
            .With("altered", paths);

    private static async Task NeedUnusedAsync(
        Storage.Writing.Writing writing,
        Asker asker,
        IRecord record,
        CancellationToken ct
    )
    {
        if (record.Retired is { } since || record is Tunnel { State: TunnelState.Retired })
            throw new ProblemException(409, "refused", "Refused", $"{record.Code} is retired already.");
        var users = await new ReferenceList(writing.Read).UsersInUseAsync(record.Id, ct);
        if (users.Count > 0)
            throw new ProblemException(
                409,
                "refused",
                "Refused",
                $"{record.Code} is still used by {Named(users, asker.Scope)}. First retire or move "
                    + $"{(users.Count == 1 ? "it" : "them")} first."
            );
    }
}
