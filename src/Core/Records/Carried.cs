namespace Vellumkeep.Core.Records;

/// <summary>
/// Whether a version of IKE has an identifier for something. IKEv2 has one for all that is known here, and so has a
/// version that is not known yet.
/// </summary>
public static class Carried
{
    /// <summary>Whether the version can carry it in an IKE SA.</summary>
    public static bool CarriedBy(this IkeProposal proposal, IkeVersion? version) =>
        InIke(proposal.Encryption, version) && proposal.Group.CarriedBy(version);

    /// <summary>Whether the version can carry it in ESP.</summary>
    public static bool CarriedBy(this EspProposal proposal, IkeVersion? version) => InEsp(proposal.Encryption, version);

    /// <summary>Whether the version has a code point for the group.</summary>
    public static bool CarriedBy(this DhGroup group, IkeVersion? version) =>
        version != IkeVersion.IKEv1 || group.InIkev1;

    /// <summary>Whether a cipher can protect the IKE SA of a version: IKEv1 has no combined mode in phase 1.</summary>
    public static bool InIke(Encryption cipher, IkeVersion? version) =>
        version != IkeVersion.IKEv1 || cipher.Ikev1Number is not null;

    /// <summary>
    /// Whether a version can agree a cipher for ESP: IKEv1 has no identifier for ChaCha20-Poly1305 (IANA IPsec ESP
    /// transform identifiers).
    /// </summary>
    public static bool InEsp(Encryption cipher, IkeVersion? version) =>
        version != IkeVersion.IKEv1 || cipher.Ikev1EspNumber is not null;
}
