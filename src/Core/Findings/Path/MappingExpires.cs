using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-18: nothing keeps the mapping of a NAT alive while the tunnel is idle.</summary>
public static class MappingExpires
{
    /// <summary>A NAT may forget a UDP mapping after this, in seconds (RFC 4787 section 4.3, REQ-5).</summary>
    private const long Mapping = 120;

    /// <summary>NAT keepalive off, or less often than a NAT needs (PATH-18).</summary>
    public static readonly Check Check = new("PATH-18", "the mapping of a NAT can expire", c =>
        from e in c.View.Ends
        where e.Uplinks.FirstOrDefault()?.Nat is { Type: NatKind.Napt }
        let keepalive = e.Get(Settings.NatKeepalive).Value
        where keepalive is not null && !(keepalive.Time?.InSeconds <= Mapping) && !ProbesSoon(e)
        select new Finding
        {
            Severity = Severity.Risk,
            Subject = e.Name.ToString(),
            RowKey = Settings.NatKeepalive,
            What = keepalive.Time is { } every
                ? Sentence.Of($"{e.Name} is behind NAPT and sends a NAT keepalive every {every.ToString()}.")
                : Sentence.Of($"{e.Name} is behind NAPT and sends no NAT keepalive."),
            Why =
                $"A NAT may forget the mapping of an idle tunnel after two minutes; {e.Name.Other()}'s packets then do not "
                + $"arrive.",
            Do = $"Set the NAT keepalive at {e.Name} to 20 s.",
            Standard = "RFC 3948 section 4; RFC 4787 section 4.3",
            Evidence = Checked.Of(c.Row(Settings.NatKeepalive)),
        }
    );

    /// <summary>Dead peer detection sends through the same mapping.</summary>
    private static bool ProbesSoon(EndView e) =>
        e.Get(Settings.Dpd).Value?.Interval?.InSeconds is { } every && every <= Mapping;
}
