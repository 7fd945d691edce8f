namespace Vellumkeep.Core.Proposals;

/// <summary>
/// One ESP proposal: encryption, and integrity unless the cipher is a combined-mode one (RFC 8221 section 4). Its DH
/// group is the PFS setting.
/// </summary>
public sealed record EspProposal
{
    private EspProposal(Encryption encryption, Integrity? integrity) =>
        (Encryption, Integrity) = (encryption, integrity);

    /// <summary>The cipher.</summary>
    public Encryption Encryption { get; }

    /// <summary>The integrity algorithm; null where the cipher brings its own (RFC 5282, RFC 4106).</summary>
    public Integrity? Integrity { get; }

    /// <summary>
    /// Builds a proposal; refused are a combined-mode cipher with integrity and a plain cipher without it.
    /// </summary>
    public static Parsed<EspProposal> Of(Encryption encryption, Integrity? integrity) =>
        ProposalText.Mixed(encryption, integrity) is { } m
            ? Parsed<EspProposal>.Fail(m.Wrong, m.Right)
            : Parsed<EspProposal>.Of(new(encryption, integrity));

    /// <summary>
    /// Reads one line such as <c>AES-256-CBC + HMAC-SHA2-256-128</c>. A DH group is refused: that is the PFS setting.
    /// </summary>
    public static Parsed<EspProposal> Parse(string text) =>
        ProposalText.Members(text, "ESP").Then(m => OfMembers(m, text));

    /// <summary>
    /// Reads one line with more than one member of a type (RFC 7296 section 3.3: any one of each): every combination,
    /// in the order in which the members stand. At most 24.
    /// </summary>
    public static Parsed<ImmutableArray<EspProposal>> ParseAll(string text) =>
        ProposalText.All(text, "ESP", m => OfMembers(m, text));

    private static Parsed<EspProposal> OfMembers(ProposalText.Parts m, string text)
    {
        if (m.Group is not null)
            return Parsed<EspProposal>.Fail(
                $"'{Typed.Short(text)}' names {m.Group}",
                $"remove it here and set pfs: required {m.Group}"
            );
        return m.Prf is not null
            ? Parsed<EspProposal>.Fail(
                $"'{Typed.Short(text)}' names a PRF, which ESP does not have",
                "encryption and integrity only"
            )
            : Of(m.Encryption, m.Integrity);
    }

    /// <inheritdoc/>
    public override string ToString() => Integrity is null ? Encryption.Name : $"{Encryption.Name} + {Integrity.Name}";
}
