using Vellumkeep.Storage.Reading;

namespace Vellumkeep.Storage.Writing;

/// <summary>Brings a database up to this version: its tables, and what is projected beside the records where an earlier version kept none.</summary>
public static class Reprojecting
{
    /// <exception cref="NewerDatabaseException">A later version has written to the database; nothing was touched.</exception>
    public static async Task PrepareAsync(Databases databases, Keeper keeper, DateTimeOffset now, CancellationToken ct)
    {
        await databases.MigrateAsync(ct);
        await using (var context = databases.Open())
            if (!await context.Words.AnyAsync(ct) && await context.Records.AnyAsync(ct))
                await ProjectAsync(databases, ct);
        await using (var context = databases.Open())
            if (await context.Findings.AnyAsync(f => f.CodeKey == "", ct))
                await context.Findings.ExecuteUpdateAsync(u => u.SetProperty(f => f.CodeKey, f => context.Records.First(r => r.Id == f.TunnelId).CodeKey).SetProperty(f => f.OwnerId, f => context.Records.First(r => r.Id == f.TunnelId).OwnerId!), ct);
        await AdoptAsync(databases, keeper, now, ct);
    }

    /// <summary>Words of every record, and of every version what a list as it was is made of.</summary>
    private static async Task ProjectAsync(Databases databases, CancellationToken ct)
    {
        await using var context = databases.Open();
        await using var transaction = await context.Database.BeginTransactionAsync(ct);
        var owners = await context.Records.AsNoTracking().Select(r => new { r.Id, r.OwnerId }).ToDictionaryAsync(r => r.Id, r => r.OwnerId, ct);
        var seen = 0;
        foreach (var version in await context.Versions.OrderBy(v => v.CommitNumber).ToListAsync(ct))
        {
            var record = RecordBody.Read(version.Kind, version.RecordId, version.Body);
            version.CodeKey = record.Code.ToUpperInvariant();
            (version.Name, version.State) = Keeper.Shown(record);
            version.OwnerId = owners.GetValueOrDefault(version.RecordId);
            foreach (var to in RecordReader.Refers(record).Distinct())
                context.VersionLinks.Add(new() { ToId = to, RecordId = version.RecordId, Version = version.Version });
            if (++seen % 2000 == 0)
                await context.SaveChangesAsync(ct);
        }

        foreach (var row in await context.Records.AsNoTracking().ToListAsync(ct))
            context.Words.AddRange(SearchWords.Of(RecordBody.Read(row.Kind, row.Id, row.Body)));
        await context.SaveChangesAsync(ct);
        await transaction.CommitAsync(ct);
    }

    /// <summary>People who could sign in before people were records become records.</summary>
    private static async Task AdoptAsync(Databases databases, Keeper keeper, DateTimeOffset now, CancellationToken ct)
    {
        List<PersonRow> without;
        await using (var context = databases.Open())
            without = await context.People.AsNoTracking().Where(p => p.RecordId == "").ToListAsync(ct);
        if (without.Count == 0)
            return;
        await keeper.WriteAsync(new("vellumkeep", now, "update", "people became records"), async (writing, _) =>
        {
            foreach (var row in without)
            {
                var person = new Person(writing.NewId(), row.Name, row.Display, [.. row.Grants.Split(';').Select(g => Grant.Parse(g, IdNames.Instance).Value)], null, row.Disabled ? DateOnly.FromDateTime(now.UtcDateTime) : null, null);
                writing.Put(person, 0);
                await writing.Read.People.Where(p => p.Name == row.Name).ExecuteUpdateAsync(u => u.SetProperty(p => p.RecordId, person.Id), ct);
            }

            return true;
        }, ct);
    }
}
