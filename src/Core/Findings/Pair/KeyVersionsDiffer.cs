using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-10. Keys are compared by version.</summary>
public static class KeyVersionsDiffer
{
    public static readonly Check Check = new("PAIR-10", "key versions or directions differ", c => c.Differences<KeysDiffer>().Select(d => new Finding(
        "PAIR-10", Severity.Blocks, "", d.Row.Key, [], null,
        $"{EndName.A} holds key {d.Difference.A.ToString()}; {EndName.B} holds {d.Difference.B.ToString()}.",
        $"What one end signs with the other cannot verify: AUTHENTICATION_FAILED at the next authentication, though a tunnel that is up stays up until then.",
        $"Bring both ends to the newer version, and compare check codes.",
        $"The next authentication fails: {EndName.A} holds key {d.Difference.A.ToString()}, {EndName.B} {d.Difference.B.ToString()}.", "RFC 7296 section 2.15", Checked.Of(d.Row))));
}
