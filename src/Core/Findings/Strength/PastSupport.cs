namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-09: past support is a risk, the last half year before it a note.</summary>
public static class PastSupport
{
    /// <summary>Platform at or past end of support (STR-09).</summary>
    public static readonly Check Check = new("STR-09", "platform at or past end of support", c =>
        c.View.Ends.Where(e => e.Platform.SupportEnds is { } ends && ends.AddDays(-183) <= c.View.Today)
            .Select(e => new Finding
            {
                Severity = e.Platform.SupportEnds <= c.View.Today ? Severity.Risk : Severity.Note,
                Subject = e.Name.ToString(),
                What =
                    $"{e.Platform.Title} at {e.Name} "
                    + $"{(e.Platform.SupportEnds <= c.View.Today ? "is out of support since" : "is supported only until"):w} "
                    + $"{Scalars.Write(e.Platform.SupportEnds!.Value)}.",
                Why = $"Faults found in it are no longer fixed.",
                Do = $"Plan another platform for {e.Gateway.Code}.",
                Evidence =
                [
                    new Evidence(e.Name, "Support ends", Scalars.Write(e.Platform.SupportEnds!.Value), e.Platform.Code),
                ],
            })
    );
}
