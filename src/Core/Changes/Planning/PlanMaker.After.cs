using Vellumkeep.Core.Changes.Playing;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What is done after the work: proof, what is withdrawn, saving and closing.</summary>
internal sealed partial class PlanMaker
{
    /// <summary>Proof for each pair in each direction, the SAs, and what ran before.</summary>
    public void Prove()
    {
        foreach (var t in tunnels)
        {
            ct.ThrowIfCancellationRequested();
            if (OnlySubnets && t.GonePairs.FirstOrDefault() is { A.Length: > 0 } gone)
                ProveGone(t, gone);
            // What runs gains is proven pair by pair; of what was there before, or is there for the first time, some.
            var proven = OnlySubnets ? t.NewPairs : [];
            if (proven.IsEmpty)
                proven = [.. t.Then.Tunnel.Agreed.Pairs.Take(Many ? 1 : 4)];
            foreach (var pair in proven)
                ProvePair(t, pair);
            if (t.Was.Tunnel.State != TunnelState.Suspended)
                ProveUp(t, further: t.Then.Tunnel.Agreed.Pairs.Length - proven.Length);
        }

        ProveRest();
    }

    /// <summary>That a pair passes no longer; of a tunnel that goes, that it has no SA either.</summary>
    public void ProveGone(TunnelStages t, SubnetPair pair)
    {
        var goes = t.Then.Tunnel.State == TunnelState.Retired;
        var step = Proving(
            t,
            goes ? $"prove-gone-{t.Then.Tunnel.Code}" : $"prove-gone-{t.Then.Tunnel.Code}-{pair.A}-{pair.B}",
            $"Check that it is gone: {StepWords.Try(t.Was.A, pair)}.",
            goes ? Sentence.Of($"no reply, no SA") : Sentence.Of($"no reply")
        );
        Sentence sas = goes ? Sentence.Of($", and no SA of {t.Then.Tunnel} at either end") : Sentence.Plain("");
        told[step.Key] = (s, played) => s with { Do = $"{s.Do} {ProofWords.Expect(played, s.Key, t, pair)}{sas}." };
        Add(step);
    }

    /// <summary>A proof of a tunnel that is taken at both ends.</summary>
    private static Step Proving(TunnelStages t, string key, Sentence does, Sentence proof) =>
        new()
        {
            Key = key,
            Kind = StepKind.Prove,
            Part = Part.Prove,
            Minutes = 2,
            Do = does,
            Proof = proof,
            TunnelId = t.Then.Tunnel.Id,
        };

    private void ProvePair(TunnelStages t, SubnetPair pair)
    {
        foreach (var end in t.Then.Ends)
        {
            var step = StepWords.At(
                end,
                StepKind.Prove,
                Part.Prove,
                $"prove-{t.Then.Tunnel.Code}-{pair.A}-{pair.B}-{(end.Name == EndName.A ? "ab" : "ba")}",
                2,
                $"{StepWords.Try(end, pair).Capitalised()}."
            );
            told[step.Key] = (s, played) => ProofWords.OfPair(s, played, t, pair, first: end.Name == EndName.A);
            Add(step);
        }
    }

    private void ProveUp(TunnelStages t, int further)
    {
        var rest = further > 0 ? $" Then {Trying(t)} {Say.The(further, "further pair")}." : "";
        var step = Proving(
            t,
            $"prove-up-{t.Then.Tunnel.Code}",
            $"Check {t.Then.Tunnel} at both ends.",
            $"both SAs with their algorithms and remaining lifetimes"
        );
        told[step.Key] = (s, played) => ProofWords.OfSas(s, played, t, ExpectedSas(t.Then), rest);
        Add(step);
    }

    private static string Trying(TunnelStages t) =>
        t.Then.Tunnel.Agreed.Pairs.All(p => p.TrafficAt(EndName.A).TakesPing) ? "ping across" : "try";

