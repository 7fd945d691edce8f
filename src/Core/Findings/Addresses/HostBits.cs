namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>
/// ADR-01. A prefix with host bits cannot be recorded: <see cref="Prefix.Parse"/> refuses it under this code on every
/// form, so nothing is left to find here.
/// </summary>
public static class HostBits
{
    /// <summary>Prefix with host bits, refused on entry (ADR-01).</summary>
    public static readonly Check Check = new("ADR-01", "prefix with host bits, refused on entry", _ => []);
}
