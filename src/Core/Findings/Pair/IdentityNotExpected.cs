using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-07. Says so when only kind, blanks or case differ, or when a private address is sent.</summary>
public static class IdentityNotExpected
{
    /// <summary>Identity sent is not the identity expected (PAIR-07).</summary>
    public static readonly Check Check = new("PAIR-07", "identity sent is not the identity expected", c =>
        c.Differences<IdentityDiffers>().Select(d => Of(c, d.Row, d.Difference))
    );

    private static Finding Of(Checked c, Row row, IdentityDiffers d)
    {
        var verifier = d.Sender.Other();
        var platform = c.View.End(verifier).Platform.Title;
        var caseOnly = d.Fault == IdentityFault.CaseOnly;
        var severity = !caseOnly || d.ComparedByOctet == true ? Severity.Blocks : Severity.Note;
        Sentence only = d.Fault switch
        {
            IdentityFault.CaseOnly when d.ComparedByOctet == true =>
                $" They differ only in case, and {platform} compares octets.",
            IdentityFault.CaseOnly when d.ComparedByOctet == false =>
                $" They differ only in case, which {platform} ignores.",
            IdentityFault.CaseOnly =>
                $" They differ only in case; the profile of {platform} does not say whether that matters.",
            IdentityFault.BlanksOnly => Sentence.Plain(" They differ only in blanks at the end."),
            IdentityFault.KindOnly => Sentence.Plain(" Only the kind differs, and the kind is compared first."),
            IdentityFault.PrivateAddress =>
                $" {d.Sent.Value} is the private address on the device: {d.Sender} sits behind translation.",
            _ => Sentence.Plain(""),
        };
        Sentence because = d.Fault switch
        {
            IdentityFault.PrivateAddress => Sentence.Plain("a private address is sent from behind translation"),
            IdentityFault.CaseOnly => Sentence.Plain("only the case differs"),
            IdentityFault.BlanksOnly => Sentence.Plain("only a blank differs"),
            _ => $"{d.Sent.ToString()} is sent, {d.Expected.ToString()} expected",
        };
        return new()
        {
            Code = "PAIR-07",
            Severity = severity,
            Subject = d.Sender.ToString(),
            RowKey = row.Key,
            What = $"{d.Sender} sends {d.Sent.ToString()}; {verifier} expects {d.Expected.ToString()}.{only}",
            Why =
                severity == Severity.Blocks
                    ? Sentence.Of(
                        $"{verifier} refuses the identity in IKE_AUTH (phase 1 under IKEv1): AUTHENTICATION_FAILED."
                    )
                    : Sentence.Of($"It passes today; another platform at {verifier} might compare octets."),
            Do =
                d.Fault == IdentityFault.PrivateAddress
                    ? Sentence.Of(
                        $"Let {d.Sender} send {d.Expected.ToString()}, or a name, and expect the same at {verifier}."
                    )
                    : Sentence.Of(
                        $"Set {d.Sent.ToString()} as the identity expected at {verifier}, or let {d.Sender} send {d.Expected.ToString()}."
                    ),
            Consequence =
                severity == Severity.Blocks
                    ? Sentence.Of($"{verifier} refuses {d.Sender}'s identity: {because}.")
                    : null,
            Standard = "RFC 7296 section 3.5",
            Evidence = Checked.Of(row),
        };
    }
}
