namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-13.</summary>
public static class CheckRelaxed
{
    /// <summary>A certificate check is relaxed (STR-13).</summary>
    public static readonly Check Check = new("STR-13", "a certificate check is relaxed", c =>
        c.View.Ends.Where(e =>
                !e.End.RelaxedChecks.IsEmpty
                && e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate
            )
            .Select(e => new Finding
            {
                Severity = Severity.Risk,
                Subject = e.Name.ToString(),
                RowKey = Settings.Authentication,
                What = $"{e.Name} does not check {Say.And(e.End.RelaxedChecks):w} of {e.Name.Other()}'s certificate.",
                Why = $"Anyone with another certificate of the same CA can pose as {e.Name.Other()}.",
                Do = $"Check that {e.Name.Other()}'s certificate passes, then enable the check at {e.Name}.",
                Standard = "RFC 4945 section 5.1",
                Evidence =
                [
                    new Evidence(e.Name, "Checks disabled", string.Join(", ", e.End.RelaxedChecks), e.Gateway.Code),
                ],
            })
    );
}
