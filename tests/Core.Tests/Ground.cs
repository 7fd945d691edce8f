using System.Collections.Immutable;
using System.Globalization;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Fleet;
using Vellumkeep.Storage.Bodies;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Records to plan changes on, with every request that makes sense of them and its plan: the demo, a fleet from a seed,
/// or the demo's gateways with tunnels whose ends are random.
/// </summary>
internal sealed class Ground
{
    private static readonly Dictionary<string, Ground> Made = [];
    private readonly Lazy<ImmutableArray<(ChangeRequest Request, Plan Plan)>> plans;
    private readonly ImmutableArray<Tunnel> about;

    private Ground(Inventory all, IEnumerable<Tunnel> about)
    {
        All = all;
        this.about = [.. about];
        plans = new(() => [.. Requests().Select(w => (w, Planned(w).Plan)).Where(p => p.Plan is not null)!]);
    }

    public Inventory All { get; }

    public ImmutableArray<(ChangeRequest Request, Plan Plan)> Plans => plans.Value;

    /// <summary>The ground of a name: demo, fleet N, ends N.</summary>
    public static Ground Of(string name)
    {
        lock (Made)
            return Made.TryGetValue(name, out var made) ? made : Made[name] = Make(name);
    }

    private static Ground Make(string name)
    {
        var demo = DemoInventory.All;
        if (name == "demo")
            return new(demo, demo.Tunnels);
        var seed = int.Parse(name.Split(' ')[1], CultureInfo.InvariantCulture);
        if (name.StartsWith("fleet", StringComparison.Ordinal))
        {
            var fleet = Inventory.Of(
                FleetMaker.Make([.. demo.All.OfType<Platform>()], FleetSize.Whole.Over(2000), seed)
            );
            return new(fleet, fleet.Tunnels);
        }

        var random = RandomEnds
            .Tunnels(demo, seed)
            .Where(t => t.State != TunnelState.Retired && Recordable(t))
            .Take(12)
            .Select((t, i) => t with { Id = $"tunnel:random-{i}", Code = $"RANDOM-{i}" })
            .ToArray();
        return new(demo.With(random), random);
    }

    /// <summary>Ends can be built that no record can hold: nobody plans a change on those.</summary>
    private static bool Recordable(Tunnel tunnel) =>
        RecordBody.Read(RecordKind.Tunnel, tunnel.Id, RecordBody.Form(tunnel)).Problems.Count == 0;

    public Planned Planned(ChangeRequest request) => Planner.Plan(All, request, DemoInventory.Today);

    public TunnelView View(string tunnelId) => new(All, All.Get<Tunnel>(tunnelId), DemoInventory.Today);

    /// <summary>The records with the edits of a plan carried out.</summary>
    public Inventory After(Plan plan)
    {
        var records = plan.Edits.Select(e => e.At.RecordId).Distinct().Select(id => All.All.First(r => r.Id == id));
        return All.With(
            records.Select(r =>
                RecordBody
                    .Read(r.Kind, r.Id, RecordBody.Form(r).With(plan.Edits.Where(e => e.At.RecordId == r.Id)))
                    .Record!
            )
        );
    }

    /// <summary>What a device holds, by the key of each entry.</summary>
    public static Dictionary<string, string> Held(IEnumerable<Entry> entries) =>
        entries.DistinctBy(e => e.Key).ToDictionary(e => e.Key, e => e.Text);

    /// <summary>Each kind on each tunnel, and each gateway of theirs moved and put onto each other platform.</summary>
    private IEnumerable<ChangeRequest> Requests() =>
        about.SelectMany(OfTunnel).Concat(Gateways().SelectMany(OfGateway));

    private IEnumerable<Gateway> Gateways() =>
        about.SelectMany(t => new[] { t.A.GatewayId, t.B.GatewayId }).Distinct().Select(All.Get<Gateway>);

    private static IEnumerable<ChangeRequest> OfTunnel(Tunnel t)
    {
        if (t.State == TunnelState.Planned)
            yield return new NewTunnelRequest(t.Id);
        if (t.State != TunnelState.InService)
            yield break;
        yield return new RekeyRequest([t.Id]);
        yield return new StrengthenRequest(t.Id, null);
        yield return new RetireRequest(t.Id);
        if (t.Agreed.Pairs.Length > 1)
            yield return new SubnetsRequest(t.Id, EndName.A, [], []) { Remove = [t.Agreed.Pairs[0].A] };
        if (t.Agreed.Pairs.Length > 0)
        {
            yield return new SubnetsRequest(t.Id, EndName.B, [Prefix.Parse("10.199.7.0/24").Value], []);
            yield return new SubnetsRequest(t.Id, EndName.A, [Prefix.Parse("10.199.8.0/24").Value], [])
            {
                Also = [new(t.Id, EndName.B) { Add = [Prefix.Parse("10.199.9.0/24").Value] }],
                Remove = t.Agreed.Pairs.Length > 1 ? [t.Agreed.Pairs[0].A] : [],
            };
        }
    }

    private IEnumerable<ChangeRequest> OfGateway(Gateway g)
    {
        var running = All.On(g.Id)
            .Where(o => o.Tunnel.State is not (TunnelState.Planned or TunnelState.Retired))
            .ToArray();
        var on = running.Select(o => o.Tunnel.Id).Distinct().ToImmutableArray();
        if (on.IsEmpty)
            yield break;
        foreach (var p in All.All.OfType<Platform>().Where(p => p.Id != g.PlatformId))
        {
            yield return new PlatformRequest(g.Id, p.Id, on);
            yield return new PlatformRequest(g.Id, p.Id, on) { Beside = Address.Parse("192.0.2.251").Value };
        }

        if (g.Uplinks is [var first, ..])
            yield return new AddressRequest(
                g.Id,
                first.Label,
                Address.Parse("192.0.2.250").Value,
                [.. running.Where(o => Uses(o.Tunnel.End(o.End), first.Label)).Select(o => o.Tunnel.Id).Distinct()]
            );
    }

    private static bool Uses(TunnelEnd end, string uplink) => end.Uplinks.IsEmpty || end.Uplinks.Contains(uplink);
}
