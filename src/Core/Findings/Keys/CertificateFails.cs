using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Keys;

/// <summary>
/// KEY-07 to KEY-10: what the verifier would refuse of a certificate, read off the rehearsal; KEY-07 also when it soon
/// ends.
/// </summary>
public static class CertificateFails
{
    /// <summary>How many days before its end a new certificate should be there.</summary>
    private const int LeadDays = 30;

    /// <summary>Certificate expires soon, has expired, or is not yet valid (KEY-07).</summary>
    public static readonly Check Dates = new(
        "KEY-07",
        "certificate expires soon, has expired, or is not yet valid",
        c =>
            [
                .. Refused(
                    c,
                    Dates!,
                    $"From that day on every authentication fails. A tunnel that is up goes down at its next one.",
                    $"Get a new certificate now, and install it at its end.",
                    "RFC 5280 section 4.1.2.5"
                ),
                .. c
                    .View.Ends.Where(e =>
                        e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate
                        && e.End.Certificate?.Until is { } until
                        && until >= c.View.Today
                        && until.AddDays(-LeadDays) <= c.View.Today
                    )
                    .Select(e => new Finding
                    {
                        Severity = Severity.Risk,
                        Subject = $"{e.Name}:soon",
                        RowKey = Settings.Authentication,
                        What =
                            $"{e.Name}'s certificate is valid until "
                            + $"{Scalars.Write(e.End.Certificate!.Until!.Value)}: "
                            + $"{Say.Count(e.End.Certificate.Until.Value.DayNumber - c.View.Today.DayNumber, "day"):w} "
                            + $"left.",
                        Why = $"A new certificate needs the CA, both ends and a window.",
                        Do = $"Plan the new certificate at {e.Name} now.",
                        Consequence =
                            $"{e.Name}'s certificate expires in "
                            + $"{Say.Count(e.End.Certificate.Until.Value.DayNumber - c.View.Today.DayNumber, "day"):w}.",
                        Standard = "RFC 5280 section 4.1.2.5",
                        Evidence = Of(c, e.Name),
                    }),
            ]
    )
    {
        Meets = cause =>
            cause is CertificateRefused { Fault: CertificateFault.NotYetValid or CertificateFault.Expired },
    };

    /// <summary>No name in the certificate for the identity sent (KEY-08).</summary>
    public static readonly Check Names = new("KEY-08", "no SAN in the certificate for the identity sent", c =>
        Refused(
            c,
            Names!,
            $"The verifier looks for the identity in the certificate's SANs and finds none: AUTHENTICATION_FAILED.",
            $"Have the CA issue it with that SAN, or send an identity that is in the certificate.",
            "RFC 4945 section 3.1"
        )
    )
    {
        Meets = cause => cause is CertificateRefused { Fault: CertificateFault.NameMissing },
    };

    /// <summary>Anchors not shared (KEY-09).</summary>
    public static readonly Check Anchors = new("KEY-09", "CA not a trust anchor at the other end", c =>
        Refused(
            c,
            Anchors!,
            $"The verifier rejects a chain that does not end at one of its trust anchors.",
            $"Install the CA certificate at the verifier, and compare its fingerprint by telephone.",
            "RFC 5280 section 6"
        )
    )
    {
        Meets = cause => cause is CertificateRefused { Fault: CertificateFault.NotTrusted },
    };

    /// <summary>Usage does not allow it (KEY-10).</summary>
    public static readonly Check Usage = new("KEY-10", "key usage does not allow authentication", c =>
        Refused(
            c,
            Usage!,
            $"The verifier rejects a certificate whose key usage does not allow it.",
            $"Have the CA issue it again with the key usage digitalSignature.",
            "RFC 4945 section 5.1.3.2"
        )
    )
    {
        Meets = cause => cause is CertificateRefused { Fault: CertificateFault.UsageForbids },
    };

    private static IEnumerable<Finding> Refused(Checked c, Check check, Sentence why, Sentence fix, string standard) =>
        c.Met(check)
            .Select(x => new Finding
            {
                Severity = Severity.Blocks,
                Subject =
                    x.Obstacle.RefusedBy!.Value.Other().ToString() + ":" + ((CertificateRefused)x.Obstacle.Cause).Fault,
                RowKey = Settings.Authentication,
                What = FindingText.Why(c, x.Rehearsal, x.Obstacle),
                Why = why,
                Do = fix,
                Consequence =
                    $"{x.Obstacle.RefusedBy.Value} refuses {x.Obstacle.RefusedBy.Value.Other()}'s certificate: "
                    + $"{Fault(((CertificateRefused)x.Obstacle.Cause).Fault):w}.",
                Standard = standard,
                Evidence = Of(c, x.Obstacle.RefusedBy.Value.Other()),
            });

    private static string Fault(CertificateFault fault) =>
        fault switch
        {
            CertificateFault.NotTrusted => "its CA is not a trust anchor there",
            CertificateFault.Expired => "it has expired",
            CertificateFault.NotYetValid => "it is not valid yet",
            CertificateFault.NameMissing => "no SAN for the identity that is sent",
            _ => "its key usage does not allow authentication",
        };

    private static ImmutableArray<Evidence> Of(Checked c, EndName end) =>
        c.View.End(end).End.Certificate is { } x
            ?
            [
                new Evidence(
                    end,
                    "Certificate",
                    $"{(x.Names.IsEmpty ? "no name" : string.Join(", ", x.Names))}, CA {x.Ca}, until "
                        + $"{(x.Until is { } u ? Scalars.Write(u) : "not known")}",
                    c.View.End(end).Gateway.Code
                ),
            ]
            : [];
}
