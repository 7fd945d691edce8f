using System.Text.Json;

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// What going through the history found: how many commits, the first that does not hold, and what stands in the tables
/// otherwise than the history says.
/// </summary>
public sealed record Verified(long Commits, long? Broken, IReadOnlyList<string> Differs);

/// <summary>Goes through the whole chain and holds everything current against it: records, grants, people.</summary>
public static class Verification
{
    /// <summary>So many differences are named; one is enough to know.</summary>
    private const int MostNamed = 50;

    public static async Task<Verified> RunAsync(Databases databases, CancellationToken ct)
    {
        var (commits, broken) = await CommitsAsync(databases, ct);
        var differs = new List<string>();
        await RecordsAsync(databases, differs, ct);
        await PeopleAsync(databases, differs, ct);
        return new(commits, broken, [.. differs.Take(MostNamed)]);
    }

    private static async Task<(long Commits, long? Broken)> CommitsAsync(Databases databases, CancellationToken ct)
    {
        await using var context = databases.Open();
        await using var inner = databases.Open();
        // Two readers side by side, in the order of the chain: nothing is kept but the commit at hand.
        await using var versions = inner
            .Versions.AsNoTracking()
            .OrderBy(v => v.CommitNumber)
            .AsAsyncEnumerable()
            .GetAsyncEnumerator(ct);
        var more = await versions.MoveNextAsync();
        CommitRow? before = null;
        long count = 0;
        await foreach (
            var commit in context.Commits.AsNoTracking().OrderBy(c => c.Number).AsAsyncEnumerable().WithCancellation(ct)
        )
        {
            var wrote = new List<VersionRow>();
            for (; more && versions.Current.CommitNumber <= commit.Number; more = await versions.MoveNextAsync())
                wrote.Add(versions.Current);
            var again = Chain.Next(
                before,
                commit.Number,
                new(commit.Who, Chain.Moment(commit.At), commit.Act, commit.Reason, commit.ChangeId),
                wrote
            );
            if (
                commit.Number != (before?.Number ?? 0) + 1
                || commit.Before != again.Before
                || commit.Digest != again.Digest
            )
                return (count, commit.Number);
            before = commit;
            count++;
        }

        return (count, null);
    }

    /// <summary>
    /// The current form of every record is that of its last version, and nothing is current that was never written.
    /// </summary>
    private static async Task RecordsAsync(Databases databases, List<string> differs, CancellationToken ct)
    {
        await using var context = databases.Open();
        var pairs =
            from r in context.Records.AsNoTracking()
            join v in context.Versions.AsNoTracking()
                on new { RecordId = r.Id, r.Version } equals new { v.RecordId, v.Version }
                into last
            from v in last.DefaultIfEmpty()
            select new
            {
                Record = r,
                Version = v,
                Later = context.Versions.Any(n => n.RecordId == r.Id && n.Version > r.Version),
            };
        await foreach (var pair in pairs.AsAsyncEnumerable().WithCancellation(ct))
        {
            var (row, version) = (pair.Record, pair.Version);
            var name = $"{row.Kind.Word()} {row.Code}";
            if (version is null)
                differs.Add($"{name} stands at version {row.Version}, which the history does not have");
            else if (pair.Later)
                differs.Add($"{name} stands at version {row.Version}, and the history has a later one");
            else if (!row.Body.AsSpan().SequenceEqual(version.Body))
                differs.Add($"{name} stands otherwise than version {row.Version} in the history");
            else if (row.OwnerId != version.OwnerId || row.CodeKey != version.CodeKey || !IsFoundAs(row))
                differs.Add($"{name} is listed under another code, name, state or owner than its record says");
            if (differs.Count >= MostNamed)
                return;
        }

        // A record cannot go: what the history wrote is there.
        var gone = await context
            .Versions.AsNoTracking()
            .Where(v => v.Version == 1 && !context.Records.Any(r => r.Id == v.RecordId))
            .Select(v => new { v.Kind, v.CodeKey })
            .Take(MostNamed)
            .ToListAsync(ct);
        differs.AddRange(gone.Select(g => $"{g.Kind.Word()} {g.CodeKey} is in the history and not among the records"));
    }

    private static bool IsFoundAs(RecordRow row)
    {
        try
        {
            var record = RecordBody.Read(row.Kind, row.Id, row.Body);
            return record.Code == row.Code && (row.Name, row.State) == RecordRows.Shown(record);
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or NullReferenceException)
        {
            return false;
        }
    }

    /// <summary>Whoever can sign in is a record, with the grants of that record and no others.</summary>
    private static async Task PeopleAsync(Databases databases, List<string> differs, CancellationToken ct)
    {
        await using var context = databases.Open();
        var records = (await context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Person).ToListAsync(ct))
            .Select(r => (Person)RecordBody.Read(r.Kind, r.Id, r.Body))
            .ToDictionary(p => p.Code);
        var rows = await context.People.AsNoTracking().ToListAsync(ct);
        foreach (var row in rows)
            if (!records.TryGetValue(row.Name, out var person))
                differs.Add($"{row.Name} can sign in and is no person of the history");
            else if (
                row.RecordId != person.Id
                || row.Display != person.Name
                || row.Disabled != person.Left is not null
                || row.Grants != RecordRows.Grants(person)
            )
                differs.Add($"{row.Name} has other grants, another name or another state than their record says");
        differs.AddRange(
            records
                .Keys.Except(rows.Select(r => r.Name))
                .Select(name => $"{name} is a person of the history and not among those who can sign in")
        );
    }
}
