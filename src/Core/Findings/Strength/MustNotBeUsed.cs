namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-01, graded by RFC 8247 for IKE and RFC 8221 for ESP.</summary>
public static class MustNotBeUsed
{
    /// <summary>An algorithm that MUST NOT be used (STR-01).</summary>
    public static readonly Check Check = new("STR-01", "an algorithm that MUST NOT be used", c =>
        Requirements.Find(c, Requirement.MustNot, "MUST NOT")
    );
}
