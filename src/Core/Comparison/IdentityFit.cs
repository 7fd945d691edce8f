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
            || Written(sender, s, x) != NameFit.Unlike
        )
            return null;
        return new(sender.Name, s, x, FaultOf(s, x), sender.Other.Platform.ComparesNamesByOctet);
    }

    /// <summary>Whether they are the same only if the platforms write distinguished names in opposite order.</summary>
    internal static bool SameIfReversed(EndView sender) =>
        sender.IdentitySent.Value is { } s
        && sender.Other.IdentityExpected.Value is { } x
        && Written(sender, s, x) == NameFit.SameIfReversed;

    private static NameFit Written(EndView sender, Identity sent, Identity expected) =>
        NameMatch.Of(sent, sender.Platform.WritesNames, expected, sender.Other.Platform.WritesNames);

    private static IdentityFault FaultOf(Identity sent, Identity expected)
    {
        var sameKind = sent.Type == expected.Type;
        if (sameKind && NameMatch.Same(sent, expected))
            return IdentityFault.OrderOnly;
        if (sameKind && sent.Value.Trim() == expected.Value.Trim())
            return IdentityFault.BlanksOnly;
        if (NameMatch.OnlyCase(sent, expected))
            return IdentityFault.CaseOnly;
        if (sent.Type == IdentityKind.Address && Address.Parse(sent.Value) is { Ok: true, Value.IsPrivate: true })
            return IdentityFault.PrivateAddress;
        return !sameKind && sent.Value == expected.Value ? IdentityFault.KindOnly : IdentityFault.Other;
    }
}
