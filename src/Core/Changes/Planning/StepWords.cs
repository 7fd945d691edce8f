using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// How steps are said, and what every kind of change has alike: who is asked, what stops, where proof is taken.
/// </summary>
internal static class StepWords
{
    /// <summary>Who is asked to do it; null when we run the gateway.</summary>
    public static string? Asked(EndView end) => end.Gateway.RunBy == RunBy.Us ? null : end.Owner.Name;

    public static Where WhereOf(EndView? end) =>
        end is null ? Where.Us
        : end.Name == EndName.A ? Where.A
        : Where.B;

    /// <summary>A step on the gateway of an end.</summary>
    public static Step At(EndView end, StepKind kind, Part part, string key, int minutes, Sentence does) =>
        new()
        {
            Key = key,
            Kind = kind,
            Part = part,
            Where = WhereOf(end),
            Asked = Asked(end),
            Do = does,
            Minutes = minutes,
            TunnelId = end.Tunnel.Tunnel.Id,
            Gateway = end.Gateway.Code,
        };

    /// <summary>The saving of a configuration before it is touched.</summary>
    /// <param name="running">How many tunnels end on the gateway.</param>
    public static Step SaveBefore(EndView end, int running) =>
        At(
            end,
            StepKind.SaveBefore,
            Part.Safeguard,
            $"save-{end.Gateway.Code}",
            3,
            $"Save the configuration of {end.Gateway.Code}, and note which tunnels are up. It has "
                + $"{Say.Count(running, "tunnel"):w}."
        ) with
        {
            Proof = $"the saved configuration and its time",
        };

    /// <summary>The filling in of a value that is pending.</summary>
    public static Step FillIn(PendingAt pending, Part part, int minutes, Sentence does) =>
        new()
        {
            Key = $"prepare-pending-{pending.At.RecordId}-{pending.At.Path}",
            Kind = StepKind.FillIn,
            Part = part,
            Minutes = minutes,
            Do = does,
            Fills = pending.At,
        };

    /// <summary>That a value is pending, who will know it, and by when.</summary>
    public static Sentence IsPending(PendingAt pending) =>
        $"The {pending.Label:w} is "
        + $"pending{(pending.WhoKnows is { } who ? $" from {who}" : ""):w}{(pending.By is { } by ? $", by {Scalars.Write(by)}" : ""):w}.";

    /// <summary>A kind of work in the key of a step.</summary>
    public static string KeyOf(Work work) => work.ToString().ToLowerInvariant();

    /// <summary>
    /// What an alteration of protection or selectors does to traffic on a platform; null when nothing.
    /// </summary>
    public static Sentence? Stops(EndView end) =>
        end.Platform.SubnetsCost is not { } cost
            ? Sentence.Of($"The profile of {end.Platform.Title:w} does not say what this interrupts.")
            : cost.What switch
            {
                Disturbance.Nothing => null,
                Disturbance.ThatPair => Sentence.Of($"Only the new pair is affected."),
                Disturbance.TunnelRestarts => Sentence.Of(
                    $"Tunnel restarts{(cost.Seconds is { } s ? $", {s} s" : ""):w}."
                ),
                Disturbance.GatewayRestarts => Sentence.Of(
                    $"Every tunnel of {end.Gateway.Code} restarts{(cost.Seconds is { } s ? $", {s} s" : ""):w}."
                ),
                _ => Sentence.Of($"The uplink goes down and up{(cost.Seconds is { } s ? $", {s} s" : ""):w}."),
            };

    public static Sentence PointIn(EndView end, SubnetPair pair)
    {
        var prefix = pair.On(end.Name);
        var network = end.Site.Networks.FirstOrDefault(n =>
            n.AsPresented.Contains(prefix) || prefix.Contains(n.AsPresented)
        );
        var point = network?.TestPoints.FirstOrDefault(t => prefix.Contains(t.Address));
        return point is not null ? Sentence.Of($"{point.Address}") : Sentence.Of($"a host in {prefix}");
    }

    public static Step ManagementAccess(EndView end)
    {
        var way = end.Gateway.ManagementAccess!;
        var throughThis = way.By.Contains(end.Tunnel.Tunnel.Code, StringComparison.OrdinalIgnoreCase);
        Sentence other =
            way.OutOfBand is { } o ? Sentence.Of($" and out-of-band access ({o:w})")
            : throughThis ? Sentence.Plain(". Arrange out-of-band access first; none is recorded")
            : Sentence.Plain(". No out-of-band access is recorded");
        return At(
            end,
            StepKind.ManagementAccess,
            Part.Prepare,
            $"prepare-way-{end.Gateway.Code}",
            3,
            throughThis
                ? Sentence.Of($"You manage {end.Gateway.Code} through this tunnel. Test the management access{other}.")
                : Sentence.Of($"Test the management access to {end.Gateway.Code} ({way.By:w}){other}.")
        );
    }

