using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Sums;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// What the engineer gives for a tunnel that is not there yet: two gateways, the pairs, and perhaps a suite.
/// </summary>
public sealed record TunnelIdea(
    string Code,
    string CustomerId,
    string Name,
    string GatewayA,
    string GatewayB,
    ImmutableArray<string> UplinksA,
    ImmutableArray<string> UplinksB,
    ImmutableArray<SubnetPair> Pairs,
    string? SuiteId
);

/// <summary>A new tunnel: what is worked out for it, and the building of both ends.</summary>
public static class NewTunnel
{
    /// <summary>
    /// Works out a planned tunnel between two gateways: the newest IKE version and the strongest proposals that both
    /// can do and no standard advises against, one key, who starts, identities, the form, and tunnel addresses from the
    /// pools.
    /// </summary>
    public static (Tunnel? Tunnel, ImmutableArray<Refusal> Refused) Design(
        Inventory inventory,
        string id,
        TunnelIdea idea,
        DateOnly today
    )
    {
        var refused = new List<Refusal>();
        var (a, b) = (inventory.Get<Gateway>(idea.GatewayA), inventory.Get<Gateway>(idea.GatewayB));
        var (pa, pb) = (inventory.Get<Platform>(a.PlatformId), inventory.Get<Platform>(b.PlatformId));
        if (a.Id == b.Id)
            refused.Add(new(null, "b", $"Both ends would be {a.Code}.", $"Two gateways."));
        if (idea.Pairs.IsEmpty)
            refused.Add(
                new(null, "pairs", $"No subnet pair is named.", $"At least one, such as 10.50.0.0/24 - 10.51.0.0/24.")
            );
        var (sa, sb) = (inventory.Get<Site>(a.SiteId), inventory.Get<Site>(b.SiteId));
        foreach (var pair in idea.Pairs)
        {
            if (pair.A.Overlaps(pair.B))
                refused.Add(
                    new(
                        "ADR-04",
                        "pairs",
                        $"{pair.A} behind A overlaps {pair.B} behind B.",
                        $"Present one of them as another prefix of the same length inside the tunnel."
                    )
                );
            foreach (var (gateway, end, remote) in new[] { (a, EndName.A, pair.B), (b, EndName.B, pair.A) })
            foreach (
                var (other, at) in inventory
                    .On(gateway.Id)
                    .Where(o => o.Tunnel.End(o.End).Inside == "main" && o.Tunnel.State != TunnelState.Planned)
            )
            foreach (
                var taken in other.Agreed.Pairs.Select(p => p.On(at.Other())).Distinct().Where(t => t.Overlaps(remote))
            )
                refused.Add(
                    new(
                        "ADR-03",
                        "pairs",
                        $"{remote} overlaps {Argument.Of(other, taken)} of {other}, which {gateway.Code} at {end} already sends there.",
                        $"Another prefix, or another routing instance on {gateway.Code}."
                    )
                );
        }

        var version = new[] { IkeVersion.IKEv2, IkeVersion.IKEv1 }
            .Where(v => pa.IkeVersions.Contains(v) && pb.IkeVersions.Contains(v))
            .Select(v => (IkeVersion?)v)
            .FirstOrDefault();
        var strongest = version is { } v1 ? CommonGround.Strongest(pa, pb, v1) : null;
        var esp = version is { } v2 ? StrongestEsp(pa, pb, v2) : null;
        if (idea.SuiteId is null && (strongest is null || esp is null))
            refused.Add(
                new(
                    "PAIR-02",
                    "suite",
                    $"{pa.Title:w} and {pb.Title:w} have no proposal in common that may still be used.",
                    $"Name a suite that both can do, or replace one of the platforms first."
                )
            );
        if (refused.Count > 0)
            return (null, [.. refused.DistinctBy(r => (r.Code, r.Wrong.ToString()))]);

        // Whoever can be reached at a known address answers; whoever cannot has to start.
        bool Moves(Gateway g, ImmutableArray<string> uplinks) =>
            g.Uplinks.FirstOrDefault(u => uplinks.IsEmpty || uplinks.Contains(u.Label)) is { } u
            && (u.Address.Value?.IsDynamic == true || u.Translator is { PublicAddress: null });
        var (movesA, movesB) = (Moves(a, idea.UplinksA), Moves(b, idea.UplinksB));
        if (movesA && movesB)
            return (
                null,
                [
                    new(
                        "PAIR-08",
                        "uplinkB",
                        $"Neither {a.Code} at {EndName.A} nor {b.Code} at {EndName.B} has an outer address that the other could know.",
                        $"A fixed address at one of them, or a name that follows it."
                    ),
                ]
            );
        var form =
            pa.Forms.Contains(TunnelForm.RouteBased) && pb.Forms.Contains(TunnelForm.RouteBased)
            || !pa.Forms.Contains(TunnelForm.PolicyBased)
            || !pb.Forms.Contains(TunnelForm.PolicyBased)
                ? TunnelForm.RouteBased
                : TunnelForm.PolicyBased;
        var written = new MapWriter()
            .Add("code", idea.Code)
            .Add("customer", idea.CustomerId)
            .Add("name", idea.Name)
            .Add("state", "planned")
            .Add("since", Scalars.Write(today))
            .Add("form", WordsOf.Forms.Of(form));
        var agreed = new MapWriter()
            .Add("suite", idea.SuiteId)
            .Add("authentication", "PSK")
            .Add(
                "start",
                new MapWriter()
                    .Add("a", movesB ? "only answer" : "always")
                    .Add("b", movesB ? "always" : "only answer")
                    .Done()
            );
        if (idea.SuiteId is null)
        {
            var dh = strongest!.Group.Name;
            agreed
                .Add("ikeVersions", ListNode.OfTexts([WordsOf.IkeVersions.Of(version!.Value)]))
                .Add("ikeProposals", ListNode.OfTexts([strongest!.ToString()]))
                .Add("espProposals", ListNode.OfTexts([esp!.ToString()]))
                .Add("pfs", $"required {dh}");
            if (Life(pa.IkeLifetimes, pb.IkeLifetimes, 28800) is { } long_)
                agreed.Add("ikeLifetime", new MapWriter().Add("time", $"{long_} s").Done());
            if (Life(pa.EspLifetimes, pb.EspLifetimes, 3600) is { } short_)
                agreed.Add("espLifetime", new MapWriter().Add("time", $"{short_} s").Done());
        }

        if (
            form == TunnelForm.RouteBased
            && pa.PairsPerChildren?.Contains(PairsPerChild.AnyToAny) == true
            && pb.PairsPerChildren?.Contains(PairsPerChild.AnyToAny) == true
        )
            agreed.Add("pairsPerChild", "any to any");
        agreed
            .Add(
                "identities",
                new MapWriter()
                    .Add("a", IdentityOf(a, sa, idea.UplinksA, movesA))
                    .Add("b", IdentityOf(b, sb, idea.UplinksB, movesB))
                    .Done()
            )
            .List("pairs", idea.Pairs, p => new MapWriter().Add("a", p.A.ToString()).Add("b", p.B.ToString()).Done());
        var (innerA, innerB) = form == TunnelForm.RouteBased ? TunnelAddresses(inventory, a, b) : (null, null);
        MapNode End(Gateway g, ImmutableArray<string> uplinks, string? inner) =>
            new MapWriter()
                .Add("gateway", g.Id)
                .Add("uplinks", uplinks.IsEmpty ? null : ListNode.OfTexts(uplinks))
                .Add("tunnelAddress", inner)
                .Done();
        written
            .Always("agreed", agreed.Done())
            .Add("a", End(a, idea.UplinksA, innerA))
            .Add("b", End(b, idea.UplinksB, innerB));
        var reading = new Reading(IdNames.Instance);
        var tunnel = WrittenTunnel.Form.Read(id, new Fields(written.Done(), "", reading));
        return tunnel is not null
            ? (tunnel, [])
            : (
                null,
                [
                    .. reading.Problems.Select(p => new Refusal(
                        null,
                        p.Field,
                        Sentence.Plain(p.Wrong),
                        Sentence.Plain(p.Right)
                    )),
                ]
            );
    }

