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

    /// <summary>
    /// Those that it can offer in one message: in aggressive mode it sends one key exchange value with the first
    /// message, so that only offers with the group of the first count (RFC 2409 section 5). Who answers is not bound to
    /// one.
    /// </summary>
    internal static ImmutableArray<IkeProposal> IkeOffers(EndView end, IkeVersion? version)
    {
        var able = Ike(end, version);
        if (InOneProposal(end, version))
            return Combinations.Of(able);
        return
            version == IkeVersion.IKEv1
            && end.Get(Settings.ExchangeMode).Value?.Value == ExchangeMode.Aggressive
            && able.Length > 0
            ? [.. able.Where(p => p.Group == able[0].Group)]
            : able;
    }

    /// <summary>Those of ESP that it can offer.</summary>
    internal static ImmutableArray<EspProposal> EspOffers(EndView end, IkeVersion? version) =>
        InOneProposal(end, version) ? Combinations.Of(Esp(end, version)) : Esp(end, version);

    /// <summary>
    /// Whether its algorithms go out as one proposal with several transforms of a type, which only IKEv2 has (RFC 7296
    /// section 3.3): the other end may then combine them as it likes.
    /// </summary>
    internal static bool InOneProposal(EndView end, IkeVersion? version) =>
        version != IkeVersion.IKEv1 && end.Platform.Offers == Offering.OneProposal;

    internal static ImmutableArray<EspProposal> Esp(EndView end, IkeVersion? version)
    {
        var all = end.Get(Settings.EspProposals).Value?.Items ?? [];
        return all.All(p => Can(end, p, version)) ? all : [.. all.Where(p => Can(end, p, version))];
    }

    private static bool Can(EndView end, IkeProposal p, IkeVersion? version) =>
        p.CarriedBy(version)
        && Does(end, p.Encryption.Name, version)
        && (p.Integrity is null || Does(end, p.Integrity.Name, version))
        && Does(end, p.Group.Name, version)
        && (version == IkeVersion.IKEv1 || Does(end, p.Prf.Name, version));

    private static bool Can(EndView end, EspProposal p, IkeVersion? version) =>
        p.CarriedBy(version)
        && Does(end, p.Encryption.Name, version)
        && (p.Integrity is null || Does(end, p.Integrity.Name, version));

    private static bool Does(EndView end, string algorithm, IkeVersion? version) =>
        end.Platform.Can(algorithm, version) != false;

    /// <summary>
    /// What of an agreed proposal nobody knows whether the end's platform can do it: set on the device or its default,
    /// it does; only agreed, its profile has to say so.
    /// </summary>
    internal static ImmutableArray<string> Unsure<T>(
        EndView end,
        Setting<Several<T>> setting,
        T chosen,
        IkeVersion? version
    )
        where T : class
    {
        if (end.Get(setting).Source != Source.Agreed)
            return [];
        string?[] members = chosen switch
        {
            IkeProposal p =>
            [
                p.Encryption.Name,
                p.Integrity?.Name,
                version == IkeVersion.IKEv1 ? null : p.Prf.Name,
                p.Group.Name,
            ],
            EspProposal p => [p.Encryption.Name, p.Integrity?.Name],
            _ => [],
        };
        return [.. members.OfType<string>().Where(m => end.Platform.Can(m, version) is null)];
    }
}
