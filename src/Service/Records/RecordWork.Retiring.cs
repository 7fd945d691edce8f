using System.Text.Json;
using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Records;

public sealed partial class RecordWork
{
    /// <summary>Takes a record out of use. Refused while something in use refers to it.</summary>
    public async Task<RecordWritten> RetireAsync(
        Asker asker,
        DateTimeOffset now,
        RecordKind kind,
        string code,
        int version,
        string? why,
        bool dryRun,
        CancellationToken ct
    )
    {
        if (string.IsNullOrWhiteSpace(why))
            throw ProblemException.Field("reason", "the reason is missing", "a reason, such as: the shop was closed");
        await using var outside = databases.Open();
        IRecord? after = null;
        ImmutableArray<Changed> altered = [];
        var wrote = await keeper.WriteAsync(
            new(asker.Name, now, "retire", why.Trim()),
            async (writing, reader) =>
            {
                var (record, at) = await FindAsync(writing.Read, asker.Scope, kind, code, null, ct);
                asker.Need(Writes(kind), await Ownership.OwnerOfAsync(record, reader, _ => null, ct), record.Code);
                if (at != version)
                    throw new ConflictException(record.Id, version, at);
                await NeedUnusedAsync(writing, asker, record, ct);
                var today = Scalars.Write(DateOnly.FromDateTime(now.UtcDateTime));
                var before = RecordBody.Form(record);
                var form = kind switch
                {
                    RecordKind.Tunnel => before.With("state", "retired").With("since", today),
                    RecordKind.Person => before.With("left", today),
                    _ => before.With("retired", today),
                };
                after = WrittenRecord.Read(kind, record.Id, form, IdNames.Instance).Record!;
                if (after is Person person)
                    await LastLead.NeedAnotherAsync(reader, person, ct);
                altered = Edits.Between(before, form);
                writing.Put(after, at);
                return record;
            },
            ct,
            keep: !dryRun
        );
        var names = new StoredNames(outside, Scope.Everything);
        var changes = ChangesOf(
            wrote.FindingChanges,
            asker,
            await Ownership.SeenAsync(asker, outside, wrote.FindingChanges.Select(m => m.TunnelId), ct),
            names,
            after!
        );
        return new()
        {
            DryRun = dryRun,
            Kind = kind.Word(),
            Code = after!.Code,
            Version = version + (dryRun ? 0 : 1),
            As = "retired",
            Differences = Wordings.Differences(altered, names),
            Altered = [],
            Derived = [],
            FindingsAdded = changes.Added,
            FindingsRemoved = changes.Removed,
        };
    }

    private static string Named(IReadOnlyList<(RecordKind Kind, string Code, string? Owner)> users, Scope scope)
    {
        var visible = users
            .Where(u => scope.Sees(u.Owner))
            .Select(u => $"{u.Kind.Word()} {u.Code}")
            .Distinct()
            .ToArray();
        var hidden = users.Count - visible.Length;
        return Say.And(
            visible
                .Take(5)
                .Concat(visible.Length > 5 ? [$"{visible.Length - 5} more"] : [])
                .Concat(hidden > 0 ? [$"{hidden} of other customers"] : [])
        );
    }
}
