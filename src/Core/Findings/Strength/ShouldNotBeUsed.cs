namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-02, graded by RFC 8247 for IKE and RFC 8221 for ESP.</summary>
public static class ShouldNotBeUsed
{
    /// <summary>An algorithm that SHOULD NOT be used (STR-02).</summary>
    public static readonly Check Check = new("STR-02", "an algorithm that SHOULD NOT be used", c =>
        Requirements.Find(c, Requirement.ShouldNot, "SHOULD NOT")
    );
}
