using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-21: the tunnel comes up with its temporary values, and not with the final ones.</summary>
public static class FinalValueDoesNotFit
{
    /// <summary>Fits only as long as a temporary value stays (PAIR-21).</summary>
    public static readonly Check Check = new("PAIR-21", "fits only as long as a temporary value stays", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        (EndName End, string Label, IResolved Value)[] temporary =
        [
            .. c
                .View.Ends.SelectMany(e =>
                    Settings
                        .All.Select(s => (e.Name, s.Label, s.On(e)))
                        .Append((e.Name, "Peer address", e.PeerAddress))
                        .Append((e.Name, "Identity sent", e.IdentitySent))
                        .Append((e.Name, "Identity expected", e.IdentityExpected))
                )
                .Where(x => x.Item3.Until is not null),
        ];
        if (temporary.Length == 0 || c.Negotiations.All(r => !r.ComesUp))
            yield break;
        var after = new Checked(c.View.WithFinalValues());
        var worse = c
            .Negotiations.Where(r => r.ComesUp)
            .Select(r => (Was: r, Then: after.Negotiated(r.Initiator)))
            .Where(x =>
                (x.Then.Stop is not null && (!x.Then.ComesUp || x.Then.Passing.Length < x.Was.Passing.Length))
                || (x.Then.FailsLater && !x.Was.FailsLater)
            )
            .ToArray();
        if (worse is not [var (_, then), ..])
            yield break;
        var (end, label, value) = temporary.MinBy(t => t.Value.Until!.Value.Deadline);
        var until = value.Until!.Value;
        var due = until.Deadline < c.View.Today;
        var why = then.Stop is { } stop ? FindingText.Why(after, then, stop) : FindingText.Later(then.Later!);
        yield return new()
        {
            Severity = due ? Severity.Blocks : Severity.Risk,
            RowKey = then.Stop?.RowKey,
            After = due ? 0 : null,
            What =
                $"{label:w} at {end} is the temporary value {value.Any!.ToString()} until {Scalars.Write(until.Deadline)}. "
                + $"With {until.Final} the tunnel does not fit: {why}",
            Why = $"The tunnel works only as long as the temporary value stays. Its reason: {until.Reason:w}.",
            Do = $"Make the other end fit {until.Final} before it is set at {end}, or correct the final value.",
            Consequence = $"Fits only until {until.Final} is set at {end}.",
            Evidence = [.. temporary.Select(t => new Evidence(t.End, t.Label, t.Value.Any!.ToString()!, "temporary"))],
        };
    }
}
