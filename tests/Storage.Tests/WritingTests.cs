namespace Vellumkeep.Storage.Tests;

public sealed class WritingOnSqlite(DemoOnSqlite demo) : WritingTests(demo), IClassFixture<DemoOnSqlite>;

public sealed class WritingOnPostgres(DemoOnPostgres demo) : WritingTests(demo), IClassFixture<DemoOnPostgres>;

/// <summary>The writing side: conflicts, dry runs, what is checked again, and the chain.</summary>
public abstract class WritingTests(KeptDemo demo)
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private async Task<Kept<T>> NowAsync<T>(string id)
        where T : class, IRecord
    {
        await using var context = demo.Databases.Open();
        return (await new RecordReader(context).ByIdAsync<T>(Scope.Everything, id, Ct))!;
    }

    private Task PutAsync(IRecord record, int version, bool dry = false) =>
        demo.Keeper.WriteAsync(
            new("ines", KeptDemo.Noon, "edit"),
            (writing, _) =>
            {
                writing.Put(record, version);
                return Task.FromResult(true);
            },
            Ct,
            keep: !dry
        );

    private async Task<long> CommitsAsync()
    {
        await using var context = demo.Databases.Open();
        return await context.Commits.LongCountAsync(Ct);
    }

    [Fact]
    public async Task Who_writes_on_an_older_version_is_refused_and_nothing_is_written()
    {
        var site = await NowAsync<Site>(DemoInventory.All.All.OfType<Site>().First().Id);
        await PutAsync(site.Record with { Notes = "first" }, site.Version);
        var commits = await CommitsAsync();
        var refused = await Should.ThrowAsync<ConflictException>(() =>
            PutAsync(site.Record with { Notes = "second" }, site.Version)
        );
        refused.Message.ShouldNotBeEmpty();
        (await NowAsync<Site>(site.Record.Id)).Record.Notes.ShouldBe("first");
        (await CommitsAsync()).ShouldBe(commits);
    }

    [Fact]
    public async Task A_dry_run_leaves_no_trace()
    {
        var tunnel = await NowAsync<Tunnel>(DemoInventory.Tunnel("BRI-ASHLOW").Id);
        var commits = await CommitsAsync();
        await PutAsync(tunnel.Record with { Notes = "tried" }, tunnel.Version, dry: true);
        var after = await NowAsync<Tunnel>(tunnel.Record.Id);
        (after.Version, after.Record.Notes).ShouldBe((tunnel.Version, tunnel.Record.Notes));
        (await CommitsAsync()).ShouldBe(commits);
    }

    [Fact]
    public async Task Findings_follow_the_record_that_a_tunnel_rests_on_and_come_back_with_it()
    {
        var tunnel = DemoInventory.Tunnel("BRI-DEPOT");
        var gateway = await NowAsync<Gateway>(tunnel.B.GatewayId);
        async Task<(string, string)[]> FindingsAsync()
        {
            await using var context = demo.Databases.Open();
            var kept = await new FindingList(context).OfTunnelAsync(Scope.Everything, tunnel.Id, Ct);
            return [.. kept.Select(k => (k.Finding.Code, k.Finding.Digest))];
        }

        var before = await FindingsAsync();
        var changed = gateway.Record.Uplinks[0] with
        {
            Address = Recorded<UplinkAddress>.Known(new(Address.Parse("203.0.113.250").Value, null)),
            Nat = null,
        };
        await PutAsync(gateway.Record with { Uplinks = gateway.Record.Uplinks.SetItem(0, changed) }, gateway.Version);
        (await FindingsAsync()).Select(f => f.Item1).ShouldContain("PAIR-08");
        await PutAsync(gateway.Record, gateway.Version + 1);
        (await FindingsAsync()).ShouldBe(before);
    }

    [Fact]
    public async Task After_a_release_with_other_checks_every_tunnel_is_checked_again_and_once()
    {
        await demo.Keeper.RecheckDueAsync(KeptDemo.Noon, Ct);
        (await demo.Keeper.RecheckDueAsync(KeptDemo.Noon, Ct)).ShouldBe(0);
        int all;
        await using (var context = demo.Databases.Open())
        {
            all = await context.Tunnels.CountAsync(Ct);
            await context.Tunnels.ExecuteUpdateAsync(s => s.SetProperty(t => t.CheckedBy, Checks.Version - 1), Ct);
            await context.Findings.Where(f => f.Code == "PAIR-06").ExecuteDeleteAsync(Ct);
        }

        var commits = await CommitsAsync();
        (await demo.Keeper.RecheckDueAsync(KeptDemo.Noon, Ct)).ShouldBe(all);
        await using (var context = demo.Databases.Open())
        {
            (await context.Tunnels.AllAsync(t => t.CheckedBy == Checks.Version, Ct)).ShouldBeTrue();
            (await context.Findings.AnyAsync(f => f.Code == "PAIR-06", Ct)).ShouldBeTrue();
        }

        // Nothing of a record is written by it.
        (await CommitsAsync()).ShouldBe(commits);
        (await demo.Keeper.RecheckDueAsync(KeptDemo.Noon, Ct)).ShouldBe(0);
    }

    [Fact]
    public async Task The_chain_holds_over_everything_that_was_written()
    {
        await using var context = demo.Databases.Open();
        var seen = await Verification.RunAsync(demo.Databases, Ct);
        seen.Broken.ShouldBeNull();
        seen.Differs.ShouldBeEmpty();
        seen.Commits.ShouldBe(await context.Commits.LongCountAsync(Ct));
    }
}
