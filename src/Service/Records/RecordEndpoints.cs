using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Records;

/// <summary>
/// The same five calls for every kind of record: its form, a new one, an edited one, taking it out of use, and its
/// history.
/// </summary>
public static partial class RecordEndpoints
{
    /// <summary>The kinds by the plural noun they stand under.</summary>
    public static void MapRecords(this RouteGroupBuilder api)
    {
        foreach (var (plural, kind) in RecordPaths.Kinds)
        {
            var (name, reads, writes) = (
                Say.Capital(kind.ToString().ToLowerInvariant()),
                kind == RecordKind.Person ? Role.Lead : Role.Reader,
                RecordWork.Writes(kind)
            );
            api.MapGet(
                    $"/{plural}/{{code}}/form",
                    async (string code, string? asOf, RecordWork work, HttpContext http, CancellationToken ct) =>
                    {
                        var form = await work.FormAsync(http.Asker(), kind, code, Days.Day("asOf", asOf), ct);
                        http.Response.Headers.ETag = ETags.Of(form.Version);
                        return form;
                    }
                )
                .For(reads)
                .WithName($"form{name}")
                .WithSummary($"The written form of a {kind.Word()}, now or as it was on a day")
                .ProducesProblem(404)
                .ProducesProblem(422);

            api.MapGet($"/forms/{plural}", () => RecordWork.Empty(kind))
                .For(reads)
                .WithName($"empty{name}")
                .WithSummary($"What the form of a {kind.Word()} asks for");

            api.MapPost(
                    $"/{plural}",
                    async (
                        WriteRecord given,
                        bool? dryRun,
                        RecordWork work,
                        TimeProvider clock,
                        HttpContext http,
                        CancellationToken ct
                    ) =>
                        await work.WriteAsync(
                            http.Asker(),
                            clock.GetUtcNow(),
                            kind,
                            null,
                            null,
                            given,
                            dryRun ?? false,
                            ct
                        )
                )
                .For(writes)
                .Takes(Bounds.Record)
                .WithName($"add{name}")
                .WithSummary($"Add a {kind.Word()}; dryRun shows what would be derived and found")
                .ProducesProblem(422);

            api.MapPut(
                    $"/{plural}/{{code}}",
                    async (
                        string code,
                        WriteRecord given,
                        bool? dryRun,
                        RecordWork work,
                        TimeProvider clock,
                        HttpContext http,
                        CancellationToken ct
                    ) =>
                        await work.WriteAsync(
                            http.Asker(),
                            clock.GetUtcNow(),
                            kind,
                            code,
                            ETags.Required(http),
                            given,
                            dryRun ?? false,
                            ct
                        )
                )
                .For(writes)
                .Takes(Bounds.Record)
                .WithName($"write{name}")
                .WithSummary(
                    $"Edit or correct a {kind.Word()}; dryRun shows what differs and which findings come and go"
                )
                .ProducesProblem(404)
                .ProducesProblem(412)
                .ProducesProblem(422)
                .ProducesProblem(428);

            api.MapPost(
                    $"/{plural}/{{code}}/retire",
                    async (
                        string code,
                        RetireRecord given,
                        bool? dryRun,
                        RecordWork work,
                        TimeProvider clock,
                        HttpContext http,
                        CancellationToken ct
                    ) =>
                        await work.RetireAsync(
                            http.Asker(),
                            clock.GetUtcNow(),
                            kind,
                            code,
                            ETags.Required(http),
                            given.Reason,
                            dryRun ?? false,
                            ct
                        )
                )
                .For(writes)
                .WithName($"retire{name}")
                .WithSummary($"Retire a {kind.Word()}; refused while another record refers to it")
                .ProducesProblem(404)
                .ProducesProblem(409)
                .ProducesProblem(412)
                .ProducesProblem(422)
                .ProducesProblem(428);

            if (kind != RecordKind.Tunnel)
                api.MapGet(
                        $"/{plural}/{{code}}/history",
                        async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                        {
                            await using var context = databases.Open();
                            var kept = await Find.RecordAsync<IRecord>(
                                new(context),
                                http.Asker().Scope,
                                kind,
                                code,
                                ct
                            );
                            return await RecordHistory.OfAsync(context, kept.Record.Id, http.Asker().Scope, ct);
                        }
                    )
                    .For(reads)
                    .WithName($"history{name}")
                    .WithSummary("Who changed what, when, with which reason, newest first")
                    .ProducesProblem(404);

            api.MapGet(
                    $"/{plural}/{{code}}/versions",
                    async (
                        string code,
                        int from,
                        int to,
                        Databases databases,
                        HttpContext http,
                        CancellationToken ct
                    ) =>
                    {
                        await using var context = databases.Open();
                        var kept = await Find.RecordAsync<IRecord>(new(context), http.Asker().Scope, kind, code, ct);
                        var history = await new HistoryList(context).HistoryAsync(
                            http.Asker().Scope,
                            kept.Record.Id,
                            ct
                        );
                        StoredVersion Version(string field, int n) =>
                            history.FirstOrDefault(h => h.Version == n)
                            ?? throw ProblemException.Field(
                                field,
                                $"{kept.Record.Code} has no version {n}",
                                $"{history.Min(h => h.Version)} to {history.Max(h => h.Version)}"
                            );
                        var (x, y) = (Version("from", from), Version("to", to));
                        return new VersionsCompared(
                            kind.Word(),
                            kept.Record.Code,
                            from,
                            to,
                            Days.Moment(x.Commit.At),
                            Days.Moment(y.Commit.At),
                            Differences.Between(kind, x.After, y.After, new StoredNames(context, Scope.Everything))
                        );
                    }
                )
                .For(reads)
                .WithName($"versions{name}")
                .WithSummary("What differs between any two versions")
                .ProducesProblem(404)
                .ProducesProblem(422);
        }
        CopyTunnel(api);
        ListSites(api);
        ListOffers(api);
        ListRecords(api);
    }

    private static void CopyTunnel(RouteGroupBuilder api) =>
        api.MapGet(
                "/tunnels/{code}/copy",
                async (string code, string newCode, RecordWork work, HttpContext http, CancellationToken ct) =>
                    await work.CopyAsync(http.Asker(), code, newCode, ct)
            )
            .For(Role.Engineer)
            .WithName("copyTunnel")
            .WithSummary("A copy of a tunnel's form for a new tunnel; nothing is stored")
            .ProducesProblem(404);
}
