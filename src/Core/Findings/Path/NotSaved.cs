namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-14.</summary>
public static class NotSaved
{
    /// <summary>Entered but not active, or active but not saved (PATH-14).</summary>
    public static readonly Check Check = new("PATH-14", "entered but not active, or active but not saved", c =>
        c.View.Ends.Where(e =>
                (e.End.Progress.Entered is not null && e.End.Progress.Active is null)
                || (
                    e.End.Progress.Active is not null
                    && e.End.Progress.Saved is null
                    && e.Platform.SavedSeparately == true
                )
            )
            .Select(e =>
            {
                var notActive = e.End.Progress.Active is null;
                return new Finding
                {
                    Severity = Severity.Risk,
                    Subject = e.Name.ToString(),
                    What =
                        $"{e.Name}'s side was "
                        + $"{(notActive ? "entered but not activated" : "activated but not saved"):w} on "
                        + $"{e.Gateway.Code}.",
                    Why = notActive
                        ? Sentence.Of($"It is not in effect yet, even if the device's screens show it.")
                        : Sentence.Of($"It is lost when the device restarts."),
                    Do =
                        $"{(notActive ? "Activate and save" : "Save the configuration of"):w} {e.Gateway.Code}, then record it.",
                    Consequence = notActive
                        ? Sentence.Of($"{e.Name}'s side is entered on {e.Gateway.Code} but not active.")
                        : Sentence.Of($"{e.Gateway.Code} loses it at a restart: not saved."),
                    Evidence =
                    [
                        new Evidence(
                            e.Name,
                            "Progress",
                            notActive ? "entered, not active" : "active, not saved",
                            e.Gateway.Code
                        ),
                    ],
                };
            })
    );
}
