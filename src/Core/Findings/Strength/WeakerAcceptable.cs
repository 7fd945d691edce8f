using Vellumkeep.Core.Calculations;
using Grades = Vellumkeep.Core.Calculations.Strength;

namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-07: both ends would also take something weaker, or older, than what they choose.</summary>
public static class WeakerAcceptable
{
    /// <summary>A weaker proposal or an older IKE version is acceptable (STR-07).</summary>
    public static readonly Check Check = new("STR-07", "a weaker proposal or an older IKE version is acceptable", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        if (c.View.Ends.All(e => e.Get(Settings.IkeVersions).Value?.Items is { Length: > 1 }))
            yield return new()
            {
                Severity = Severity.Risk,
                Subject = "version",
                RowKey = Settings.IkeVersions,
                What = $"Both ends also accept IKEv1, though they prefer IKEv2.",
                Why = $"An attacker in the path can make them fall back.",
                Do = $"Disable IKEv1 at both ends.",
                Standard = "RFC 7296 section 2.5",
                Evidence = Checked.Of(c.Row(Settings.IkeVersions)),
            };
        if (c.Negotiations.FirstOrDefault(r => r.Ike is not null)?.Ike is { } chosen)
        {
            var weaker = Common(c, Settings.IkeProposals)
                .Where(p => Grades.Of(p).Bits < Grades.Of(chosen).Bits && p.CarriedBy(c.View.Version))
                .MinBy(p => Grades.Of(p).Bits);
            if (weaker is not null)
                yield return Of(
                    c,
                    Settings.IkeProposals,
                    "IKE",
                    chosen.ToString(),
                    Graded.Of(weaker),
                    Grades.Of(chosen).Bits
                );
        }

        if (
            c.Negotiations.FirstOrDefault(r => r.Esp is not null)?.Esp is { } esp
            && Common(c, Settings.EspProposals)
                .Where(p => Grades.Of(p).Bits < Grades.Of(esp).Bits && p.CarriedBy(c.View.Version))
                .MinBy(p => Grades.Of(p).Bits)
                is { } lesser
        )
            yield return Of(c, Settings.EspProposals, "ESP", esp.ToString(), Graded.Of(lesser), Grades.Of(esp).Bits);
    }

    private static IEnumerable<T> Common<T>(Checked c, Setting<Several<T>> setting)
        where T : class =>
        (c.View.A.Get(setting).Value?.Items ?? []).Intersect(c.View.B.Get(setting).Value?.Items ?? []);

    private static Finding Of(Checked c, RowKey row, string layer, string chosen, Graded weaker, int bits) =>
        new()
        {
            Severity = Severity.Risk,
            Subject = layer,
            RowKey = row,
            What =
                $"Both ends also accept {weaker.Proposal} for {layer:w} with "
                + $"{(weaker.Bits == 0 ? "under 80" : weaker.Bits.ToString(CultureInfo.InvariantCulture)):w} "
                + $"bits, though {chosen} of {bits} is chosen.",
            Why =
                $"An error at one end, or an attacker in the path, brings the tunnel up with the weaker one, and nobody notices.",
            Do = $"Check that {chosen} is in use, then remove {weaker.Proposal} at both ends.",
            Evidence = Checked.Of(c.Row(row)),
        };
}
