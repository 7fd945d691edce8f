namespace Vellumkeep.Service.History;

/// <summary>Who came in, who was refused, and who took what out, from where.</summary>
public static class AuditEndpoints
{
    public static void MapAudit(this RouteGroupBuilder api) =>
        api.MapGet(
                "/audit",
                async (
                    string? who,
                    string? what,
                    string? outcome,
                    string? from,
                    string? to,
                    long? before,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    if (outcome is not (null or AuditLog.Done or AuditLog.Refused))
                        throw ProblemException.Field(
                            "outcome",
                            $"'{Typed.Short(outcome)}' is not an outcome",
                            $"{AuditLog.Done} or {AuditLog.Refused}"
                        );
                    if (what is not null && !AuditLog.Acts.Contains(what))
                        throw ProblemException.Field(
                            "what",
                            $"'{Typed.Short(what)}' is not an act of the audit list",
                            string.Join(", ", AuditLog.Acts)
                        );
                    var (first, last) = (Days.Day("from", from), Days.Day("to", to));
                    var take = Math.Clamp(most ?? 100, 1, 500);
                    await using var context = databases.Open();
                    var rows = context.Audit.AsNoTracking().AsQueryable();
                    if (who is not null)
                        rows = rows.Where(a => a.Who == who);
                    if (what is not null)
                        rows = rows.Where(a => a.What == what);
                    if (outcome is not null)
                        rows = rows.Where(a => a.Outcome == outcome);
                    if (first is { } begin && Midnight(begin) is var since)
                        rows = rows.Where(a => string.Compare(a.At, since) >= 0);
                    if (last is { } end && Midnight(end.AddDays(1)) is var until)
                        rows = rows.Where(a => string.Compare(a.At, until) < 0);
                    if (before is { } number)
                        rows = rows.Where(a => a.Id < number);
                    var found = await rows.OrderByDescending(a => a.Id).Take(take + 1).ToListAsync(ct);
                    return new Page<AuditLine>(
                        [
                            .. found
                                .Take(take)
                                .Select(a => new AuditLine(
                                    Days.Moment(a.At),
                                    a.Who,
                                    a.What,
                                    a.About,
                                    a.Outcome,
                                    a.From
                                )),
                        ],
                        found.Count > take ? found[take - 1].Id.ToString(CultureInfo.InvariantCulture) : null
                    );
                }
            )
            .For(Role.Lead)
            .WithName("audit")
            .WithSummary(
                "Sign-ins, refusals, exports, backups and keys shown, with the address that asked, newest first; "
                    + "cursor is given back as before"
            )
            .Refuses(422);

    private static string Midnight(DateOnly day) =>
        new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).ToString(
            "O",
            CultureInfo.InvariantCulture
        );
}
