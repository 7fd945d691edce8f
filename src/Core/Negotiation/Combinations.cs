namespace Vellumkeep.Core.Negotiation;

/// <summary>
/// What several recorded proposals amount to when they go out as one with several transforms of each type. A cipher that
/// protects integrity by itself never stands in one proposal with others (RFC 7296 section 3.3), so that there are two.
/// </summary>
public static class Combinations
{
    /// <summary>Every combination of the members, those of the first type in the order recorded.</summary>
    public static ImmutableArray<IkeProposal> Of(ImmutableArray<IkeProposal> recorded) =>
        [
            .. recorded
                .GroupBy(p => p.Encryption.Combined)
                .SelectMany(alike =>
                    from encryption in alike.Select(p => p.Encryption).Distinct()
                    from integrity in alike.Select(p => p.Integrity).Distinct()
                    from prf in alike.Select(p => p.Prf).Distinct()
                    from dh in alike.Select(p => p.Group).Distinct()
                    select IkeProposal.Of(encryption, integrity, prf, dh).Value
                ),
        ];

    /// <summary>The same for the proposals of ESP.</summary>
    public static ImmutableArray<EspProposal> Of(ImmutableArray<EspProposal> recorded) =>
        [
            .. recorded
                .GroupBy(p => p.Encryption.Combined)
                .SelectMany(alike =>
                    from encryption in alike.Select(p => p.Encryption).Distinct()
                    from integrity in alike.Select(p => p.Integrity).Distinct()
                    select EspProposal.Of(encryption, integrity).Value
                ),
        ];
}