    /// <summary>Both SAs with what the rehearsal chooses; without algorithms where it cannot tell.</summary>
    private static Sentence ExpectedSas(TunnelView then)
    {
        var starts = then.Ends.Where(Initiates).Select(e => e.Name).DefaultIfEmpty(EndName.A);
        var chosen = starts.Select(end => Rehearse.From(then, end)).FirstOrDefault(r => r.ComesUp);
        if (chosen is not { Ike: { } ike, Esp: { } esp })
            return $"the IKE SA and child SA";
        return $"the IKE SA with {ike.ToString()} and the child SA with {esp.ToString()}"
            + $"{(chosen.Pfs is { } group ? $", PFS {group.ToString()}" : ""):w}";
    }

    /// <summary>That the other tunnels of the gateways still run.</summary>
    public void ProveRest()
    {
        var others = EachGateway()
            .Select(e =>
                (e.Gateway, Count: before.On(e.Gateway.Id).Count(o => tunnels.All(t => t.Was.Tunnel.Id != o.Tunnel.Id)))
            )
            .Where(g => g.Count > 0)
            .ToArray();
        if (others.Length > 0)
            Add(
                new()
                {
                    Key = "prove-rest",
                    Kind = StepKind.Prove,
                    Part = Part.Prove,
                    Minutes = 2,
                    Do =
                        $"Check that the other traffic still passes: "
                        + $"{Say.And(others.Select(o => $"{Say.Count(o.Count, "other tunnel")} of {o.Gateway.Code}")):w}.",
                    Proof = $"their packet counters, still rising",
                }
            );
    }

    /// <summary>What is withdrawn, saved configurations, and the closing.</summary>
    /// <param name="besides">Steps of the kind's own, before the configurations are saved.</param>
    public void Record(params IEnumerable<Step> besides)
    {
        steps.AddRange(withdrawn);
        ActivateWithdrawn();
        foreach (var t in tunnels.Where(t => Enum.GetValues<EndName>().Any(t.Adds)))
            AddReauthentication(
                new()
                {
                    Key = $"prove-after-{t.Then.Tunnel.Code}",
                    Kind = StepKind.Prove,
                    Part = Part.Record,
                    Minutes = 2,
                    Do = $"Force {t.Then.Tunnel} to reauthenticate once more.",
                    Proof = $"both SAs, and the packet counters",
                    TunnelId = t.Then.Tunnel.Id,
                },
                $"with the new values only"
            );
        steps.AddRange(besides);
        foreach (var end in EachGateway())
            Add(StepWords.SaveAfter(end));
        Close();
    }

    /// <summary>A step that clears the SAs of its tunnel and says what comes of it.</summary>
    /// <param name="step">The step.</param>
    /// <param name="with">With what it is to come up.</param>
    public void AddReauthentication(Step step, Sentence with)
    {
        told[step.Key] = (s, played) => ProofWords.OfReauthentication(s, played, with);
        AddClearing(step);
    }

    /// <summary>What is removed on a device that activates takes effect only when it is activated.</summary>
    private void ActivateWithdrawn()
    {
        foreach (var t in tunnels)
        foreach (var end in InOrder(t.Then).Where(e => e.Platform.Effect == Effect.OnActivation))
            if (withdrawn.Any(s => s.Gateway == end.Gateway.Code) && activated.Add($"{end.Gateway.Id} withdrawn"))
                Add(
                    Activating(end, Part.Record, $"activate-{end.Gateway.Code}-withdrawn", idle: false) with
                    {
                        Do =
                            $"Check that nobody else's entries wait on {end.Gateway.Code}, then activate what was removed.",
                    }
                );
    }

    /// <summary>The last step.</summary>
    public void Close()
    {
        var told = tunnels.SelectMany(t => t.Then.Ends).Select(e => e.Owner.Name).Distinct().ToArray();
        Add(
            new()
            {
                Key = "record",
                Kind = StepKind.Close,
                Part = Part.Record,
                Minutes = 2,
                Do =
                    $"Tell {Say.And(told.Take(6)):w}{(told.Length > 6 ? $" and {told.Length - 6} more" : ""):w} what was "
                    + $"set. Then close the change; the records then hold it.",
            }
        );
    }
}
