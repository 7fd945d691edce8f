namespace Vellumkeep.Core.Algorithms;

/// <summary>
/// The requirement words of RFC 8247 section 1.1 and RFC 8221 section 2, weakest last. MUST- and SHOULD+ say where a
/// word is heading.
/// </summary>
public enum Requirement
{
    Must,
    MustMinus,
    ShouldPlus,
    Should,
    May,
    ShouldNot,
    MustNot,
}

/// <summary>What a standard asks of an algorithm, and where it says so.</summary>
public readonly record struct Grade(Requirement Requirement, string Standard)
{
    public string Word =>
        Requirement switch
        {
            Requirement.Must => "MUST",
            Requirement.MustMinus => "MUST-",
            Requirement.ShouldPlus => "SHOULD+",
            Requirement.Should => "SHOULD",
            Requirement.May => "MAY",
            Requirement.ShouldNot => "SHOULD NOT",
            _ => "MUST NOT",
        };
}
