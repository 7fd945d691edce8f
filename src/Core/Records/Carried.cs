namespace Vellumkeep.Core.Records;

/// <summary>Whether a version of IKE has an identifier for every part of a proposal; one that is not known has.</summary>
public static class Carried
{
    /// <summary>Whether the version can carry it in an IKE SA.</summary>
    public static bool CarriedBy(this IkeProposal proposal, IkeVersion? version) =>
        version != IkeVersion.IKEv1 || proposal.InIkev1;

    /// <summary>Whether the version can carry it in ESP.</summary>
    public static bool CarriedBy(this EspProposal proposal, IkeVersion? version) =>
        version != IkeVersion.IKEv1 || proposal.InIkev1;
}
