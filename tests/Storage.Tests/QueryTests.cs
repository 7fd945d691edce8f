namespace Vellumkeep.Storage.Tests;

public sealed class QueriesOnSqlite(DemoOnSqlite demo) : QueryTests(demo), IClassFixture<DemoOnSqlite>;

public sealed class QueriesOnPostgres(DemoOnPostgres demo) : QueryTests(demo), IClassFixture<DemoOnPostgres>;

/// <summary>
/// Every list against a plain walk over the records: what each asker sees, filter by filter, page by page, and the
/// numbers that the database counts.
/// </summary>
public abstract partial class QueryTests(KeptDemo demo)
{
    private static readonly Inventory All = DemoInventory.All;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static readonly Lazy<Dictionary<string, Finding[]>> Found = new(() =>
        All.Tunnels.ToDictionary(
            t => t.Id,
            t => Checks.Run(DemoInventory.Checked(t)).DistinctBy(f => (f.Code, f.Subject)).ToArray()
        )
    );

    /// <summary>Everybody's view: all, one customer, two of them, and one who sees nobody's.</summary>
    public static TheoryData<string> Askers() => ["all", "SAL", "BRI", "BRI TID", "QUI", "nobody"];

    private static Scope ScopeOf(string asker) =>
        asker switch
        {
            "all" => Scope.Everything,
            "nobody" => Scope.Of([]),
            _ => Scope.Of(asker.Split(' ').Select(CustomerId)),
        };

    private static string CustomerId(string code) => All.ByCode<Customer>(code)!.Id;

    private static Tunnel[] Visible(Scope scope) =>
        [
            .. All
                .Tunnels.Where(t => scope.Sees(t.CustomerId))
                .OrderBy(t => t.Code.ToUpperInvariant(), StringComparer.Ordinal),
        ];

    private static int Worst(Tunnel tunnel) =>
        Found
            .Value[tunnel.Id]
            .Where(f => f.Accepted is null || f.Severity == Severity.Blocks)
            .Select(f => (int)f.Severity)
            .DefaultIfEmpty(4)
            .Min();

    /// <summary>All pages of a list, each after the last of the one before, and no page longer than asked.</summary>
    private static async Task<List<T>> PagesAsync<T>(
        int most,
        Func<string?, Task<(IReadOnlyList<T> Items, string? Cursor)>> read
    )
    {
        var all = new List<T>();
        string? cursor = null;
        do
        {
            (var items, cursor) = await read(cursor);
            items.Count.ShouldBeLessThanOrEqualTo(most);
            if (cursor is not null)
                items.Count.ShouldBe(most, "only the last page is short");
            all.AddRange(items);
        } while (cursor is not null);

        return all;
    }

    public static TheoryData<string, int> AskersAndPages()
    {
        var data = new TheoryData<string, int>();
        foreach (var asker in Askers().Select(a => a.Data))
        foreach (var most in new[] { 1, 7, 500 })
            data.Add(asker, most);
        return data;
    }