    public static Planned Plan(Inventory inventory, NewTunnelWish wish, DateOnly today, CancellationToken ct = default)
    {
        var tunnel = inventory.Get<Tunnel>(wish.TunnelId);
        if (tunnel.State is not (TunnelState.Planned or TunnelState.Building))
            return Planned.No([
                new(null, "tunnel", $"{tunnel} is {WordsOf.States.Of(tunnel.State):w}.", $"A tunnel that is planned."),
            ]);
        var form = Edits.Put(AfterForm.Of(tunnel), "state", "in service").With("since", Scalars.Write(today));
        var version = Math.Max(1, tunnel.A.KeyHeld?.Send.DefaultIfEmpty(1).Max() ?? 1);
        var psk = new TunnelView(inventory, tunnel, today).Ends.All(e =>
            e.Get(Settings.Authentication).Value?.Value != Authentication.Certificate
        );
        foreach (var e in new[] { "a", "b" })
            if (psk && Edits.Find(form, $"{e}.keyHeld") is null)
                form = Edits.Put(form, $"{e}.keyHeld", new MapWriter().Add("both", ListNode.OfTexts([version])).Done());
        var built = AfterForm.Read(tunnel, form);
        built = AfterForm.Read(tunnel, AfterForm.Entered(new(inventory.With(built), built, today), form));
        // While planned nothing of it is looked at; what building it would do is what counts.
        var maker = new PlanMaker(inventory, inventory.With(built), [tunnel.Id], today, ct: ct);
        maker.Prepare();
        if (psk)
            maker.Add(
                $"prepare-key-{tunnel.Code}",
                Part.Prepare,
                null,
                3,
                $"Have key version {version} of {tunnel} made here{HandedTo(maker.Tunnels[0].Then):w}."
            );
        maker.Safeguard();
        maker.Work();
        maker.Prove();
        maker.Record();
        var (a, b) = (maker.Tunnels[0].Then.A, maker.Tunnels[0].Then.B);
        var starter = new[] { a, b }.FirstOrDefault(e => e.Get(Settings.Start).Value?.Value == Start.Always);
        var with = a.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault();
        // What was wrong with it while it was only planned stops it once it is built.
        var wrong = Checks
            .Run(new(maker.Tunnels[0].Then))
            .Where(f => f.Severity == Severity.Blocks && f.Subject != "pending")
            .Take(3)
            .Select(f => new VerdictPart(Tone.Stops, f.Consequence ?? f.What));
        var plan = maker.Done(
            Sentence.Of(
                $"Builds {tunnel} between {a.Site.Name:w} and {b.Site.Name:w}{(with is null ? "" : $", protected by {with}"):w}; {(starter is null ? "nobody starts it by itself" : $"{starter.Name} starts"):w}."
            ),
            said: wrong
        );
        return new(plan with { NewPairs = tunnel.Agreed.Pairs, Keys = psk ? [new(tunnel.Id, version, [])] : [] }, []);
    }

