using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Service.Records;

namespace Vellumkeep.Service.Imports;

/// <summary>
/// Keepfiles in and out. An import replaces whole records that the file contains and leaves the rest; all or nothing.
/// </summary>
public sealed partial class Importing(Databases databases, Keeper keeper, ServiceSettings settings)
{
    public Task<ImportOutcome> ImportAsync(
        Asker asker,
        DateTimeOffset now,
        string text,
        bool dryRun,
        string? reason,
        CancellationToken ct,
        IProgress<Progressed>? progress = null
    )
    {
        if (text.Length > Keepfile.Largest)
            throw Refuse([
                new(
                    "file",
                    1,
                    $"the file is larger than {Keepfile.Largest / 1024 / 1024} MB",
                    "several files, one for each group of customers"
                ),
            ]);
        var (root, problem) = YamlText.Read(text, ct);
        return problem is not null
            ? throw Refuse([problem])
            : ImportAsync(
                asker,
                now,
                new RereadableFile(root!, () => YamlText.Read(text, ct).Root!),
                dryRun,
                reason,
                ct,
                progress
            );
    }

    /// <summary>Imports a file that was read already.</summary>
    public async Task<ImportOutcome> ImportAsync(
        Asker asker,
        DateTimeOffset now,
        RereadableFile file,
        bool dryRun,
        string? reason,
        CancellationToken ct,
        IProgress<Progressed>? progress = null
    )
    {
        reason = string.IsNullOrWhiteSpace(reason) ? null : reason.Trim();
        var count = file.Records;
        if (count > settings.LargestImport)
            throw Refuse([
                new(
                    "file",
                    1,
                    $"the file has {count:N0} records",
                    $"at most {settings.LargestImport:N0} in one import: several files, one for each group of customers"
                ),
            ]);
        progress?.Report(new("lines read", 0, 0));
        var wrote = await keeper.WriteAsync(
            new(asker.Name, now, "import", reason),
            async (writing, reader) => await PutAsync(asker, file.Take(), writing, reader, dryRun, reason, ct),
            ct,
            keep: !dryRun,
            progress
        );
        await using var context = databases.Open();
        var names = new StoredNames(context, Scope.Everything);
        foreach (var record in wrote.Result.Records)
            names.Knows(record);
        // A tunnel that a dry run would add is the asker's own, and not kept anywhere.
        var visible = await Ownership.SeenAsync(asker, context, wrote.FindingChanges.Select(m => m.TunnelId), ct);
        var own = wrote.Result.Records.Select(r => r.Id).ToHashSet();
        var shown = wrote
            .FindingChanges.Where(m => visible.Contains(m.TunnelId) || own.Contains(m.TunnelId))
            .Select(m =>
                (
                    m.Added,
                    Shown: new ImportFinding(
                        names.TextOf(RecordKind.Tunnel, m.TunnelId),
                        m.Code,
                        Severities.Words.Of(m.Severity),
                        m.What.Show(asker.Scope.Sees)
                    )
                )
            )
            .ToArray();
        return new(
            dryRun,
            wrote.Result.Added,
            wrote.Result.Changed,
            wrote.Result.Left,
            [.. shown.Where(s => s.Added).Select(s => s.Shown)],
            [.. shown.Where(s => !s.Added).Select(s => s.Shown)]
        );
    }

    private sealed record Imported(
        IReadOnlyList<RecordName> Added,
        IReadOnlyList<ChangedRecord> Changed,
        int Left,
        IReadOnlyList<IRecord> Records
    );

    /// <summary>
    /// Puts what the file holds: codes are understood within the asker's scope, and every record is theirs to write, as
    /// it stands and as it would be.
    /// </summary>
    private static async Task<Imported> PutAsync(
        Asker asker,
        Node root,
        Writing writing,
        RecordReader reader,
        bool dryRun,
        string? reason,
        CancellationToken ct
    )
    {
        var names = await reader.CodesAsync(asker.Scope, ct);
        var records = await ReadAsync(asker, root, writing, reader, names, ct);

        // Who writes for all customers need not be asked for each record.
        var everywhere = asker.ScopeOf(Role.Engineer).All;
        var inFile = records.ToDictionary(r => r.Id);
        var kept = await reader.KeptAsync(
            asker.Scope,
            [.. records.Select(r => r.Id).Where(id => !writing.Made(id))],
            ct
        );
        var (added, changed, left, behaviour) = (
            new List<RecordName>(),
            new List<ChangedRecord>(),
            0,
            new List<string>()
        );
        foreach (var record in records)
        {
            ct.ThrowIfCancellationRequested();
            if (!kept.TryGetValue(record.Id, out var there))
            {
                // An id that only a reference gave is of a record that the asker may not write.
                if (!writing.Made(record.Id))
                    throw NotFree(record);
                if (!everywhere)
                    await Ownership.NeedAsync(asker, reader, null, record, inFile.GetValueOrDefault, ct);
                added.Add(new(record.Kind.Word(), record.Code, NameOf(record)));
                writing.Put(record, 0);
                continue;
            }

            var differs = Edits.Between(RecordBody.Form(there.Record), RecordBody.Form(record));
            if (differs.IsEmpty)
            {
                left++;
                continue;
            }

            await Ownership.NeedAsync(asker, reader, there.Record, record, inFile.GetValueOrDefault, ct);
            changed.Add(new(record.Kind.Word(), record.Code, Wordings.Differences(differs, names)));
            if (!Behaviour.Altered(record.Kind, RecordBody.Form(there.Record), RecordBody.Form(record)).IsEmpty)
                behaviour.Add(record.Code);
            writing.Put(record, there.Version);
        }

        await NeedFreeAsync(writing, reader, records, ct);
        if (behaviour.Count > 0 && !dryRun && reason is null)
            throw WithoutReason(behaviour);
        return new(added, changed, left, records);
    }

