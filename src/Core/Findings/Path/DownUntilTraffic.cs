namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-08.</summary>
public static class DownUntilTraffic
{
    /// <summary>Start on traffic at both ends and no keepalive (PATH-08).</summary>
    public static readonly Check Check = new("PATH-08", "start on traffic at both ends and no keepalive", c =>
        c.View.Ends.All(e => e.Get(Settings.Start).Value?.Value == Start.OnTraffic)
        && c.View.Ends.All(e => e.Get(Settings.Keepalive).Value is null or { IsAny: true })
            ?
            [
                new Finding
                {
                    Code = "PATH-08",
                    Severity = Severity.Note,
                    RowKey = Settings.Start.Key,
                    What = $"Both ends start on traffic, and none sends keepalives.",
                    Why = $"It is down until somebody sends, and the first packets wait or are lost.",
                    Do = $"Let one end start always, or send keepalives from the branch.",
                    Evidence = Checked.Of(c.Row(Settings.Start.Key)),
                },
            ]
            : []
    );
}
