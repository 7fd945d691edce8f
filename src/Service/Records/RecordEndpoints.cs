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
            var of = new Kind(
                plural,
                kind,
                Say.Capital(kind.ToString().ToLowerInvariant()),
                kind == RecordKind.Person ? Role.Lead : Role.Reader,
                RecordWork.Writes(kind)
            );
            OpenForm(api, of);
            EmptyForm(api, of);
            Add(api, of);
            Write(api, of);
            Retire(api, of);
            if (kind != RecordKind.Tunnel)
                History(api, of);
            Versions(api, of);
        }

        CopyTunnel(api);
        ListRecords(api);
    }

    /// <summary>
    /// A kind of record at the interface: its path, its name in operations, and who may read and write it.
    /// </summary>
    private sealed record Kind(string Plural, RecordKind Record, string Name, Role Reads, Role Writes);

    private static void OpenForm(RouteGroupBuilder api, Kind of) =>
        api.MapGet(
                $"/{of.Plural}/{{code}}/form",
                async (string code, string? asOf, RecordWork work, HttpContext http, CancellationToken ct) =>
                {
                    var form = await work.FormAsync(http.Asker(), of.Record, code, Days.Day("asOf", asOf), ct);
                    http.Response.Headers.ETag = ETags.Of(form.Version);
                    return form;
                }
            )
            .For(of.Reads)
            .WithName($"form{of.Name}")
            .WithSummary($"The written form of a {of.Record.Word()}, now or as it was on a day")
            .Refuses(404, 422);

    private static void EmptyForm(RouteGroupBuilder api, Kind of) =>
        api.MapGet($"/forms/{of.Plural}", () => RecordWork.Empty(of.Record))
            .For(of.Reads)
            .WithName($"empty{of.Name}")
            .WithSummary($"What the form of a {of.Record.Word()} asks for");

    private static void Add(RouteGroupBuilder api, Kind of) =>
        api.MapPost(
                $"/{of.Plural}",
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
                        of.Record,
                        null,
                        null,
                        given,
                        dryRun ?? false,
                        ct
                    )
            )
            .For(of.Writes)
            .Takes(Bounds.Record)
            .WithName($"add{of.Name}")
            .WithSummary($"Add a {of.Record.Word()}; dryRun shows what would be derived and found")
            .Refuses(422);

    private static void Write(RouteGroupBuilder api, Kind of) =>
        api.MapPut(
                $"/{of.Plural}/{{code}}",
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
                        of.Record,
                        code,
                        ETags.Required(http),
                        given,
                        dryRun ?? false,
                        ct
                    )
            )
            .For(of.Writes)
            .Takes(Bounds.Record)
            .WithName($"write{of.Name}")
            .WithSummary(
                $"Edit or correct a {of.Record.Word()}; dryRun shows what differs and which findings come and go"
            )
            .Refuses(404, 412, 422, 428);

    private static void Retire(RouteGroupBuilder api, Kind of) =>
        api.MapPost(
                $"/{of.Plural}/{{code}}/retire",
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
                        of.Record,
                        code,
                        ETags.Required(http),
                        given.Reason,
                        dryRun ?? false,
                        ct
                    )
            )
            .For(of.Writes)
            .WithName($"retire{of.Name}")
            .WithSummary($"Retire a {of.Record.Word()}; refused while another record refers to it")
            .Refuses(404, 409, 412, 422, 428);

    private static void History(RouteGroupBuilder api, Kind of) =>
        api.MapGet(
                $"/{of.Plural}/{{code}}/history",
                async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    var kept = await Find.RecordAsync<IRecord>(new(context), http.Asker().Scope, of.Record, code, ct);
                    return await RecordHistory.OfAsync(context, kept.Record.Id, http.Asker().Scope, ct);
                }
            )
            .For(of.Reads)
            .WithName($"history{of.Name}")
            .WithSummary("Who changed what, when, with which reason, newest first")
            .Refuses(404);

    private static void Versions(RouteGroupBuilder api, Kind of) =>
        api.MapGet(
                $"/{of.Plural}/{{code}}/versions",
                async (string code, int from, int to, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    await using var context = databases.Open();
                    var kept = await Find.RecordAsync<IRecord>(new(context), http.Asker().Scope, of.Record, code, ct);
                    var history = await new HistoryList(context).HistoryAsync(http.Asker().Scope, kept.Record.Id, ct);
                    StoredVersion Version(string field, int n) =>
                        history.FirstOrDefault(h => h.Version == n)
                        ?? throw ProblemException.Field(
                            field,
                            $"{kept.Record.Code} has no version {n}",
                            $"{history.Min(h => h.Version)} to {history.Max(h => h.Version)}"
                        );
                    var (x, y) = (Version("from", from), Version("to", to));
                    return new VersionsCompared(
                        of.Record.Word(),
                        kept.Record.Code,
                        from,
                        to,
                        Days.Moment(x.Commit.At),
                        Days.Moment(y.Commit.At),
                        Differences.Between(of.Record, x.After, y.After, new StoredNames(context, Scope.Everything))
                    );
                }
            )
            .For(of.Reads)
            .WithName($"versions{of.Name}")
            .WithSummary("What differs between any two versions")
            .Refuses(404, 422);

    private static void CopyTunnel(RouteGroupBuilder api) =>
        api.MapGet(
                "/tunnels/{code}/copy",
                async (string code, string newCode, RecordWork work, HttpContext http, CancellationToken ct) =>
                    await work.CopyAsync(http.Asker(), code, newCode, ct)
            )
            .For(Role.Engineer)
            .WithName("copyTunnel")
            .WithSummary("A copy of a tunnel's form for a new tunnel; nothing is stored")
            .Refuses(404);
}
