using Grades = Vellumkeep.Core.Calculations.Strength;

namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-05: ESP stronger than the IKE SA that keys it.</summary>
public static class WeakestLink
{
    /// <summary>ESP stronger than the IKE SA that keys it (STR-05).</summary>
    public static readonly Check Check = new("STR-05", "ESP stronger than the IKE SA that keys it", c =>
        c.Negotiations.FirstOrDefault(r => r.Ike is not null && r.Esp is not null) is { } r
        && Grades.Of(r.Ike!) is var ike
        && Grades.Of(r.Esp!) is var esp
        && esp.Bits > ike.Bits
            ?
            [
                new Finding
                {
                    Severity = Severity.Note,
                    RowKey = Settings.IkeProposals,
                    What =
                        $"ESP has {esp.Bits} bits of strength; the IKE SA has only "
                        + $"{(ike.Bits == 0 ? "under 80" : ike.Bits.ToString(CultureInfo.InvariantCulture)):w}, "
                        + $"by {ike.Weakest}.",
                    Why = $"The traffic is protected only as well as the weaker of the two.",
                    Do = $"Use a stronger algorithm than {ike.Weakest} for IKE, or a shorter key for ESP.",
                    Standard = "NIST SP 800-57 part 1 section 5.6.3",
                    Evidence = Checked.Of(c.Row(Settings.IkeProposals)),
                },
            ]
            : []
    );
}
