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
            .Select(e => new Finding(
                "STR-13",
                Severity.Risk,
                e.Name.ToString(),
                Settings.Authentication.Key,
                [],
                null,
                $"{e.Name} does not check {Say.And(e.End.RelaxedChecks):w} of {e.Name.Other()}'s certificate.",
                $"Anyone with another certificate of the same issuer can stand in for {e.Name.Other()}.",
                $"Switch the check on at {e.Name}, once {e.Name.Other()}'s certificate passes it.",
                null,
                "RFC 4945 section 5.1",
                [new Evidence(e.Name, "Checks switched off", string.Join(", ", e.End.RelaxedChecks), e.Gateway.Code)]
            ))
    );
}
