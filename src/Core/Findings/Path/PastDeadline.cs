using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-15: a temporary value past its deadline, or a pending one nobody is assigned to.</summary>
public static class PastDeadline
{
    /// <summary>Temporary value past its deadline, pending value nobody is assigned to (PATH-15).</summary>
    public static readonly Check Check = new(
        "PATH-15",
        "temporary value past its deadline, or pending value without an owner",
        c =>
            c.View.Ends.SelectMany(e =>
                    Settings
                        .All.Select(s => Of(c, e.Name, s.Label, s, s.On(e)))
                        .Prepend(Of(c, e.Name, "Peer address", RowKey.AddressOf(e.Name.Other()), e.PeerAddress))
                )
                .OfType<Finding>()
    );

    private static Finding? Of(Checked c, EndName end, string label, RowKey row, Resolution.IResolved value)
    {
        if (value.Until is { } t && t.Deadline < c.View.Today)
            return new()
            {
                Severity = Severity.Risk,
                Subject = $"{end}:{row}",
                RowKey = row,
                What =
                    $"{label:w} at {end} is still the temporary value {value.Any!.ToString()}; {t.Final} was due on "
                    + $"{Scalars.Write(t.Deadline)}.",
                Why = $"Reason for the temporary value: {t.Reason:w}.",
                Do = $"Set {t.Final} at {end}, or set a new deadline with a reason.",
                Consequence =
                    $"{label:w} at {end} is still temporary, {(c.View.Today.DayNumber - t.Deadline.DayNumber)} days "
                    + $"past its deadline.",
                Evidence = Checked.Of(c.Row(row)),
            };
        if (value.Pending is { WhoKnows: null })
            return new()
            {
                Severity = Severity.Risk,
                Subject = $"{end}:{row}",
                RowKey = row,
                What = $"{label:w} at {end} is pending, and nobody is named who will supply it.",
                Why = $"Work that needs it cannot begin.",
                Do = $"Enter who will supply it, and by when.",
                Evidence = Checked.Of(c.Row(row)),
            };
        return null;
    }
}
