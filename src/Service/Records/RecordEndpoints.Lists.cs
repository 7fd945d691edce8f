namespace Vellumkeep.Service.Records;

/// <summary>Records of each kind in lists.</summary>
public static partial class RecordEndpoints
{
    private static void ListRecords(RouteGroupBuilder api) =>
        api.MapGet(
                "/records/{kind}",
                async (
                    string kind,
                    string? customer,
                    string? asOf,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                    await ListAsync(
                        databases,
                        http,
                        RecordPaths.Kinds.FirstOrDefault(k => k.Plural == kind) is { Plural: not null } known
                            ? known.Kind
                            : throw ProblemException.Field(
                                "kind",
                                $"'{Typed.Short(kind)}' is not a kind of record",
                                string.Join(", ", RecordPaths.Kinds.Select(k => k.Plural))
                            ),
                        customer,
                        null,
                        asOf,
                        cursor,
                        most,
                        ct
                    )
            )
            .For(Role.Reader)
            .WithName("listRecords")
            .WithSummary("Records of a kind by code, now or as they were on a day, retired ones among them")
            .Refuses(404, 422);

    internal static async Task<Page<RecordLine>> ListAsync(
        Databases databases,
        HttpContext http,
        RecordKind kind,
        string? customer,
        string? text,
        string? asOf,
        string? cursor,
        int? most,
        CancellationToken ct
    )
    {
        if (text is not null && asOf is not null)
            throw ProblemException.Field("q", "a past day is not searched by words", "q without asOf");
        await using var context = databases.Open();
        var scope = http.Asker().Scope;
        var owner = await Find.OwnerAsync(new(context), scope, customer, ct);
        return await Paging.ByCodeAsync(
            http,
            most,
            async n =>
                await new RecordList(context).RecordsAsync(
                    scope,
                    kind,
                    owner,
                    text,
                    Days.Day("asOf", asOf),
                    cursor,
                    n,
                    ct
                ),
            r => r.Code,
            r => new RecordLine(kind.Word(), r.Code, r.Name, r.State, r.Version),
            5000
        );
    }
}
