using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What a step does, in one imperative sentence, and how it is undone.</summary>
internal static partial class StepWords
{
    /// <summary>
    /// The one imperative sentence of a step that enters, alters or removes what belongs to one kind of work.
    /// </summary>
    public static Sentence Does(
        Work work,
        TunnelStages t,
        EndView end,
        ImmutableArray<Entered> enter,
        ImmutableArray<Entry> gone
    )
    {
        var (tunnel, on) = (t.Then.Tunnel, end.Gateway.Code);
        var added = enter.All(e => e.IsNew);
        var texts = enter.Select(e => e.After.Text).ToArray();
        if (enter.IsEmpty)
            return work switch
            {
                Work.Rules => Sentence.Of(
                    $"Remove {Say.The(gone.Length, "firewall rule"):w} of {tunnel} on {on}. No other tunnel uses "
                        + $"{(gone.Length == 1 ? "it" : "them"):w}."
                ),
                Work.NoNat => Sentence.Of($"Remove {Say.The(gone.Length, "no-NAT rule"):w} of {tunnel} on {on}."),
                Work.Routes => Sentence.Of($"Remove {Say.The(gone.Length, "route"):w} into {tunnel} on {on}."),
                Work.Discard => Sentence.Of($"Remove {Say.The(gone.Length, "discard route"):w} of {tunnel} on {on}."),
                _ when gone.Select(g => g.Work).Distinct().Count() > 2 => Sentence.Of(
                    $"Remove {tunnel} on {on} with its peer, proposals and selectors: "
                        + $"{Say.Count(gone.Length, "entry", "entries"):w}, as listed. Do not remove entries that "
                        + $"other tunnels use."
                ),
                _ => Sentence.Of(
                    $"Remove from {tunnel} on {on}: "
                        + $"{Say.And(gone.Take(4).Select(g => g.Label)):w}"
                        + $"{(gone.Length > 4 ? $" and {gone.Length - 4} more" : ""):w}."
                ),
            };
        return work switch
        {
            Work.Rules => Sentence.Of(
                $"Allow the traffic of {tunnel} on {on}: {Say.Count(enter.Length, "firewall rule"):w}, any service."
            ),
            Work.NoNat => Sentence.Of($"Add the no-NAT rules of {tunnel} on {on}, above all NAT rules."),
            Work.Discard => Sentence.Of(
                $"Add a discard route to {Say.And(texts)} on {on}, less preferred than the route into the tunnel, "
                    + $"so that no traffic leaks while the tunnel is down."
            ),
            Work.Interface => Sentence.Of($"Give the tunnel interface of {tunnel} on {on} the address {texts[0]}."),
            Work.Proposals when added => Sentence.Of(
                $"Enter the proposals of {tunnel} on {on}: phase 1 (IKE) and phase 2 (ESP)."
            ),
            Work.Proposals => Sentence.Of(
                $"Change the protection of {tunnel} on {on}: {Say.And(enter.Select(e => e.After.Label)):w}."
            ),
            Work.Peer when added => Sentence.Of(
                $"Create the peer of {tunnel} on {on} and name it {Name(end, "peer")}."
            ),
            Work.Peer => Sentence.Of($"Change the peer of {tunnel} on {on}: {Sentence.And(enter.Select(FromTo))}."),
            Work.Key when added => Sentence.Of(
                $"Enter the pre-shared key of {tunnel} on {on}, {texts[0]:w}, and compare its check code with the other end."
            ),
            Work.Key
                when enter[0].Before!.Versions is { Length: > 0 } had
                    && enter[0].After.Versions is var has
                    && had.All(has.Contains) => Sentence.Of(
                $"Enter version {string.Join(", ", has.Except(had)):w} of the key of {tunnel} on {on} beside "
                    + $"{enter[0].Before!.Text:w}. The old key stays in use until the other end has the new one. "
                    + $"Compare the check code with the other end."
            ),
            Work.Key => Sentence.Of(
                $"Replace the key of {tunnel} on {on}: from {enter[0].Before?.Text ?? "nothing":w} to {texts[0]:w}. "
                    + $"Compare the check code with the other end."
            ),
            Work.Options when added => Sentence.Of(
                $"Set the rest of {tunnel} on {on}: {Say.And(enter.Select(e => e.After.Label)):w}."
            ),
            Work.Options => Sentence.Of($"Set on {on} for {tunnel}: {Say.And(enter.Select(e => e.After.Label)):w}."),
            Work.Selectors when added => Sentence.Of($"Enter the selectors of {tunnel} on {on}."),
            Work.Selectors => Sentence.Of(
                $"Change the selectors of {tunnel} on {on}: {Say.And(enter.Select(e => e.After.Label).Distinct()):w}."
            ),
            Work.Routing => Sentence.Of(
                $"Enter the routing neighbour of {tunnel} on {on}. Announce and accept only the listed prefixes."
            ),
            _ => Sentence.Of(
                $"Add the {(enter.Length == 1 ? "route" : "routes"):w} to {Say.And(texts)} into {tunnel} on {on}."
            ),
        };
    }

    /// <summary>What is left behind once the new has proven itself.</summary>
    public static Sentence Withdraws(Work work, TunnelStages t, EndView end, ImmutableArray<Entered> enter) =>
        work == Work.Key
            ? Sentence.Of(
                $"Remove the old key of {t.Then.Tunnel} on {end.Gateway.Code}; only {enter[0].After.Text:w} stays."
            )
            : Sentence.Of(
                $"Remove the old values of {t.Then.Tunnel} on {end.Gateway.Code}; only "
                    + $"{Say.And(enter.Select(e => $"{e.After.Label} {e.After.Text}"))} "
                    + $"{(enter.Length == 1 ? "stays" : "stay"):w}."
            );

    /// <summary>What brings an end back to where it was.</summary>
    public static Sentence Undo(EndView end, ImmutableArray<Entered> enter, ImmutableArray<Entry> gone)
    {
        var parts = new List<string>();
        var altered = enter.Where(e => !e.IsNew).Select(e => $"{e.After.Label} {e.Before!.Text}").ToArray();
        var back = gone.Select(g => $"{g.Label} {g.Text}").ToArray();
        var added = enter.Where(e => e.IsNew).Select(e => $"{e.After.Label} {e.After.Text}").ToArray();
        static string Some(string[] list) =>
            Say.And(
                list.Take(3).Append(list.Length > 3 ? $"{list.Length - 3} more as listed" : "").Where(t => t.Length > 0)
            );
        if (altered.Length > 0)
            parts.Add($"set back {Some(altered)}");
        if (back.Length > 0)
            parts.Add($"enter again {Some(back)}");
        if (added.Length > 0)
            parts.Add($"remove {Some(added)}");
        return Sentence.Of($"On {end.Gateway.Code}: {Say.And(parts):w}.");
    }

    private static Sentence FromTo(Entered entered) =>
        Sentence.Of($"{entered.After.Label:w} from {entered.Before?.Text} to {entered.After.Text}");
}