    internal static string HandedTo(TunnelView view) =>
        view.Ends.Select(StepWords.Asked).OfType<string>().Distinct().ToArray() is { Length: > 0 } others
            ? $", and hand it over to {Say.And(others)} by another way than the sheet"
            : "";

    internal static EspProposal? StrongestEsp(Platform a, Platform b, IkeVersion version) =>
        CommonGround
            .EspProposals(a, b, version)
            .Where(p => Graded.Of(p).Worst < Algorithms.Requirement.ShouldNot)
            .MaxBy(p => Strength.Of(p).Bits);

    private static long? Life(LifeRange? a, LifeRange? b, long usual)
    {
        var (least, most) = (
            Math.Max(a?.Least.InSeconds ?? 0, b?.Least.InSeconds ?? 0),
            Math.Min(a?.Most.InSeconds ?? long.MaxValue, b?.Most.InSeconds ?? long.MaxValue)
        );
        return least > most ? null : Math.Clamp(usual, least, most);
    }

    /// <summary>The outer address where it is fixed; else a name of the site.</summary>
    private static string? IdentityOf(Gateway gateway, Site site, ImmutableArray<string> uplinks, bool moves)
    {
        var uplink = gateway.Uplinks.FirstOrDefault(u => uplinks.IsEmpty || uplinks.Contains(u.Label));
        return !moves && uplink?.Outer is { } outer ? $"address {outer}"
            : moves ? $"fqdn {gateway.Code.ToLowerInvariant()}.{site.Code.ToLowerInvariant()}.example"
            : null;
    }

    /// <summary>The first free /30 of the pool of either gateway.</summary>
    private static (string? A, string? B) TunnelAddresses(Inventory inventory, Gateway a, Gateway b)
    {
        if ((a.TunnelPool ?? b.TunnelPool) is not { Family: Family.IPv4 } pool || pool.Length > 30)
            return (null, null);
        var taken = new[] { a, b }
            .SelectMany(g => inventory.On(g.Id).Select(o => o.Tunnel.End(o.End).TunnelAddress?.Value?.Address))
            .OfType<Address>()
            .ToHashSet();
        for (var at = pool.First.Bits; at + 3 <= pool.Last.Bits; at += 4)
        {
            var (x, y) = (Address.Of(pool.Family, at + 1), Address.Of(pool.Family, at + 2));
            if (!taken.Contains(x) && !taken.Contains(y))
                return ($"{x}/30", $"{y}/30");
        }

        return (null, null);
    }
}
