namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-15: a temporary value past its deadline, or a pending one nobody is assigned to.</summary>
public static class PastDeadline
{
    public static readonly Check Check = new("PATH-15", "temporary value past its deadline, pending value nobody is assigned to", c =>
    [
        .. c.View.Ends.SelectMany(e => new[] { Of(c, e.Name, "Peer address", "addressOf" + e.Name.Other(), e.PeerAddress), }
            .Concat([Of(c, e.Name, Settings.IkeLifetime.Label, Settings.IkeLifetime.Key, e.Get(Settings.IkeLifetime)), Of(c, e.Name, Settings.EspLifetime.Label, Settings.EspLifetime.Key, e.Get(Settings.EspLifetime)),
                Of(c, e.Name, Settings.IkeProposals.Label, Settings.IkeProposals.Key, e.Get(Settings.IkeProposals)), Of(c, e.Name, Settings.EspProposals.Label, Settings.EspProposals.Key, e.Get(Settings.EspProposals))])).OfType<Finding>(),
    ]);

    private static Finding? Of<T>(Checked c, EndName end, string label, string row, Resolution.Resolved<T> value)
        where T : class
    {
        if (value.ForNow is { } t && t.Deadline < c.View.Today)
            return new("PATH-15", Severity.Risk, $"{end}:{row}", row, [], null,
                $"{label:w} at {end} is still the temporary {value.Value!.ToString()}; {t.Final.ToString()} was due on {Scalars.Write(t.Deadline)}.",
                $"It was entered only to get going: {t.Reason:w}.", $"Set {t.Final.ToString()} at {end}, or give it a new deadline with a reason.",
                $"{label:w} at {end} is still temporary, {(c.View.Today.DayNumber - t.Deadline.DayNumber)} days past its deadline.", null, Checked.Of(c.Row(row)));
        if (value.Pending is { WhoKnows: null })
            return new("PATH-15", Severity.Risk, $"{end}:{row}", row, [], null, $"{label:w} at {end} is pending and nobody is assigned to it.",
                $"Nothing that needs it can begin.", $"Say who will know it, and by when.", null, null, Checked.Of(c.Row(row)));
        return null;
    }
}
