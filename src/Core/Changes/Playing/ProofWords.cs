using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>What a proof is to expect, as the play has it when the step begins; and why it cannot come true.</summary>
internal static class ProofWords
{
    /// <summary>What a pair answers when a step begins.</summary>
    public static Sentence Expect(Player played, string stepKey, TunnelStages t, SubnetPair pair) =>
        t.Was.Tunnel.State == TunnelState.Suspended
            ? Sentence.Of($"Expect the result that was noted before")
            : played.PassesAt(stepKey, t.Was.Tunnel.Id, pair) switch
            {
                (null, _) => Sentence.Of($"Note the result: the records do not tell whether it passes"),
                (true, _) => Sentence.Of($"Expect a reply"),
                _ => Sentence.Of($"Expect no reply"),
            };

    /// <summary>The proof that a pair passes.</summary>
    public static Step OfPair(Step step, Player played, TunnelStages t, SubnetPair pair, bool first)
    {
        var (passes, why) = played.PassesAt(step.Key, t.Was.Tunnel.Id, pair);
        var expected = Expect(played, step.Key, t, pair);
        if (t.Was.Tunnel.State == TunnelState.Suspended)
            return step with { Do = $"{step.Do} {expected}.", Proof = $"the result" };
        if (passes != true)
        {
            return step with
            {
                Do = $"{step.Do} {expected}{(passes == false ? WhyNot(played, step, t, why) : Sentence.Plain("."))}",
                Proof = $"the result",
            };
        }

        var before = played.PassesAtFirst(t.Was.Tunnel.Id, pair) switch
        {
            true => ", as before",
            false => "; before the change there was none",
            _ => "",
        };
        return step with
        {
            Do = $"{step.Do} {expected}{before:w}.",
            Proof = first
                ? Sentence.Of(
                    $"the replies, and the packet counters of the pair at both ends, up by about as many as were sent"
                )
                : Sentence.Of($"the replies, and the same counters"),
        };
    }

    /// <summary>A tunnel that is down has its reason in the step that looks at its SAs.</summary>
    private static Sentence WhyNot(Player played, Step step, TunnelStages t, Sentence? why) =>
        played.StateAt(step.Key, t.Was.Tunnel.Id).State == Carriage.Down
            ? Sentence.Of($": {t.Then.Tunnel} is down.")
            : Because(why);

    /// <summary>The proof that a tunnel is up with what was negotiated.</summary>
    public static Step OfSas(Step step, Player played, TunnelStages t, Sentence sas, string rest) =>
        Found(
            step,
            played.StateAt(step.Key, t.Was.Tunnel.Id),
            new(
                $"Expect {sas} up.{rest:w}",
                $"Note what is up: the records do not tell.{rest:w}",
                $"Expect no SA",
                $"that there is none"
            )
        );

    /// <summary>What comes of a tunnel whose SAs a step clears.</summary>
    public static Step OfReauthentication(Step step, Player played, Sentence with) =>
        Found(
            step,
            played.StateAfter(step.Key, step.TunnelId!),
            new(
                $"Expect it to come up {with}.",
                $"Note what comes up: the records do not tell.",
                $"Expect it not to come up",
                $"that there is no SA"
            )
        );

    /// <summary>What a proof of SAs says, by what the tunnel carries.</summary>
    /// <param name="Up">Where it is up.</param>
    /// <param name="Unknown">Where nobody can say.</param>
    /// <param name="Down">Where it is down, before the reason.</param>
    /// <param name="NoSa">What proves that it is down.</param>
    private sealed record Said(Sentence Up, Sentence Unknown, Sentence Down, Sentence NoSa);

    private static Step Found(Step step, (Carriage State, Sentence? Why) found, Said said) =>
        found.State switch
        {
            Carriage.Up or Carriage.FewerPairs => step with { Do = $"{step.Do} {said.Up}" },
            Carriage.Undetermined => step with { Do = $"{step.Do} {said.Unknown}", Proof = $"the SAs that are up" },
            Carriage.NoTraffic => step with
            {
                Do = $"{step.Do} Expect no traffic{Because(found.Why)}",
                Proof = $"the SAs that are up",
            },
            _ => step with { Do = $"{step.Do} {said.Down}{Because(found.Why)}", Proof = said.NoSa },
        };

    private static Sentence Because(Sentence? why) =>
        why is null ? Sentence.Plain(".") : Sentence.Of($": {why.Dotted()}");
}
