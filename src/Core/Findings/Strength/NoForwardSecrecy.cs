namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-06.</summary>
public static class NoForwardSecrecy
{
    /// <summary>No PFS (STR-06).</summary>
    public static readonly Check Check = new("STR-06", "no PFS", c =>
        c.View.A.Get(Settings.Pfs).Value is { } a
        && c.View.B.Get(Settings.Pfs).Value is { } b
        && a.Stance == PfsStance.Refused
        && b.Stance == PfsStance.Refused
            ?
            [
                new Finding(
                    "STR-06",
                    Severity.Risk,
                    "",
                    Settings.Pfs.Key,
                    [],
                    null,
                    $"PFS is off at both ends.",
                    $"Whoever learns one IKE SA's secret can read every child SA made under it.",
                    $"Require a group that both platforms can do, at both ends together.",
                    null,
                    "RFC 7296 section 2.12",
                    Checked.Of(c.Row(Settings.Pfs.Key))
                ),
            ]
            : []
    );
}
