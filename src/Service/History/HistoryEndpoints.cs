namespace Vellumkeep.Service.History;

/// <summary>Who did what, by person, customer and day; and whether the chain holds.</summary>
public static class HistoryEndpoints
{
    public static void MapHistory(this RouteGroupBuilder api)
    {
        History(api);
        VerifyHistory(api);
    }

    private static void History(RouteGroupBuilder api) =>
        api.MapGet(
                "/history",
                async (
                    string? who,
                    string? customer,
                    string? kind,
                    string? from,
                    string? to,
                    long? before,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var owner = await Find.OwnerAsync(reader, scope, customer, ct);
                    RecordKind? of =
                        kind is null ? null
                        : Enum.TryParse<RecordKind>(kind, true, out var k) && !int.TryParse(kind, out _) ? k
                        : throw ProblemException.Field(
                            "kind",
                            $"'{Typed.Short(kind)}' is not a kind of record",
                            string.Join(", ", Enum.GetNames<RecordKind>().Select(n => n.ToLowerInvariant()))
                        );
                    var (items, cursor) = await new HistoryList(context).CommitsAsync(
                        scope,
                        new(who, owner, of, Days.Day("from", from), Days.Day("to", to)),
                        before,
                        Math.Clamp(most ?? 60, 1, 500),
                        ct
                    );
                    var names = new StoredNames(context, Scope.Everything);
                    return new Page<CommitLine>(
                        [
                            .. items.Select(c => new CommitLine
                            {
                                Number = c.Commit.Number,
                                At = Days.Moment(c.Commit.At),
                                Who = c.Commit.Who,
                                What = c.Commit.Act,
                                Reason = c.Whole ? c.Commit.Reason : null,
                                Change =
                                    c.Commit.ChangeId is { } change && c.Whole
                                        ? names.TextOf(RecordKind.Change, change)
                                        : null,
                                Records =
                                [
                                    .. c.Records.Select(r => new CommitRecordLine(r.Kind.Word(), r.Code, r.Version)),
                                ],
                                Wrote = c.Wrote,
                                Digest = c.Commit.Digest,
                            }),
                        ],
                        cursor?.ToString(CultureInfo.InvariantCulture)
                    );
                }
            )
            .For(Role.Reader)
            .WithName("history")
            .WithSummary("Who did what, newest first; cursor is given back as before")
            .Refuses(404, 422);

    private static void VerifyHistory(RouteGroupBuilder api) =>
        api.MapGet("/history/verified", async (Databases databases, CancellationToken ct) =>
            {
                var found = await Verification.RunAsync(databases, ct);
                await using var context = databases.Open();
                return new Contract.Verified(
                    found.Commits,
                    found.Broken,
                    (
                        await context.Commits.AsNoTracking().OrderByDescending(c => c.Number).FirstOrDefaultAsync(ct)
                    )?.Digest
                        ?? "",
                    found.Differs
                );
            })
            .For(Role.Lead)
            .WithName("verifyHistory")
            .WithSummary(
                "Verifies the whole chain: computes every digest again and compares current records, grants and people with it"
            );
}
