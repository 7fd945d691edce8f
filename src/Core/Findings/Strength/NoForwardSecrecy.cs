namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-06.</summary>
public static class NoForwardSecrecy
{
    /// <summary>No PFS (STR-06).</summary>
    public static readonly Check Check = new("STR-06", "no PFS", c => c.View.A.Get(Settings.Pfs).Value is { } a
        && c.View.B.Get(Settings.Pfs).Value is { } b
        && a.Stance == PfsStance.Refused
        && b.Stance == PfsStance.Refused
            ?
            [
                new Finding
                {
                    Code = "STR-06",
                    Severity = Severity.Risk,
                    RowKey = Settings.Pfs.Key,
                    What = $"PFS is off at both ends.",
                    Why = $"Anyone who gets the keys of the IKE SA can decrypt every child SA made under it.",
                    Do = $"Require a DH group that both platforms support, at both ends at the same time.",
                    Standard = "RFC 7296 section 2.12",
                    Evidence = Checked.Of(c.Row(Settings.Pfs.Key)),
                },
            ]
            : []);
}
