namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-08.</summary>
public static class DownUntilTraffic
{
    /// <summary>Start on traffic at both ends and no keepalive (PATH-08).</summary>
    public static readonly Check Check = new("PATH-08", "both ends initiate on traffic only, no keepalive", c =>
        c.View.Ends.All(e => e.Get(Settings.Initiation).Value?.Value == Initiation.OnTraffic)
        && c.View.Ends.All(e => e.Get(Settings.Keepalive).Value is null or { At: null })
            ?
            [
                new Finding
                {
                    Severity = Severity.Note,
                    RowKey = Settings.Initiation,
                    What = $"Both ends initiate only on traffic, and neither sends keepalives.",
                    Why = $"The tunnel is down until traffic is sent, and the first packets are delayed or lost.",
                    Do = $"Set initiation to 'always' at one end, or send keepalives from the spoke.",
                    Evidence = Checked.Of(c.Row(Settings.Initiation)),
                },
            ]
            : []
    );
}
