namespace Vellumkeep.Service.Records;

/// <summary>
/// Whether somebody may write a record: judged on the record as it stands and as it would be, and on every gateway that
/// a tunnel would come to end on. What is out of the asker's scope is looked up within that scope, so that it does not
/// exist for them.
/// </summary>
public static class Ownership
{
    /// <param name="before">The record as it stands; null when it is new.</param>
    /// <param name="written">A record that is written together with this one, by its id; null when there is
    /// none.</param>
    /// <exception cref="ProblemException">403 when the role is missing for an owner; 422 when a site with gateways
    /// would change hands.</exception>
    public static async Task NeedAsync(
        Asker asker,
        RecordReader reader,
        IRecord? before,
        IRecord after,
        Func<string, IRecord?> written,
        CancellationToken ct
    )
    {
        var role = RecordWork.Writes(after.Kind);
        if (before is not null)
            asker.Need(role, await OwnerOfAsync(before, reader, _ => null, ct), before.Code);
        asker.Need(role, await OwnerOfAsync(after, reader, written, ct), after.Code);
        if (after is Tunnel tunnel)
            await NeedEndsAsync(asker, reader, before as Tunnel, tunnel, written, ct);
        if (
            before is Site was
            && after is Site site
            && was.CustomerId != site.CustomerId
            && await reader.ReferringAsync(site.Id, "site", ct)
        )
            throw ProblemException.Field(
                "customer",
                $"{site.Code} has gateways, and their customer would change too",
                "the customer it has; or move its gateways to another site first"
            );
    }

    /// <summary>
    /// A tunnel comes to end on a gateway only by somebody who may work on that gateway; ends that are there stay.
    /// </summary>
    public static async Task NeedEndsAsync(
        Asker asker,
        RecordReader reader,
        Tunnel? before,
        Tunnel after,
        Func<string, IRecord?> written,
        CancellationToken ct
    )
    {
        string[] had = before is null ? [] : [before.A.GatewayId, before.B.GatewayId];
        foreach (var id in new[] { after.A.GatewayId, after.B.GatewayId }.Except(had).Distinct())
            if ((written(id) ?? (await reader.ByIdAsync<Gateway>(Scope.Everything, id, ct))?.Record) is Gateway gateway)
                asker.Need(Role.Engineer, await OwnerOfAsync(gateway, reader, written, ct), gateway.Code);
    }

    /// <summary>Whose record it is; null is the house's.</summary>
    public static async Task<string?> OwnerOfAsync(
        IRecord record,
        RecordReader reader,
        Func<string, IRecord?> written,
        CancellationToken ct
    ) =>
        record switch
        {
            Customer c => c.Id,
            Site s => s.CustomerId,
            Offer o => o.CustomerId,
            Tunnel t => t.CustomerId,
            Gateway g => (
                (written(g.SiteId) ?? (await reader.ByIdAsync<Site>(Scope.Everything, g.SiteId, ct))?.Record) as Site
            )?.CustomerId,
            Person => OwnerKeys.People,
            _ => null,
        };

    /// <summary>
    /// Refuses a code that a record has which the asker may see, or one that is not free for another reason; of that
    /// they learn no more.
    /// </summary>
    public static async Task NeedFreeAsync(
        Asker asker,
        RecordReader reader,
        RecordKind kind,
        string code,
        string? but,
        string field,
        CancellationToken ct
    )
    {
        if (
            await reader.ByCodeAsync<IRecord>(Scope.Everything, kind, code, ct) is not { } taken
            || taken.Record.Id == but
        )
            return;
        var visible = await reader.ByCodeAsync<IRecord>(asker.Scope, kind, code, ct) is not null;
        throw ProblemException.Field(
            field,
            visible
                ? $"there is already a {kind.Word()} {taken.Record.Code}"
                : $"the code {Typed.Short(code)} is not free",
            "another code; codes are unique for each kind"
        );
    }

    /// <summary>Of tunnels, those that the asker may see.</summary>
    public static async Task<IReadOnlySet<string>> SeenAsync(
        Asker asker,
        KeepContext context,
        IEnumerable<string> tunnels,
        CancellationToken ct
    )
    {
        var ids = tunnels.Distinct().ToArray();
        var owners = new HashSet<string>();
        foreach (var some in ids.Chunk(500))
            owners.UnionWith(
                (
                    await context
                        .Records.AsNoTracking()
                        .Where(r => some.Contains(r.Id))
                        .Select(r => new { r.Id, r.OwnerId })
                        .ToListAsync(ct)
                )
                    .Where(r => asker.Scope.Sees(r.OwnerId))
                    .Select(r => r.Id)
            );
        return owners;
    }
}
