namespace Vellumkeep.Storage.Writing;

/// <summary>
/// Writes what was prepared: the commit, versions and current records, what is projected beside them, and the findings.
/// Inside one transaction, and nothing else.
/// </summary>
internal static class RecordStore
{
    public static async Task WriteAsync(
        KeepContext context,
        CommitRow? last,
        Act act,
        Prepared prepared,
        IProgress<Progressed>? progress,
        CancellationToken ct
    )
    {
        var number = (last?.Number ?? 0) + 1;
        var versions = prepared.Records.Select(r => VersionOf(r, number)).ToArray();
        var digests = prepared.Records.ToDictionary(r => r.Record.Id, r => r.BodyDigest);
        context.Commits.Add(Chain.Next(last, number, act, versions, v => digests[v.RecordId]));
        var rows = prepared.Records.Zip(versions).Select(p => RowOf(p.First, p.Second)).ToArray();
        foreach (var row in rows.Where(r => r.Version > 1))
        {
            // The version that it follows is part of the condition: who comes in between is noticed.
            var entry = context.Records.Update(row);
            entry.Property(r => r.Version).OriginalValue = row.Version - 1;
        }

        await context.SaveChangesAsync(ct);
        context.ChangeTracker.Clear();
        await Bulk.InsertAsync(context, rows.Where(r => r.Version == 1), ct);
        await Bulk.InsertAsync(context, versions, ct);
        progress?.Report(new("records", rows.Length, rows.Length));
        await ProjectAsync(context, prepared, versions, ct);
        await FindingsAsync(context, prepared, ct);
        foreach (var beside in prepared.Writing.Besides)
            await beside(context);
        await context.SaveChangesAsync(ct);
        context.ChangeTracker.Clear();
        if (rows.Length >= 1000)
            await Databases.LearnAsync(context, ct);
    }

    /// <summary>Writes what tunnels were found to be, and nothing of a record.</summary>
    public static async Task FindingsAsync(KeepContext context, Prepared prepared, CancellationToken ct)
    {
        var lookups = prepared.Pending.Lookups;
        foreach (var some in lookups.Keys.Chunk(500))
            await context.Lookups.Where(l => some.Contains(l.TunnelId)).ExecuteDeleteAsync(ct);
        await Bulk.InsertAsync(context, lookups.Values.SelectMany(l => l), ct);
        foreach (var some in prepared.Tunnels.Where(t => t.Findings is not null).Select(t => t.Id).Chunk(500))
            await context.Findings.Where(f => some.Contains(f.TunnelId)).ExecuteDeleteAsync(ct);
        foreach (var some in prepared.Tunnels.Where(t => t.Words is not null).Select(t => t.Id).Chunk(500))
            await context
                .Words.Where(w => some.Contains(w.RecordId) && w.Field == SearchWords.Around)
                .ExecuteDeleteAsync(ct);
        foreach (var some in prepared.Tunnels.Where(t => t.Row is not null).Select(t => t.Id).Chunk(500))
            await context.Tunnels.Where(t => some.Contains(t.Id)).ExecuteDeleteAsync(ct);
        await Bulk.InsertAsync(context, prepared.Tunnels.Select(t => t.Row).OfType<TunnelRow>(), ct);
        await Bulk.InsertAsync(context, prepared.Tunnels.SelectMany(t => t.Findings ?? []), ct);
        await Bulk.InsertAsync(context, prepared.Words, ct);
    }

    private static VersionRow VersionOf(PreparedRecord prepared, long number)
    {
        var (name, state) = RecordRows.Shown(prepared.Record);
        return new()
        {
            RecordId = prepared.Record.Id,
            Version = prepared.Before + 1,
            Kind = prepared.Record.Kind,
            CommitNumber = number,
            Body = prepared.Body,
            CodeKey = prepared.Record.Code.ToUpperInvariant(),
            Name = name,
            State = state,
            OwnerId = prepared.OwnerId,
        };
    }

    private static RecordRow RowOf(PreparedRecord prepared, VersionRow version) =>
        new()
        {
            Id = version.RecordId,
            Kind = version.Kind,
            Code = prepared.Record.Code,
            CodeKey = version.CodeKey,
            OwnerId = version.OwnerId,
            Name = version.Name,
            State = version.State,
            Version = version.Version,
            CommitNumber = version.CommitNumber,
            Body = version.Body,
        };

    private static async Task ProjectAsync(
        KeepContext context,
        Prepared prepared,
        VersionRow[] versions,
        CancellationToken ct
    )
    {
        // A first version has nothing projected yet.
        foreach (var old in prepared.Records.Where(r => !r.IsNew).Select(r => r.Record.Id).Chunk(500))
        {
            await context.Links.Where(l => old.Contains(l.FromId)).ExecuteDeleteAsync(ct);
            await context.Prefixes.Where(p => old.Contains(p.RecordId)).ExecuteDeleteAsync(ct);
            await context.Held.Where(h => old.Contains(h.TunnelId)).ExecuteDeleteAsync(ct);
            await context.Due.Where(d => old.Contains(d.RecordId)).ExecuteDeleteAsync(ct);
            await context
                .Words.Where(w => old.Contains(w.RecordId) && w.Field != SearchWords.Around)
                .ExecuteDeleteAsync(ct);
        }

        var links = prepared.Records.SelectMany(r => r.Links).ToArray();
        var numbers = versions.ToDictionary(v => v.RecordId, v => v.Version);
        await Bulk.InsertAsync(context, links, ct);
        await Bulk.InsertAsync(
            context,
            links
                .DistinctBy(l => (l.FromId, l.ToId))
                .Select(l => new VersionLinkRow
                {
                    ToId = l.ToId,
                    RecordId = l.FromId,
                    Version = numbers[l.FromId],
                }),
            ct
        );
        await Bulk.InsertAsync(context, prepared.Pending.Prefixes.Values.SelectMany(p => p), ct);
        await Bulk.InsertAsync(context, prepared.Pending.Held.Values.SelectMany(h => h), ct);
        await Bulk.InsertAsync(context, prepared.Records.SelectMany(r => DueRows.Of(r.Record)), ct);
        foreach (var person in prepared.Records.Select(r => r.Record).OfType<Person>())
            await ProjectAsync(context, person, ct);
    }

    /// <summary>What signing in needs; who has left loses every session and token in the same stroke.</summary>
    private static async Task ProjectAsync(KeepContext context, Person person, CancellationToken ct)
    {
        var row = await context.People.FirstOrDefaultAsync(p => p.Name == person.Code, ct);
        if (row is null)
            context.People.Add(
                row = new()
                {
                    Name = person.Code,
                    RecordId = person.Id,
                    Display = "",
                    Grants = "",
                }
            );
        row.Display = person.Name;
        row.Grants = RecordRows.Grants(person);
        row.Disabled = person.Left is not null;
        await context.SaveChangesAsync(ct);
        if (!row.Disabled)
            return;
        await context.Sessions.Where(s => s.Person == person.Code).ExecuteDeleteAsync(ct);
        await context.Tokens.Where(t => t.Person == person.Code).ExecuteDeleteAsync(ct);
    }
}
