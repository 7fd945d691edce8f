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
                Code = "STR-07",
                Severity = Severity.Risk,
                Subject = "version",
                RowKey = Settings.IkeVersions.Key,
                What = $"Both ends also take IKEv1, though they prefer IKEv2.",
                Why = $"Whoever stands in between can make them fall back.",
                Do = $"Take IKEv1 out at both ends.",
                Standard = "RFC 7296 section 2.5",
                Evidence = Checked.Of(c.Row(Settings.IkeVersions.Key)),
            };
        if (c.Rehearsals.FirstOrDefault(r => r.Ike is not null)?.Ike is { } chosen)
        {
            var weaker = Common(c, Settings.IkeProposals)
                .Where(p =>
                    Grades.Of(p).Bits < Grades.Of(chosen).Bits && (c.View.Version == IkeVersion.IKEv2 || p.InIkev1)
                )
                .MinBy(p => Grades.Of(p).Bits);
            if (weaker is not null)
                yield return Of(
                    c,
                    Settings.IkeProposals.Key,
                    "IKE",
                    chosen.ToString(),
                    Graded.Of(weaker),
                    Grades.Of(chosen).Bits
                );
        }

        if (
            c.Rehearsals.FirstOrDefault(r => r.Esp is not null)?.Esp is { } esp
            && Common(c, Settings.EspProposals)
                .Where(p => Grades.Of(p).Bits < Grades.Of(esp).Bits)
                .MinBy(p => Grades.Of(p).Bits)
                is { } lesser
        )
            yield return Of(
                c,
                Settings.EspProposals.Key,
                "ESP",
                esp.ToString(),
                Graded.Of(lesser),
                Grades.Of(esp).Bits
            );
    }

    private static IEnumerable<T> Common<T>(Checked c, Setting<Several<T>> setting)
        where T : class =>
        (c.View.A.Get(setting).Value?.Items ?? []).Intersect(c.View.B.Get(setting).Value?.Items ?? []);

    private static Finding Of(Checked c, string row, string layer, string chosen, Graded weaker, int bits) =>
        new()
        {
            Code = "STR-07",
            Severity = Severity.Risk,
            Subject = layer,
            RowKey = row,
            What =
                $"Both ends also take {weaker.Proposal} for {layer:w}, of {(weaker.Bits == 0 ? "under 80" : weaker.Bits.ToString(CultureInfo.InvariantCulture)):w} bits, though {chosen} of {bits} is chosen.",
            Why =
                $"A mistake at one end, or somebody in between, brings the tunnel up with the weaker one, and nobody sees it.",
            Do = $"Take {weaker.Proposal} out at both ends, once it is seen that {chosen} is what runs.",
            Evidence = Checked.Of(c.Row(row)),
        };
}