    public static Step SaveAfter(EndView end) =>
        At(
            end,
            StepKind.SaveAfter,
            Part.Record,
            $"save-after-{end.Gateway.Code}",
            1,
            end.Platform.SavedSeparately != false
                ? Sentence.Of(
                    $"Save the running configuration on {end.Gateway.Code}, and keep a "
                        + $"copy.{(end.Platform.SavedSeparately is null ? " The profile does not say whether the device saves automatically." : ""):w}"
                )
                : Sentence.Of(
                    $"Keep a copy of the configuration of {end.Gateway.Code}. The device saved it automatically."
                )
        ) with
        {
            Proof = $"the saved configuration and its time",
        };

    /// <summary>
    /// A name for something on the device, by the customer's or the house pattern, alike on both ends. Too long for the
    /// platform, it is cut before its last word, which tells it from its neighbours.
    /// </summary>
    public static string Name(EndView end, string what)
    {
        var view = end.Tunnel;
        var slug = new string([.. what.ToLowerInvariant().Select(ch => char.IsAsciiLetterOrDigit(ch) ? ch : '-')]);
        var name = (view.Customer.NamingPattern ?? "{tunnel}-{what}")
            .Replace("{tunnel}", view.Tunnel.Code.ToLowerInvariant())
            .Replace("{what}", slug)
            .Replace("{end}", end.Name.Key());
        if (end.Platform.NameLimit is not { } limit || name.Length <= limit)
            return name;
        var last = name[name.LastIndexOf('-')..];
        return last.Length < limit ? name[..(limit - last.Length)].TrimEnd('-') + last : name[..limit];
    }

    /// <summary>
    /// What was entered is activated; SAs that stand in its way are cleared, unless it only adds and the
    /// platform leaves them alone.
    /// </summary>
    public static Sentence Activate(EndView end, IReadOnlyList<Tunnel> tunnels, bool adds = true) =>
        adds && end.Platform.SubnetsCost?.What is Disturbance.Nothing or Disturbance.ThatPair
            ? Sentence.Of(
                $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate. Tunnels should stay up."
            )
            : Sentence.Of(
                $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate, and clear the old SAs "
                    + $"of {Tunnels(tunnels)}."
            );

    public static Sentence Tunnels(IReadOnlyList<Tunnel> tunnels) =>
        tunnels.Count switch
        {
            1 => Sentence.Of($"{tunnels[0]}"),
            2 => Sentence.Of($"{tunnels[0]} and {tunnels[1]}"),
            3 => Sentence.Of($"{tunnels[0]}, {tunnels[1]} and {tunnels[2]}"),
            _ => Sentence.Of($"{tunnels[0]} and {tunnels.Count - 1} others"),
        };

    public static int Minutes(Work work) =>
        work switch
        {
            Work.Key => 3,
            Work.Proposals or Work.Peer or Work.Selectors or Work.Routing => 2,
            _ => 1,
        };

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
                        + $"{Say.And(gone.Take(4).Select(g => g.Label)):w}{(gone.Length > 4 ? $" and {gone.Length - 4} more" : ""):w}."
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
            Work.Peer => Sentence.Of(
                $"Change the peer of {tunnel} on {on}: "
                    + $"{Sentence.And(enter.Select(e => Sentence.Of($"{e.After.Label:w} from {e.Before?.Text} to {e.After.Text}")))}."
            ),
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
                $"Remove the old key of {t.Then.Tunnel} on {end.Gateway.Code}; only {enter[0].After.Text:w} "
                    + $"stays{(end.Platform.Effect == Effect.OnActivation ? "; then activate" : ""):w}."
            )
            : Sentence.Of(
                $"Remove the old values of {t.Then.Tunnel} on {end.Gateway.Code}; only "
                    + $"{Say.And(enter.Select(e => $"{e.After.Label} {e.After.Text}"))} "
                    + $"{(enter.Length == 1 ? "stays" : "stay"):w}{(end.Platform.Effect == Effect.OnActivation ? "; then activate" : ""):w}."
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
}