    [Theory]
    [MemberData(nameof(AskersAndPages))]
    public async Task Tunnels_come_in_pages_to_whoever_may_see_them(string asker, int most)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        var nothing = new TunnelFilter(null, null, null, null, null);
        var listed = await PagesAsync(most, after =>
            new TunnelList(context).TunnelsAsync(scope, nothing, after, most, Ct)
        );
        listed
            .Select(t => (t.Code, t.Name, t.CustomerId, t.State, t.Worst))
            .ShouldBe(Visible(scope).Select(t => (t.Code, t.Name, t.CustomerId, WordsOf.States.Of(t.State), Worst(t))));
    }

    [Theory]
    [MemberData(nameof(Askers))]
    public async Task Tunnels_are_narrowed_by_customer_state_check_and_severity(string asker)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        async Task Narrowed(TunnelFilter filter, Func<Tunnel, bool> wanted)
        {
            var listed = await PagesAsync(5, after =>
                new TunnelList(context).TunnelsAsync(scope, filter, after, 5, Ct)
            );
            listed.Select(t => t.Code).ShouldBe(Visible(scope).Where(wanted).Select(t => t.Code), filter.ToString());
        }

        var none = new TunnelFilter(null, null, null, null, null);
        foreach (var owner in new[] { CustomerId("BRI"), CustomerId("SAL"), "nobody" })
            await Narrowed(none with { OwnerId = owner }, t => t.CustomerId == owner);
        foreach (var state in Enum.GetValues<TunnelState>())
            await Narrowed(none with { State = WordsOf.States.Of(state) }, t => t.State == state);
        foreach (var check in Checks.All)
            await Narrowed(none with { FindingCode = check.Code.ToLowerInvariant() }, t =>
                Found.Value[t.Id].Any(f => f.Code == check.Code)
            );
        foreach (var severity in Enum.GetValues<Severity>())
            await Narrowed(none with { OwnerId = CustomerId("SAL"), Severity = Severities.Words.Of(severity) }, t =>
                t.CustomerId == CustomerId("SAL") && Found.Value[t.Id].Any(f => f.Severity == severity)
            );
    }

    [Theory]
    [MemberData(nameof(Askers))]
    public async Task Findings_are_those_of_the_checks_worst_first_and_none_of_a_strangers_tunnel(string asker)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        var list = new FindingList(context);
        (string, string, string)[] Wanted(Func<Tunnel, Finding, bool> which) =>
            [
                .. Visible(scope)
                    .SelectMany(t => Found.Value[t.Id].Select(f => (t, f)))
                    .Where(x => which(x.t, x.f))
                    .OrderBy(x => x.f.Severity)
                    .ThenBy(x => x.t.Code.ToUpperInvariant(), StringComparer.Ordinal)
                    .ThenBy(x => x.f.Code, StringComparer.Ordinal)
                    .ThenBy(x => x.f.Subject, StringComparer.Ordinal)
                    .Select(x => (x.t.Code, x.f.Code, x.f.Subject)),
            ];
        async Task Are(
            (string, string, string)[] wanted,
            string? owner = null,
            string? code = null,
            string? severity = null,
            string? gateway = null
        )
        {
            var found = new List<StoredFinding>();
            while (true)
            {
                var page = await list.FindingsAsync(scope, null, owner, code, severity, 40, Ct, gateway, found.Count);
                found.AddRange(page);
                if (page.Count < 40)
                    break;
            }

            found.Select(f => (f.TunnelCode, f.Finding.Code, f.Finding.Subject)).ShouldBe(wanted);
            found.ShouldAllBe(f => f.Since == KeptDemo.Noon);
        }

        await Are(Wanted((_, _) => true));
        await Are(Wanted((t, _) => t.CustomerId == CustomerId("BRI")), owner: CustomerId("BRI"));
        await Are(Wanted((_, f) => f.Code == "PAIR-06"), code: "pair-06");
        await Are(Wanted((_, f) => f.Severity == Severity.Blocks), severity: "blocks");
        var hub = All.ByCode<Gateway>("keel-gw1")!.Id;
        await Are(Wanted((t, _) => t.A.GatewayId == hub || t.B.GatewayId == hub), gateway: hub);
    }

    [Fact]
    public async Task A_tunnels_findings_are_kept_as_the_checks_gave_them()
    {
        await using var context = demo.Databases.Open();
        foreach (var tunnel in All.Tunnels)
        {
            var kept = await new FindingList(context).OfTunnelAsync(Scope.Everything, tunnel.Id, Ct);
            kept.Select(k => (k.Finding.Code, k.Finding.Subject, k.Finding.Digest, k.Finding.What.ToString()))
                .ShouldBe(
                    Found.Value[tunnel.Id].Select(f => (f.Code, f.Subject, f.Digest, f.What.ToString())),
                    tunnel.Code
                );
        }
    }

    [Theory]
    [MemberData(nameof(Askers))]
    public async Task How_tunnels_stand_together_is_counted_from_those_that_may_be_seen(string asker)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        var list = new TunnelList(context);
        foreach (var gateway in All.All.OfType<Gateway>())
        {
            var there = Visible(scope)
                .Where(t =>
                    t.State != TunnelState.Retired && (t.A.GatewayId == gateway.Id || t.B.GatewayId == gateway.Id)
                )
                .ToArray();
            var standing = await list.StandingAsync(scope, [gateway.Id], ["a", "b"], Ct);
            int At(int worst) => there.Count(t => Worst(t) == worst);
            (standing.Blocked, standing.Degraded, standing.AtRisk, standing.Sound).ShouldBe(
                (At(0), At(1), At(2), At(3) + At(4)),
                gateway.Code
            );
            standing.All.ShouldBe(there.Length, gateway.Code);
            var blocked = there.Where(t => Worst(t) == 0).ToArray();
            standing.Worst.Select(t => t.Code).ShouldBe(blocked.Take(2).Select(t => t.Code), gateway.Code);
            var often = blocked
                .SelectMany(t =>
                    Found.Value[t.Id].Where(f => f.Severity == Severity.Blocks).Select(f => f.Code).Distinct()
                )
                .GroupBy(c => c)
                .OrderByDescending(g => g.Count())
                .ThenBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => new BlockedBy(g.Key, g.Count()))
                .FirstOrDefault();
            standing.Often.ShouldBe(often, gateway.Code);
            var (named, inAll) = await list.TunnelsOfAsync(scope, [gateway.Id], ["a", "b"], Ct);
            inAll.ShouldBe(named.Count);
            named.Count(t => t.State != "retired").ShouldBe(there.Length, gateway.Code);
        }

        var counts = await list.CountsAsync(scope, Ct);
        counts.Tunnels.ShouldBe(Visible(scope).Length);
        counts.Blocked.ShouldBe(Visible(scope).Count(t => Worst(t) == 0));
        counts.Risks.ShouldBe(Visible(scope).Sum(t => Found.Value[t.Id].Count(f => f.Severity == Severity.Risk)));
    }

    [Theory]
    [MemberData(nameof(AskersAndPages))]
    public async Task Changes_come_newest_first_and_no_page_loses_what_one_commit_wrote(string asker, int most)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        async Task<List<Change>> ListedAsync(ChangeState[]? states, string? tunnelId)
        {
            var all = new List<Change>();
            (long, string)? after = null;
            while (true)
            {
                var page = await new ChangeList(context).ChangesAsync(scope, states, tunnelId, most, Ct, after);
                all.AddRange(page.Select(c => c.Record));
                if (page.Count < most)
                    return all;
                after = (page[^1].CommitNumber, page[^1].Record.Id);
            }
        }

        Change[] Wanted(Func<Change, bool> which) =>
            [
                .. demo
                    .Changes.Select((c, i) => (c, Commit: i / 2))
                    .OrderByDescending(x => x.Commit)
                    .ThenBy(x => x.c.Id, StringComparer.Ordinal)
                    .Select(x => x.c)
                    .Where(c => scope.Sees(c.CustomerId) && which(c)),
            ];
        (await ListedAsync(null, null)).Select(c => c.Code).ShouldBe(Wanted(_ => true).Select(c => c.Code));
        foreach (var state in Enum.GetValues<ChangeState>())
            (await ListedAsync([state], null))
                .Select(c => c.Code)
                .ShouldBe(Wanted(c => c.State == state).Select(c => c.Code), $"{state}");
        foreach (var tunnel in Visible(Scope.Everything).Take(4))
            (await ListedAsync(null, tunnel.Id))
                .Select(c => c.Code)
                .ShouldBe(Wanted(c => c.Request.Tunnels.Contains(tunnel.Id)).Select(c => c.Code), tunnel.Code);
    }

    [Theory]
    [MemberData(nameof(Askers))]
    public async Task Open_changes_are_found_by_what_they_are_about(string asker)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        foreach (var tunnel in Visible(Scope.Everything))
            (await new ChangeList(context).OpenChangesAsync(scope, [tunnel.Id], Ct))
                .Select(c => c.Code)
                .ShouldBe(
                    demo.Changes.Where(c => c.Open && scope.Sees(c.CustomerId) && c.Request.Tunnels.Contains(tunnel.Id))
                        .Select(c => c.Code)
                        .Order(StringComparer.OrdinalIgnoreCase),
                    tunnel.Code
                );
    }
}
