using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>
/// Identity sent against identity expected: the kind first, then the value (RFC 7296 section 3.5). Used by comparison
/// and rehearsal alike.
/// </summary>
internal static class IdentityFit
{
    /// <summary>How they differ; null when they are equal, or one of them is not known.</summary>
    internal static IdentityDiffers? Of(EndView sender)
    {
        if (
            sender.IdentitySent.Value is not { } s
            || sender.Other.IdentityExpected.Value is not { } x
            || NameMatch.Same(s, x)
        )
            return null;
        return new(sender.Name, s, x, FaultOf(s, x), sender.Other.Platform.ComparesNamesByOctet);
    }

    private static IdentityFault FaultOf(Identity sent, Identity expected)
    {
        var sameKind = sent.Type == expected.Type;
        if (sameKind && sent.Value.Trim() == expected.Value.Trim())
            return IdentityFault.BlanksOnly;
        if (NameMatch.OnlyCase(sent, expected))
            return IdentityFault.CaseOnly;
        if (sent.Type == IdentityKind.Address && Address.Parse(sent.Value) is { Ok: true, Value.IsPrivate: true })
            return IdentityFault.PrivateAddress;
        return !sameKind && sent.Value == expected.Value ? IdentityFault.KindOnly : IdentityFault.Other;
    }
}
