using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Keys;

/// <summary>
/// KEY-07 to KEY-10: what the verifier would refuse of a certificate, read off the rehearsal; KEY-07 also when it soon
/// ends.
/// </summary>
public static class CertificateFails
{
    /// <summary>How many days before its end a certificate should have been renewed.</summary>
    private const int LeadDays = 30;

    /// <summary>Certificate expires soon, has expired, or is not yet valid (KEY-07).</summary>
    public static readonly Check Dates = new(
        "KEY-07",
        "certificate expires soon, has expired, or is not yet valid",
        c =>
            [
                .. Refused(
                    c,
                    "KEY-07",
                    $"No authentication succeeds from that day on; a tunnel that is up falls at its next one.",
                    $"Renew it now, and bring the new one to its end.",
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
                        Code = "KEY-07",
                        Severity = Severity.Risk,
                        Subject = $"{e.Name}:soon",
                        RowKey = Settings.Authentication.Key,
                        What =
                            $"{e.Name}'s certificate is valid until {Scalars.Write(e.End.Certificate!.Until!.Value)}: {Say.Count(e.End.Certificate.Until.Value.DayNumber - c.View.Today.DayNumber, "day"):w} left.",
                        Why = $"Renewing takes an ca, two ends and a window.",
                        Do = $"Plan the renewal at {e.Name} now.",
                        Consequence =
                            $"{e.Name}'s certificate ends in {Say.Count(e.End.Certificate.Until.Value.DayNumber - c.View.Today.DayNumber, "day"):w}.",
                        Standard = "RFC 5280 section 4.1.2.5",
                        Evidence = Of(c, e.Name),
                    }),
            ]
    );

    /// <summary>No name in the certificate for the identity sent (KEY-08).</summary>
    public static readonly Check Names = new("KEY-08", "no name in the certificate for the identity sent", c =>
        Refused(
            c,
            "KEY-08",
            $"The verifier looks for the identity among the certificate's names and finds none: AUTHENTICATION_FAILED.",
            $"Have it issued with that name, or send an identity that it bears.",
            "RFC 4945 section 3.1"
        )
    );

    /// <summary>Anchors not shared (KEY-09).</summary>
    public static readonly Check Anchors = new("KEY-09", "anchors not shared", c =>
        Refused(
            c,
            "KEY-09",
            $"A chain that ends on no anchor of the verifier proves nothing to it.",
            $"Bring the ca's certificate to the verifier, and compare its fingerprint by voice.",
            "RFC 5280 section 6"
        )
    );

    /// <summary>Usage does not allow it (KEY-10).</summary>
    public static readonly Check Usage = new("KEY-10", "usage does not allow it", c =>
        Refused(
            c,
            "KEY-10",
            $"The verifier refuses a certificate that was not made for this.",
            $"Have it issued again with a usage that allows it to sign.",
            "RFC 4945 section 5.1.3.2"
        )
    );

    private static IEnumerable<Finding> Refused(Checked c, string code, Sentence why, Sentence fix, string standard) =>
        c
            .Rehearsals.SelectMany(r => r.Obstacles.Where(o => o.Code == code).Select(o => (r, o)))
            .DistinctBy(x => (x.o.Cause, x.o.RefusedBy))
            .Select(x => new Finding
            {
                Code = code,
                Severity = Severity.Blocks,
                Subject = x.o.RefusedBy!.Value.Other().ToString() + ":" + ((CertificateRefused)x.o.Cause).Fault,
                RowKey = Settings.Authentication.Key,
                What = FindingText.Why(c, x.r, x.o),
                Why = why,
                Do = fix,
                Consequence =
                    $"{x.o.RefusedBy.Value} refuses {x.o.RefusedBy.Value.Other()}'s certificate: {(((CertificateRefused)x.o.Cause).Fault switch
            {
                CertificateFault.NotTrusted => "it does not hold the ca as an anchor",
                CertificateFault.Expired => "it has expired",
                CertificateFault.NotYetValid => "it is not valid yet",
                CertificateFault.NameMissing => "it does not bear the name that is sent",
                _ => "its usage does not allow it",
            }):w}.",
                Standard = standard,
                Evidence = Of(c, x.o.RefusedBy.Value.Other()),
            });

    private static ImmutableArray<Evidence> Of(Checked c, EndName end) =>
        c.View.End(end).End.Certificate is { } x
            ?
            [
                new Evidence(
                    end,
                    "Certificate",
                    $"{(x.Names.IsEmpty ? "no name" : string.Join(", ", x.Names))}, issued by {x.Ca}, until {(x.Until is { } u ? Scalars.Write(u) : "not known")}",
                    c.View.End(end).Gateway.Code
                ),
            ]
            : [];
}
