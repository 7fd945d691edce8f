using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-07. Says so when only kind, blanks or case differ, or when a private address is sent.</summary>
public static class IdentityNotExpected
{
    /// <summary>Identity sent is not the identity expected (PAIR-07).</summary>
    public static readonly Check Check = new("PAIR-07", "identity sent is not the identity expected", c =>
        c.Differences<IdentityDiffers>().Select(d => Of(c, d.Row, d.Difference))
    )
    {
        Meets = cause => cause is IdentityRefused,
    };

    private static Finding Of(Checked c, Row row, IdentityDiffers d)
    {
        var verifier = d.Sender.Other();
        var platform = c.View.End(verifier).Platform.Title;
        var caseOnly = d.Fault == IdentityFault.CaseOnly;
        var severity = !caseOnly || d.ComparedByOctet == true ? Severity.Blocks : Severity.Note;
        Sentence only = d.Fault switch
        {
            IdentityFault.CaseOnly when d.ComparedByOctet == true =>
                $" They differ only in upper and lower case, and {platform} compares octet by octet.",
            IdentityFault.CaseOnly when d.ComparedByOctet == false =>
                $" They differ only in upper and lower case, which {platform} ignores.",
            IdentityFault.CaseOnly =>
                $" They differ only in upper and lower case. The profile of {platform} does not say whether it ignores that.",
            IdentityFault.BlanksOnly => Sentence.Plain(" They differ only in trailing blanks."),
            IdentityFault.KindOnly => Sentence.Plain(
                " Only the identity type differs, and the type is compared first."
            ),
            IdentityFault.PrivateAddress =>
                $" {d.Sent.Value} is the private address on the device: {d.Sender} is behind NAT.",
            _ => Sentence.Plain(""),
        };
        Sentence because = d.Fault switch
        {
            IdentityFault.PrivateAddress => $"{d.Sender} sends its private address from behind NAT",
            IdentityFault.CaseOnly => Sentence.Plain("only upper and lower case differ"),
            IdentityFault.BlanksOnly => Sentence.Plain("only a trailing blank differs"),
            _ => $"{d.Sent.ToString()} is sent, {d.Expected.ToString()} expected",
        };
        return new()
        {
            Severity = severity,
            Subject = d.Sender.ToString(),
            RowKey = row.Key,
            What = $"{d.Sender} sends {d.Sent.ToString()}; {verifier} expects {d.Expected.ToString()}.{only}",
            Why =
                severity == Severity.Blocks
                    ? Sentence.Of(
                        $"{verifier} refuses the identity in IKE_AUTH (in IKEv1: in phase 1) with AUTHENTICATION_FAILED."
                    )
                    : Sentence.Of($"It passes today. Another platform at {verifier} can compare octet by octet."),
            Do =
                d.Fault == IdentityFault.PrivateAddress
                    ? Sentence.Of(
                        $"Set {d.Expected.ToString()} (or a name) as the identity that {d.Sender} sends, and expect "
                            + $"the same at {verifier}."
                    )
                    : Sentence.Of(
                        $"Set {d.Sent.ToString()} as the expected identity at {verifier}, or set "
                            + $"{d.Expected.ToString()} as the identity that {d.Sender} sends."
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
