namespace Vellumkeep.Service.Choices;

/// <summary>What a field can be filled with, so that nobody types a code from memory.</summary>
public static class ChoiceEndpoints
{
    private const int MostChoices = 50;

    public static void MapChoices(this RouteGroupBuilder api)
    {
        RecordChoices(api);
        TunnelChoices(api);
        ReadPrefixes(api);
    }

    private static void ReadPrefixes(RouteGroupBuilder api) =>
        api.MapGet("/choices/prefixes/read", (string text) => new PrefixesRead([.. Read(text)]))
            .For(Role.Reader)
            .WithName("readPrefixes")
            .WithSummary(
                "Prefixes as they are typed or pasted, with any separator: each as it is read, or what is wrong"
            )
            .Refuses(422);

    private static IEnumerable<PrefixRead> Read(string text)
    {
        var words = text.Split([' ', ',', ';', '|', '\n', '\t', '\r'], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length > 500)
            throw ProblemException.Field("text", $"it has {words.Length} prefixes", "at most 500");
        var before = new List<Prefix>();
        foreach (var word in words)
        {
            var read = Prefix.Parse(word);
            var clash = read.Ok ? before.Where(p => p.Overlaps(read.Value)).Select(p => p.ToString()).ToArray() : [];
            yield return new(Typed.Short(word), read.Ok ? read.Value.ToString() : null, read.Wrong, read.Right, clash);
            if (read.Ok)
                before.Add(read.Value);
        }
    }

    private static void RecordChoices(RouteGroupBuilder api) =>
        api.MapGet(
                "/choices/{kind}",
                async (
                    string kind,
                    string? q,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var of = RecordPaths.Kinds.FirstOrDefault(k => k.Plural == kind) is { Plural: not null } known
                        ? known.Kind
                        : throw ProblemException.Field(
                            "kind",
                            $"'{Typed.Short(kind)}' is not a kind of record",
                            string.Join(", ", RecordPaths.Kinds.Select(k => k.Plural))
                        );
                    var text = Typed.Trim(q ?? "");
                    if (text.Length > 200)
                        throw ProblemException.Field(
                            "q",
                            "it is longer than 200 characters",
                            "a code, name or address"
                        );
                    await using var context = databases.Open();
                    return new ChoicesPage([
                        .. (
                            await new ChoiceList(context).ChoicesAsync(
                                http.Asker().Scope,
                                of,
                                text,
                                Math.Clamp(most ?? 20, 1, MostChoices),
                                ct
                            )
                        ).Select(c => new ChoiceLine(c.Code, c.Name, c.Detail)),
                    ]);
                }
            )
            .For(Role.Reader)
            .WithName("choices")
            .WithSummary("Records of a kind that a text finds by code, name or address; retired ones are left out")
            .Refuses(422);

    private static void TunnelChoices(RouteGroupBuilder api) =>
        api.MapGet(
                "/tunnels/{code}/choices",
                async (string code, Databases databases, HttpContext http, CancellationToken ct) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var tunnel = (await Find.RecordAsync<Tunnel>(reader, scope, RecordKind.Tunnel, code, ct)).Record;
                    return new TunnelChoicesPage(
                        await EndAsync(context, reader, scope, tunnel, EndName.A, ct),
                        await EndAsync(context, reader, scope, tunnel, EndName.B, ct)
                    );
                }
            )
            .For(Role.Reader)
            .WithName("tunnelChoices")
            .WithSummary(
                "What a change of a tunnel can name at each end: the site's networks, its clock, tunnels beside it"
            )
            .Refuses(404);

    private static async Task<EndChoices> EndAsync(
        KeepContext context,
        RecordReader reader,
        Scope scope,
        Tunnel tunnel,
        EndName end,
        CancellationToken ct
    )
    {
        var at = tunnel.End(end);
        var gateway = (await reader.ByIdAsync<Gateway>(Scope.Everything, at.GatewayId, ct))!.Record;
        var site = (await reader.ByIdAsync<Site>(Scope.Everything, gateway.SiteId, ct))!.Record;
        var visible = await reader.ByIdAsync<Site>(scope, site.Id, ct) is not null;
        var wanted = tunnel.Agreed.Pairs.Select(p => end == EndName.A ? p.A : p.B).ToHashSet();
        var gateways = await new GatewayList(context).GatewaysOfSiteAsync(scope, site.Id, ct);
        var (beside, _) = await TunnelSummaries.ReferringAsync(
            context,
            scope,
            [.. gateways.Select(g => g.Id)],
            ["a", "b"],
            ct
        );
        return new EndChoices
        {
            Site = site.Name,
            TimeZone = site.TimeZone,
            Networks = visible ? [.. site.Networks.Select(n => NetworkOf(n, wanted))] : [],
            Beside =
            [
                .. beside
                    .Where(t => t.Code != tunnel.Code && t.State != "retired")
                    .Select(t => new ChoiceLine(t.Code, t.Name, t.State)),
            ],
        };
    }

    private static NetworkChoice NetworkOf(Network network, HashSet<Prefix> wanted)
    {
        var inside = network.AsPresented;
        return new(inside.ToString(), network.Name, wanted.Any(w => w.Overlaps(inside)));
    }
}
