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
        if (sender.IdentitySent.Value is not { } s || sender.Other.IdentityExpected.Value is not { } x || s == x)
            return null;
        var sameKind = s.Type == x.Type;
        var fault =
            sameKind && s.Value.Trim() == x.Value.Trim() ? IdentityFault.BlanksOnly
            : sameKind && string.Equals(s.Value, x.Value, StringComparison.OrdinalIgnoreCase) ? IdentityFault.CaseOnly
            : s.Type == IdentityKind.Address && Address.Parse(s.Value) is { Ok: true, Value.IsPrivate: true }
                ? IdentityFault.PrivateAddress
            : !sameKind && s.Value == x.Value ? IdentityFault.KindOnly
            : IdentityFault.Other;
        return new(sender.Name, s, x, fault, sender.Other.Platform.ComparesNamesByOctet);
    }
}
