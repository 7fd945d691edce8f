using Vellumkeep.Core.Calculations;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-06: no MSS clamp, or one too large for this encapsulation; shows the calculation.</summary>
public static class MssTooLarge
{
    /// <summary>No MSS clamp, or wrong for this encapsulation (PATH-06).</summary>
    public static readonly Check Check = new("PATH-06", "no MSS clamp, or wrong for this encapsulation", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        if (c.Negotiations.FirstOrDefault(r => r.Esp is not null) is not { } r || c.View.Tunnel.Agreed.Pairs.IsEmpty)
            yield break;
        foreach (var e in c.View.Ends)
        {
            if (
                e.Get(Settings.MssClamp).Value is not { } clamp
                || e.Uplinks.FirstOrDefault() is not { Mtu: { } mtu } uplink
            )
                continue;
            var family = (e.Outer ?? uplink.Address.Value?.Fixed)?.Family ?? Family.IPv4;
            var mode = e.Get(Settings.EspMode).Value?.Value ?? EspMode.Tunnel;
            var wrap = e.Get(Settings.InterfaceEncapsulation).Value?.Value ?? InterfaceEncapsulation.None;
            if (
                PacketCalculation.Of(r.Esp!, family, r.Encapsulated, mtu, mode, wrap)
                is not { Ok: true, Value: var calculation }
            )
                continue;
            var six = c.View.Tunnel.Agreed.Pairs.Any(p => p.A.Family == Family.IPv6);
            var most = six ? calculation.MssIPv6 : calculation.MssIPv4;
            if (clamp.Octets is { } set && set <= most)
                continue;
            Sentence working =
                $"{mtu} less {string.Join(", ", calculation.Terms.Select(t => $"{t.Octets} {t.What}")):w} leaves "
                + $"{calculation.Left}, in blocks of {calculation.Alignment} {calculation.Aligned}, less 2 "
                + $"{string.Concat(calculation.Inside.Select(t => $"and {t.Octets} {t.What} ")):w}"
                + $"{calculation.Inner}, less {(six ? 60 : 40)} {most}.";
            yield return new()
            {
                Severity = Severity.Degrades,
                Subject = e.Name.ToString(),
                RowKey = Settings.MssClamp,
                What = clamp.Octets is { } now
                    ? Sentence.Of($"{e.Name} clamps the MSS to {now}; at most {most} fits.")
                    : Sentence.Of($"{e.Name} has no MSS clamp; at most {most} fits."),
                Why = $"Larger segments are fragmented or dropped, and their connections hang. {working}",
                Do = $"Set the MSS clamp to {most} at {e.Name}.",
                Consequence = $"Large packets hang at {e.Name}: MSS of at most {most} fits.",
                Standard = "RFC 4303 section 2; RFC 6691",
                Evidence = Checked.Of(c.Row(Settings.MssClamp)),
            };
        }
    }
}
