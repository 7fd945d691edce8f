using Vellumkeep.Core.Resolution;
using Vellumkeep.Storage.Bodies;

namespace Vellumkeep.Storage.Tests;

public sealed class WalkOnSqlite(DemoOnSqlite demo) : WalkTests(demo), IClassFixture<DemoOnSqlite>;

public sealed class WalkOnPostgres(DemoOnPostgres demo) : WalkTests(demo), IClassFixture<DemoOnPostgres>;

/// <summary>
/// A random walk of edits to what tunnels rest on: whatever was written, what is kept for reading is what would be
/// worked out from the records, now and on every commit before.
/// </summary>
public abstract class WalkTests(KeptDemo demo)
{
    private const int Steps = 120;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private readonly Random random = new(20261124);
    private Inventory all = DemoInventory.All;

    private T Any<T>()
        where T : class, IRecord
    {
        var some = all.All.OfType<T>().Where(r => r.Retired is null).ToArray();
        return some[random.Next(some.Length)];
    }

    [Fact]
    public async Task What_is_kept_is_what_would_be_worked_out()
    {
        var wrote = new List<(long Commit, IRecord Record)>();
        for (var step = 0; step < Steps; step++)
        {
            var record = Altered();
            var commit = (await PutAsync(record)).Commit;
            if (commit is not { } number)
                continue;
            all = all.With(record);
            wrote.Add((number, record));
            if (step % 5 == 4)
                await SameAsync();
        }

        await SameAsync();
        await PastAsync(wrote);
        var seen = await Verification.RunAsync(demo.Databases, Ct);
        (seen.Broken, seen.Differs.Count).ShouldBe((null, 0));
    }

    private Task<Wrote<bool>> PutAsync(IRecord record) =>
        demo.Keeper.WriteAsync(
            new("ines", KeptDemo.Noon, "edit"),
            (writing, _) =>
            {
                writing.Put(record);
                return Task.FromResult(true);
            },
            Ct
        );

    /// <summary>
    /// A gateway moves, a network grows, a tunnel's end is set otherwise, a platform learns or forgets.
    /// </summary>
    private IRecord Altered()
    {
        switch (random.Next(9))
        {
            case 0:
                var gateway = Any<Gateway>();
                var address = Address.Parse($"203.0.113.{random.Next(1, 250)}").Value;
                return gateway with
                {
                    Uplinks = gateway.Uplinks.SetItem(
                        0,
                        gateway.Uplinks[0] with
                        {
                            Address = Recorded<UplinkAddress>.Known(new(address, null)),
                            Nat = null,
                        }
                    ),
                };
            case 1:
                var site = Any<Site>();
                var prefix = Prefix.Parse($"10.{random.Next(200, 210)}.{random.Next(0, 256)}.0/24").Value;
                return site with
                {
                    Networks = site.Networks.Add(new(prefix, $"lan {random.Next(1000)}", null, null, [])),
                };
            case 2:
                var tunnel = Any<Tunnel>();
                var pfs = Core.Proposals.Pfs.Parse(random.Next(2) == 0 ? "refused" : "required DH 14").Value!;
                return tunnel with
                {
                    A = tunnel.A with
                    {
                        Set = tunnel.A.Set.With(Settings.Pfs, Recorded<Core.Proposals.Pfs>.Known(pfs)),
                    },
                };
            case 3:
                var platform = Any<Platform>();
                return platform with
                {
                    IkeVersions =
                        platform.IkeVersions.Length == 1 ? [IkeVersion.IKEv1, IkeVersion.IKEv2] : [IkeVersion.IKEv2],
                };
            case 4:
                // Two on one gateway that take the same address or order meet without a prefix in common.
                var inner = Any<Tunnel>();
                var taken = TunnelAddress.Parse($"198.51.100.{random.Next(1, 6)}/30").Value!;
                return inner with { B = inner.B with { TunnelAddress = Recorded<TunnelAddress>.Known(taken) } };
            case 5:
                var ordered = Any<Tunnel>();
                return ordered with { Fallback = new($"ORDER-{random.Next(3)}", random.Next(1, 4)) };
            case 6:
                var probing = Any<Tunnel>();
                var target = KeepaliveTarget.Parse($"10.62.4.{random.Next(1, 250)}").Value!;
                return probing with
                {
                    A = probing.A with
                    {
                        Set = probing.A.Set.With(Settings.Keepalive, Recorded<KeepaliveTarget>.Known(target)),
                    },
                };
            case 7:
                // A hub may be one no longer, and become one again.
                var used = Any<Tunnel>();
                return used with
                {
                    State = used.State == TunnelState.Retired ? TunnelState.InService : TunnelState.Retired,
                };
            default:
                var renamed = Any<Tunnel>();
                return renamed with { Name = $"{renamed.Name.Split(" / ")[0]} / {random.Next(1000)}" };
        }
    }

    /// <summary>Each record, each finding and each line of the list, against the records in hand.</summary>
    private async Task SameAsync()
    {
        await using var context = demo.Databases.Open();
        var reader = new RecordReader(context);
        foreach (var tunnel in all.Tunnels)
        {
            var kept = await reader.ByIdAsync<Tunnel>(Scope.Everything, tunnel.Id, Ct);
            RecordBody.Bytes(kept!.Record).ShouldBe(RecordBody.Bytes(tunnel), tunnel.Code);
            var stored = await new FindingList(context).OfTunnelAsync(Scope.Everything, tunnel.Id, Ct);
            var worked = Checks.Run(new Checked(new TunnelView(all, tunnel, DemoInventory.Today)));
            stored
                .Select(f => (f.Finding.Code, f.Finding.Subject, f.Finding.Digest))
                .ShouldBe(worked.Select(f => (f.Code, f.Subject, f.Digest)), ignoreOrder: true, tunnel.Code);
        }

        var everything = new TunnelFilter(null, null, null, null, null);
        var (listed, _) = await new TunnelList(context).TunnelsAsync(Scope.Everything, everything, null, 500, Ct);
        listed.Select(t => (t.Code, t.Name)).ShouldBe(all.Tunnels.Select(t => (t.Code, t.Name)), ignoreOrder: true);
    }

    /// <summary>On every commit the record stood as it was written then.</summary>
    private async Task PastAsync(List<(long Commit, IRecord Record)> wrote)
    {
        await using var context = demo.Databases.Open();
        foreach (var (commit, record) in wrote)
        {
            var then = await new Past(context, commit).ByCodeAsync<IRecord>(
                Scope.Everything,
                record.Kind,
                record.Code,
                Ct
            );
            RecordBody.Bytes(then!.Record).ShouldBe(RecordBody.Bytes(record), $"{record.Code} at commit {commit}");
        }
    }
}
