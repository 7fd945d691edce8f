using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What is done before anything is entered: preparing, and saving what is there.</summary>
internal sealed partial class PlanMaker
{
    /// <summary>Management access to each gateway, who must agree, and the values that are still pending.</summary>
    public void Prepare()
    {
        foreach (var end in EachGateway().Where(e => e.Gateway.ManagementAccess is not null))
            Add(StepWords.ManagementAccess(end));
        foreach (var asked in EachGateway().Where(e => StepWords.Asked(e) is not null).GroupBy(e => e.Owner.Id))
        {
            var owner = asked.First().Owner;
            Add(
                new()
                {
                    Key = $"prepare-ask-{owner.Code}",
                    Kind = StepKind.Agree,
                    Part = Part.Prepare,
                    Minutes = 5,
                    Do =
                        $"Agree the window and the values with {owner.Name:w}, who run "
                        + $"{Say.And(asked.Select(e => e.Gateway.Code))}.",
                }
            );
        }

        var waits = tunnels
            .SelectMany(t => t.Then.Ends)
            .SelectMany(e => Entries.Of(e))
            .Select(e => e.Pending)
            .OfType<PendingAt>()
            .DistinctBy(p => p.At)
            .ToArray();
        foreach (var p in waits.Where(p => CreatedAt(p) is null))
            Add(StepWords.FillIn(p, Part.Prepare, 5, $"{StepWords.Get(p)}, and fill it in here."));
        pending.AddRange(waits.Select(p => new PendingValue(p, [])));
    }

    /// <summary>
    /// The end whose gateway is only created by this change, so that its address is known afterwards; null when the
    /// value is waited for otherwise.
    /// </summary>
    private EndView? CreatedAt(PendingAt p) =>
        tunnels.SelectMany(t => t.Then.Ends).FirstOrDefault(e => e.Gateway.Id == p.At.RecordId && Created(e));

    private static bool Created(EndView end) =>
        end.Platform is { AddressLater: true, Effect: Effect.OnRequest }
        && end.Uplinks.FirstOrDefault()?.Address.Value is null;

    /// <summary>Saved configurations, and what runs now.</summary>
    /// <param name="everyGateway">Whether every gateway is worked on, also where no recorded value differs.</param>
    public void Safeguard(bool everyGateway = false)
    {
        var ends = everyGateway
            ? tunnels.SelectMany(t => InOrder(t.Then)).DistinctBy(e => e.Gateway.Id)
            : EachGateway();
        foreach (var end in ends.Where(e => !Created(e)))
            Add(StepWords.SaveBefore(end, before.On(end.Gateway.Id).Count()));
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            if (t.NewPairs.Concat(t.Then.Tunnel.Agreed.Pairs).FirstOrDefault() is { A.Length: > 0 } first)
                Add(ShowNow(t, first));
        }
    }

    /// <summary>How a pair answers before anything is touched.</summary>
    private Step ShowNow(TunnelStages t, SubnetPair pair)
    {
        var runs = t.Runs && !t.NewPairs.Contains(pair);
        var step = new Step
        {
            Key = $"{(runs ? "runs" : "fails-before")}-{t.Was.Tunnel.Code}",
            Kind = StepKind.ShowNow,
            Part = Part.Safeguard,
            Minutes = runs ? 1 : 2,
            Do = $"{StepWords.Try(t.Then.A, pair)}",
            TunnelId = t.Was.Tunnel.Id,
        };
        told[step.Key] = (s, played) => Shown(s, t, played.PassesAtFirst(t.Was.Tunnel.Id, pair));
        return step;
    }

    private static Step Shown(Step step, TunnelStages t, bool? passes)
    {
        var (tunnel, attempt) = (t.Was.Tunnel, step.Do);
        var counters = t.Runs ? Sentence.Of($", and the packet counters of {tunnel} at both ends") : Sentence.Plain("");
        var noted = t.Runs ? " Note the packet counters at both ends." : "";
        if (tunnel.State == TunnelState.Suspended)
            return step with
            {
                Do = $"{tunnel} is suspended. {attempt.Capitalised()} and note the result.",
                Proof = $"the replies, or that there are none",
            };
        return passes switch
        {
            true => step with
            {
                Do = $"Check that {tunnel} works now: {attempt}. Expect a reply.{noted:w}",
                Proof = $"the replies{counters}",
            },
            false => step with
            {
                Do = $"Check that it fails now: {attempt}. Expect no reply.{noted:w}",
                Proof = $"no reply{counters}",
            },
            _ => step with
            {
                Do =
                    $"{attempt.Capitalised()} and note the result: the records do not tell whether it works now.{noted:w}",
                Proof = $"the replies, or that there are none{counters}",
            },
        };
    }
}