    /// <summary>The records of a file, its codes understood within the asker's scope.</summary>
    private static async Task<ImmutableArray<IRecord>> ReadAsync(
        Asker asker,
        Node root,
        Writing writing,
        RecordReader reader,
        CodeNames names,
        CancellationToken ct
    )
    {
        var gateways = new Dictionary<string, Gateway?>();
        Gateway? GatewayOf(string id) =>
            gateways.TryGetValue(id, out var g)
                ? g
                : gateways[id] = reader.ByIdAsync<Gateway>(Scope.Everything, id, ct).GetAwaiter().GetResult()?.Record;
        bool MaySee(Gateway gateway) =>
            asker.Scope.All
            || reader.ByIdAsync<Gateway>(asker.Scope, gateway.Id, ct).GetAwaiter().GetResult() is not null;
        var zones = new Dictionary<string, string>();
        foreach (var code in SiteZones.Asked(root))
            if (await reader.ByCodeAsync<Customer>(asker.Scope, RecordKind.Customer, code, ct) is { } customer)
                zones[code] = customer.Record.TimeZone;
        var read = Keepfile.Read(SiteZones.Taken(root, zones), names, GatewayOf, writing.NewId, MaySee);
        if (!read.Problems.IsEmpty)
            throw Refuse(read.Problems);
        return read.Records;
    }

    /// <summary>Refuses codes that are taken by records which the asker may not see.</summary>
    private static async Task NeedFreeAsync(
        Writing writing,
        RecordReader reader,
        ImmutableArray<IRecord> records,
        CancellationToken ct
    )
    {
        var made = records.Where(r => writing.Made(r.Id)).Select(r => (r.Kind, r.Code));
        if (await reader.TakenAsync([.. made], ct) is { } taken)
            throw NotFree(
                records.First(r =>
                    r.Kind == taken.Kind && r.Code.Equals(taken.Code, StringComparison.OrdinalIgnoreCase)
                )
            );
    }

    private static ProblemException WithoutReason(List<string> behaviour) =>
        ProblemException.Field(
            "reason",
            $"the file alters how "
                + $"{Say.And(behaviour.Take(4))}{(behaviour.Count > 4 ? $" and {behaviour.Count - 4} more" : "")} "
                + $"behave{(behaviour.Count == 1 ? "s" : "")}; a reason is needed",
            "give a reason (--reason), such as: the devices have always had this"
        );

    /// <summary>
    /// A code is unique for each kind, also among records that the asker may not see; of those they learn nothing else.
    /// </summary>
    private static ProblemException NotFree(IRecord record) =>
        Refuse([
            new(
                "code",
                1,
                $"the code {record.Code} of a {record.Kind.Word()} is not free",
                "another code; codes are unique for each kind"
            ),
        ]);

    private static ProblemException Refuse(ImmutableArray<Problem> problems)
    {
        var first = problems[0];
        var codes = problems
            .Where(p => p.Slip == Slip.HostBits)
            .Select(_ => Core.Findings.Addresses.HostBits.Check.Code)
            .Distinct()
            .ToArray();
        return new ProblemException(
            422,
            "unreadable-file",
            "The file was not imported",
            $"{(first.Line > 0 ? $"Line {first.Line}, " : "")}{first.Field}: {first.Wrong}. Expected: "
                + $"{first.Right}.{(problems.Length > 1 ? $" {problems.Length - 1} more below." : "")} Nothing was "
                + $"changed."
        )
            .With("field", first.Field)
            .With("problems", problems.Take(200).Select(p => new FieldProblem(p.Field, p.Line, p.Wrong, p.Right)))
            .With("count", problems.Length)
            .With("findings", codes);
    }

    private static string NameOf(IRecord record) =>
        record switch
        {
            Customer c => c.Name,
            Site s => s.Name,
            Tunnel t => t.Name,
            Platform p => p.Title,
            Suite s => s.About ?? "",
            Offer o => o.Name,
            _ => "",
        };
}
