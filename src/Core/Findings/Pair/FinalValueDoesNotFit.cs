using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-21: the tunnel comes up with its temporary values, and not with the final ones.</summary>
public static class FinalValueDoesNotFit
{
    /// <summary>Fits only as long as a temporary value stays (PAIR-21).</summary>
    public static readonly Check Check = new("PAIR-21", "fits only as long as a temporary value stays", Run);

    /// <summary>A value that stands only for now.</summary>
    private sealed record ForNow(EndName End, RowKey Row, string Label, IResolved Value);

    private static IEnumerable<ForNow> Temporary(EndView e) =>
        Settings
            .All.Select(s => new ForNow(e.Name, s, s.Label, s.On(e)))
            .Append(new(e.Name, RowKey.AddressOf(e.Name.Other()), "Peer address", e.PeerAddress))
            .Append(new(e.Name, RowKey.IdentityOf(e.Name), "Identity sent", e.IdentitySent))
            .Append(new(e.Name, RowKey.IdentityOf(e.Name.Other()), "Identity expected", e.IdentityExpected))
            .Where(x => x.Value.Until is not null);

    /// <summary>The rehearsal that does worse with other values than it does now; null when none does.</summary>
    private static Rehearsal? Worse(Checked now, Checked after) =>
        now
            .Negotiations.Where(r => r.ComesUp)
            .Select(r => (Was: r, Then: after.Negotiated(r.Initiator)))
            .Where(x =>
                (x.Then.Stop is not null && (!x.Then.ComesUp || x.Then.Passing.Length < x.Was.Passing.Length))
                || (x.Then.FailsLater && !x.Was.FailsLater)
            )
            .Select(x => x.Then)
            .FirstOrDefault();

    private static IEnumerable<Finding> Run(Checked c)
    {
        ForNow[] temporary = [.. c.View.Ends.SelectMany(Temporary)];
        if (temporary.Length == 0 || c.Negotiations.All(r => !r.ComesUp))
            yield break;
        var after = new Checked(c.View.WithFinalValues());
        if (Worse(c, after) is not { } then)
            yield break;
        // The one that breaks it by itself is named; where only all together do, the one that is due first.
        var byDay = temporary.OrderBy(t => t.Value.Until!.Value.Deadline).ToArray();
        var culprit = byDay.FirstOrDefault(t => Worse(c, new(c.View.WithFinalValue(t.End, t.Row))) is not null);
        if (culprit is not null)
        {
            after = new(c.View.WithFinalValue(culprit.End, culprit.Row));
            then = Worse(c, after)!;
        }

        var (end, _, label, value) = culprit ?? byDay[0];
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
