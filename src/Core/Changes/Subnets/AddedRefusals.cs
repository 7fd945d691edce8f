using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>What stands against subnets that are to be added on one side of a tunnel.</summary>
internal sealed class AddedRefusals(
    TunnelView view,
    TunnelSide side,
    ImmutableArray<Prefix> add,
    ImmutableArray<Prefix> reach
)
{
    private readonly Tunnel tunnel = view.Tunnel;
    private readonly EndView near = view.End(side.End);
    private readonly EndView far = view.End(side.End.Other());
    private readonly List<Refusal> refused = [];

    /// <summary>The pairs that the subnets make with what they reach, and why they cannot be had.</summary>
    public (ImmutableArray<SubnetPair> Pairs, ImmutableArray<Refusal> Refused) Find()
    {
        if (tunnel.State is TunnelState.Retired)
            Refuse(null, "tunnel", $"{tunnel} is retired.", $"Choose a tunnel that is in service.");
        var there = tunnel.Agreed.Pairs.Select(p => p.On(far.Name)).Distinct().ToImmutableArray();
        var reached = reach.IsEmpty ? there : reach;
        Named(reached, there);
        var pairs = new List<SubnetPair>();
        foreach (var prefix in add.Distinct())
        {
            foreach (var other in reached.Where(r => r.Family == prefix.Family))
                pairs.Add(Paired(prefix, other));
            Alone(prefix, reached);
        }

        for (var i = 0; i < add.Length; i++)
        for (var j = 0; j < i; j++)
            if (add[i].Overlaps(add[j]) && add[i] != add[j])
                Refuse(
                    Findings.Addresses.SelectorsOverlap.Check.Code,
                    "add",
                    $"{add[j]} and {add[i]} overlap each other.",
                    $"Give only the wider one."
                );
        return ([.. pairs.Distinct()], [.. refused.DistinctBy(r => (r.Code, r.Wrong.ToString()))]);
    }

    private void Refuse(string? code, string field, Sentence wrong, Sentence right) =>
        refused.Add(new(code, field, wrong, right));

    /// <summary>Whether anything is named that could be added and reached.</summary>
    private void Named(ImmutableArray<Prefix> reached, ImmutableArray<Prefix> there)
    {
        if (add.IsEmpty)
            Refuse(
                null,
                "add",
                $"No prefix is given.",
                $"Give at least one prefix behind {near.Name}, such as "
                    + $"{(near.Site.Networks.FirstOrDefault()?.Prefix.ToString() ?? "10.61.40.0/24")}."
            );
        if (reached.IsEmpty)
            Refuse(
                null,
                "reach",
                $"{tunnel} has no subnet behind {far.Name} yet.",
                $"Give the prefixes behind {far.Name} that it is to reach."
            );
        foreach (var unknown in reach.Except(there))
            Refuse(
                null,
                "reach",
                $"{unknown} behind {far.Name} is not in {tunnel}.",
                $"Give one of {Say.And(there.Select(t => t.ToString()))}, or add it on side {far.Name}."
            );
    }

    /// <summary>One new subnet with one that it reaches.</summary>
    private SubnetPair Paired(Prefix prefix, Prefix other)
    {
        var pair = side.End == EndName.A ? new SubnetPair(prefix, other) : new SubnetPair(other, prefix);
        var wider = tunnel
            .Agreed.Pairs.Where(p => p.On(far.Name) == other && p.On(near.Name).Overlaps(prefix))
            .Select(p => (Prefix?)p.On(near.Name))
            .FirstOrDefault();
        if (tunnel.Agreed.Pairs.Contains(pair))
            Refuse(
                null,
                "add",
                $"{prefix} already reaches {other} in {tunnel}.",
                $"Remove it from the prefixes to add."
            );
        else if (wider is { } held)
            Refuse(
                Findings.Addresses.SelectorsOverlap.Check.Code,
                "add",
                $"{prefix} overlaps {held}, which already reaches {other} in {tunnel}.",
                $"To widen a prefix, remove the old one and add the new one. Or choose a prefix outside {held}."
            );
        if (prefix.Overlaps(other))
            Refuse(
                Findings.Addresses.SidesOverlap.Check.Code,
                "add",
                $"{prefix} behind {near.Name} would overlap {other} behind {far.Name} of {tunnel}.",
                $"Present one of them as another prefix of the same length (1:1 NAT)."
            );
        return pair;
    }

    /// <summary>One new subnet alone: its family, and what the far end has or sends elsewhere already.</summary>
    private void Alone(Prefix prefix, ImmutableArray<Prefix> reached)
    {
        if (!reached.IsEmpty && reached.All(r => r.Family != prefix.Family))
            Refuse(
                null,
                "add",
                $"{prefix} is {prefix.Family.ToString():w}; {tunnel} has no prefix of that family behind {far.Name}.",
                $"Give a prefix of the same family as {reached[0]}."
            );
        foreach (var n in far.Site.Networks.Where(n => n.Prefix.Overlaps(prefix)))
            Refuse(
                Findings.Addresses.RemoteLivesHere.Check.Code,
                "add",
                $"{prefix} overlaps {n.Prefix} ({n.Name:w}), which is already behind {far.Name} at {far.Site.Name:w}.",
                $"Present {prefix} as a prefix that {far.Site.Name:w} does not use."
            );
        foreach (var (other, taken) in SentElsewhere(prefix))
            Refuse(
                Findings.Addresses.ClaimedTwice.Check.Code,
                "add",
                $"{prefix} overlaps {Argument.Of(other, taken)} of {other}, which {far.Gateway.Code} at {far.Name} "
                    + $"already has there.",
                $"Use another prefix, or another VRF on {far.Gateway.Code}."
            );
    }

    private IEnumerable<(Tunnel Other, Prefix Taken)> SentElsewhere(Prefix prefix) =>
        from use in view.Inventory.On(far.Gateway.Id)
        where use.Tunnel.Id != tunnel.Id && use.Tunnel.End(use.End).ProtectedVrf == far.End.ProtectedVrf
        from taken in use.Tunnel.Agreed.Pairs.Select(p => p.On(use.End.Other())).Distinct()
        where taken.Overlaps(prefix)
        select (use.Tunnel, taken);
}
