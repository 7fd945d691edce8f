using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What a change leaves temporary, and what it ends.</summary>
internal static class StaysTemporary
{
    /// <summary>
    /// What stays temporary after the change: the value now, what it must become and by when; and which temporary
    /// values the change ends.
    /// </summary>
    public static IEnumerable<VerdictPart> Of(IEnumerable<TunnelStages> tunnels) =>
        from t in tunnels
        from then in t.Then.Ends
        from value in Values(t.Was.End(then.Name))
            .Zip(Values(then), (was, now) => (was.Label, Was: was.Value, Now: now.Value))
        let said = Told(t, then, value.Label, value.Was, value.Now)
        where said is not null
        select new VerdictPart(Tone.Weak, said);

    private static IEnumerable<(string Label, IResolved Value)> Values(EndView end) =>
        Settings
            .All.Select(s => (s.Label, Value: s.On(end)))
            .Append(("Peer address", end.PeerAddress))
            .Append(("Local identity", end.IdentitySent))
            .Append(("Remote identity", end.IdentityExpected));

    private static Sentence? Told(TunnelStages t, EndView end, string label, IResolved was, IResolved now)
    {
        if (now.Until is { } until)
            return $"{label:w} of {t.Then.Tunnel} at {end.Name} stays temporary ({now.Any?.ToString() ?? "nothing"}). Set "
                + $"{until.Final} by {Scalars.Write(until.Deadline)}.";
        if (was.Until is not { } had || t.Then.Tunnel.State == TunnelState.Retired)
            return null;
        var kept = now.Any?.ToString() ?? "nothing";
        return kept == had.Final
            ? Sentence.Of($"{label:w} of {t.Then.Tunnel} at {end.Name} becomes final: {had.Final}.")
            : Sentence.Of(
                $"{label:w} of {t.Then.Tunnel} at {end.Name} was temporary ({was.Any?.ToString() ?? "nothing"}, final "
                    + $"{had.Final}). The change ends that: it becomes {kept}."
            );
    }
}
