using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Subnets;

/// <summary>
/// The plan of subnets added on one side of a tunnel. The tunnel stays up where the platforms let it: what is entered
/// is told entry by entry, and each new pair is proven both ways.
/// </summary>
internal sealed class AddedPlan
{
    private readonly AddedSubnets added;
    private readonly PlanMaker maker;
    private readonly AddedSteps steps;

    private AddedPlan(AddedSubnets added, Inventory after, CancellationToken ct)
    {
        this.added = added;
        maker = new(added.View.Inventory, after, [added.View.Tunnel.Id], added.View.Today, ct: ct)
        {
            RestsOn = Preconditions.OfSubnets,
        };
        steps = new(added, maker);
    }

    /// <param name="added">What is added, and where.</param>
    /// <param name="ct">Called off when nobody waits any more.</param>
    /// <param name="after">The records as the plan would leave them.</param>
    /// <param name="addedBefore">Pairs of the same tunnel that an earlier part of the same change adds.</param>
    public static Plan Of(AddedSubnets added, Inventory after, int addedBefore, CancellationToken ct) =>
        new AddedPlan(added, after, ct).Make(addedBefore);

    private Plan Make(int addedBefore)
    {
        var view = added.View;
        maker.Differs(
            new(
                null,
                "subnet pairs wanted",
                Say.Count(view.Tunnel.Agreed.Pairs.Length, "pair"),
                Say.Count(view.Tunnel.Agreed.Pairs.Length + added.Pairs.Length, "pair"),
                [.. added.Pairs.Select(view.NameOf)]
            )
        );
        Prepare();
        foreach (var end in view.Ends)
            maker.Add(
                StepWords.SaveBefore(end, view.Inventory.On(end.Gateway.Id).Count()) with
                {
                    Key = $"save-{end.Name.Key()}",
                }
            );
        FailsBefore();
        var order = Order();
        var switching = order.Select(steps.Build).ToArray();
        foreach (var step in switching.SelectMany(s => s))
            maker.Add(step);
        Prove();
        foreach (var end in order.Reverse())
            maker.Add(StepWords.SaveAfter(end));
        maker.Close();
        return maker.Done(
            $"Adds {Say.Count(addedBefore + added.Pairs.Length, "pair"):w} to {view.Tunnel}: {Touched(view.A)}; "
                + $"{Touched(view.B)}.",
            Copied()
        ) with
        {
            NewPairs = added.Pairs,
        };
    }

    /// <summary>
    /// The responder comes before the initiator, so that no end initiates before the other can respond.
    /// </summary>
    private EndView[] Order()
    {
        var (near, far) = (added.Near, added.Far);
        return (PlanMaker.Initiates(near), PlanMaker.Initiates(far)) switch
        {
            (false, true) => [near, far],
            (true, false) => [far, near],
            _ => [added.View.B, added.View.A],
        };
    }

    private void Prepare()
    {
        foreach (var end in added.View.Ends.Where(e => e.Gateway.ManagementAccess is not null))
            maker.Add(StepWords.ManagementAccess(end));
        foreach (var end in added.View.Ends.Where(e => StepWords.Asked(e) is not null))
            maker.Add(
                new()
                {
                    Key = $"prepare-ask-{end.Name.Key()}",
                    Kind = StepKind.Agree,
                    Part = Part.Prepare,
                    Minutes = 5,
                    Do =
                        $"Agree the window and the values with {end.Owner.Name:w}, who run {end.Gateway.Code} at {end.Name}.",
                }
            );
    }

    private void FailsBefore()
    {
        var first = added.Pairs[0];
        maker.Add(
            new()
            {
                Key = "fails-before",
                Kind = StepKind.ShowNow,
                Part = Part.Safeguard,
                Minutes = 2,
                Do =
                    $"Check that it fails now: ping {StepWords.PointIn(added.Far, first)} from "
                    + $"{StepWords.PointIn(added.Near, first)}. Expect no reply. Note the packet counters at "
                    + $"both ends.",
                Proof = $"no reply, and the packet counters of {added.View.Tunnel} at both ends",
            }
        );
    }

    private void Prove()
    {
        var view = added.View;
        foreach (var pair in added.Pairs)
        {
            var (a, b) = (StepWords.PointIn(view.A, pair), StepWords.PointIn(view.B, pair));
            var key = $"prove-{pair.A}-{pair.B}";
            maker.Add(
                StepWords.At(
                    view.A,
                    StepKind.Prove,
                    Part.Prove,
                    $"{key}-ab",
                    2,
                    $"Ping {b} from {a}. Expect a reply; before the change there was none."
                ) with
                {
                    Proof =
                        $"the replies, and the packet counters of the new pair at both ends, up by about as many as were sent",
                }
            );
            maker.Add(
                StepWords.At(
                    view.B,
                    StepKind.Prove,
                    Part.Prove,
                    $"{key}-ba",
                    2,
                    $"Ping {a} from {b}. Expect a reply, and both counters up by about as many as were sent."
                ) with
                {
                    Proof = $"the replies, and the remaining lifetimes of both SAs",
                }
            );
        }

        var old = view.Tunnel.Agreed.Pairs;
        if (!old.IsEmpty)
            maker.Add(
                new()
                {
                    Key = "prove-rest",
                    Kind = StepKind.Prove,
                    Part = Part.Prove,
                    Minutes = 2,
                    Do =
                        $"Check that the other traffic still passes: "
                        + $"{Say.And(old.Take(3).Select(view.NameOf)):w}"
                        + $"{(old.Length > 3 ? $" and {old.Length - 3} more" : ""):w}, "
                        + $"and the other tunnels of {added.Near.Gateway.Code} and {added.Far.Gateway.Code}.",
                    Proof = $"the packet counters of the older pairs, still rising",
                }
            );
    }

    /// <summary>What the work at an end does to what runs there.</summary>
    private Sentence Touched(EndView end)
    {
        var cost = end.Platform.SubnetsCost;
        var lasting = cost?.Seconds is { } seconds ? $", about {Lifetime.Say(seconds)}" : "";
        if (!maker.Steps.Any(s => s.Where == StepWords.WhereOf(end) && s.Part is Part.Build or Part.Switch))
            return $"at {end.Name} nothing is entered";
        return cost?.What switch
        {
            null => Sentence.Of($"at {end.Name} the profile of {end.Platform.Title:w} does not say what it interrupts"),
            Disturbance.Nothing => Sentence.Of($"at {end.Name} nothing is interrupted"),
            Disturbance.ThatPair => Sentence.Of($"at {end.Name} only the new pair is affected"),
            Disturbance.TunnelRestarts => Sentence.Of($"at {end.Name} the whole tunnel restarts{lasting:w}"),
            Disturbance.GatewayRestarts => Sentence.Of(
                $"at {end.Name} all {added.View.Inventory.On(end.Gateway.Id).Count()} tunnels of {end.Gateway.Code} "
                    + $"restart{lasting:w}"
            ),
            _ => Sentence.Of($"at {end.Name} the uplink goes down and up{lasting:w}"),
        };
    }

    /// <summary>The lists that are copied because others use them.</summary>
    private IEnumerable<VerdictPart> Copied() =>
        from end in Order()
        let shared = SharedList.Of(added, end)
        where shared?.Copy is not null
        select new VerdictPart(
            Tone.Weak,
            $"The subnet list {shared.Name} at {end.Name} also serves {AddedSteps.Serves(shared)}. It is copied, not changed."
        );
}
