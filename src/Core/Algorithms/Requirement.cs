namespace Vellumkeep.Core.Algorithms;

/// <summary>
/// The requirement words of RFC 8247 section 1.1 and RFC 8221 section 2, weakest last. MUST- and SHOULD+ say where a
/// word is heading: what is on its way out is not ahead of what SHOULD be used.
/// </summary>
public enum Requirement
{
    /// <summary>MUST (RFC 2119).</summary>
    Must,

    /// <summary>SHOULD, and expected to become a MUST.</summary>
    ShouldPlus,

    /// <summary>SHOULD.</summary>
    Should,

    /// <summary>MUST, and expected to be demoted (RFC 8221 section 2, RFC 8247 section 1.2).</summary>
    MustMinus,

    /// <summary>MAY.</summary>
    May,

    /// <summary>
    /// MAY, because neither RFC 8221 nor RFC 8247 mentions it; what is said of it beside its strength is our own
    /// judgement.
    /// </summary>
    NotMentioned,

    /// <summary>SHOULD NOT.</summary>
    ShouldNot,

    /// <summary>MUST NOT.</summary>
    MustNot,
}

/// <summary>What a standard asks of an algorithm, and where it says so.</summary>
/// <param name="Requirement">How strongly, from MUST to MUST NOT.</param>
/// <param name="Standard">The RFC with its section.</param>
public readonly record struct Grade(Requirement Requirement, string Standard)
{
    /// <summary>The word of the standard, such as <c>SHOULD NOT</c>.</summary>
    public string Word =>
        Requirement switch
        {
            Requirement.Must => "MUST",
            Requirement.MustMinus => "MUST-",
            Requirement.ShouldPlus => "SHOULD+",
            Requirement.Should => "SHOULD",
            Requirement.May => "MAY",
            Requirement.NotMentioned => "MAY, not mentioned",
            Requirement.ShouldNot => "SHOULD NOT",
            _ => "MUST NOT",
        };
}
