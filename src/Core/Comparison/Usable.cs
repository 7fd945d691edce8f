using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>
/// The proposals of an end that count: those that the version can carry and that the platform can do under it, as far
/// as its profile says. Used by comparison and rehearsal alike.
/// </summary>
internal static class Usable
{
    internal static ImmutableArray<IkeProposal> Ike(EndView end, IkeVersion? version)
    {
        var all = end.Get(Settings.IkeProposals).Value?.Items ?? [];
        return all.All(p => Can(end, p, version)) ? all : [.. all.Where(p => Can(end, p, version))];
    }

    internal static ImmutableArray<EspProposal> Esp(EndView end, IkeVersion? version)
    {
        var all = end.Get(Settings.EspProposals).Value?.Items ?? [];
        return all.All(p => Can(end, p, version)) ? all : [.. all.Where(p => Can(end, p, version))];
    }

    private static bool Can(EndView end, IkeProposal p, IkeVersion? version) =>
        (version != IkeVersion.IKEv1 || p.InIkev1)
        && Does(end, p.Encryption.Name, version)
        && (p.Integrity is null || Does(end, p.Integrity.Name, version))
        && Does(end, p.Group.Name, version)
        && (version == IkeVersion.IKEv1 || Does(end, p.Prf.Name, version));

    private static bool Can(EndView end, EspProposal p, IkeVersion? version) =>
        Does(end, p.Encryption.Name, version) && (p.Integrity is null || Does(end, p.Integrity.Name, version));

    private static bool Does(EndView end, string algorithm, IkeVersion? version) =>
        end.Platform.Can(algorithm, version) != false;
}
