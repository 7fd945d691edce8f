namespace Vellumkeep.Core.Proposals;

/// <summary>
/// One IKE proposal, chosen whole or not at all: encryption, integrity (none with a combined-mode cipher), PRF and DH
/// group (RFC 7296 section 3.3). For IKEv1 the integrity stands for the hash.
/// </summary>
public sealed record IkeProposal
{
    private IkeProposal(Encryption encryption, Integrity? integrity, Prf prf, DhGroup group) =>
        (Encryption, Integrity, Prf, Group) = (encryption, integrity, prf, group);

    /// <summary>The cipher.</summary>
    public Encryption Encryption { get; }

    /// <summary>The integrity algorithm; null where the cipher brings its own (RFC 5282).</summary>
    public Integrity? Integrity { get; }

    /// <summary>The pseudorandom function.</summary>
    public Prf Prf { get; }

    /// <summary>The key exchange group.</summary>
    public DhGroup Group { get; }

    /// <summary>
    /// Builds a proposal; refused are a combined-mode cipher with integrity and a plain cipher without it.
    /// </summary>
    public static Parsed<IkeProposal> Of(Encryption encryption, Integrity? integrity, Prf? prf, DhGroup? group)
    {
        var mixed = ProposalText.Mixed(encryption, integrity);
        if (mixed is { } m)
            return Parsed<IkeProposal>.Fail(m.Wrong, m.Right);
        if (encryption.IsNull)
            return Parsed<IkeProposal>.Fail(
                "NULL encrypts nothing, and an IKE SA is always encrypted (IANA IKEv2 transform type 1)",
                "a cipher such as AES-256-GCM-16; NULL only for ESP"
            );
        if (group is null)
            return Parsed<IkeProposal>.Fail(
                $"the IKE proposal with {encryption} has no DH group",
                $"{encryption} + ... + DH 19"
            ) with
            {
                Slip = Slip.NoDhGroup,
            };
        prf ??= integrity is null ? null : AlgorithmTable.PrfOf(integrity);
        return prf is null
            ? Parsed<IkeProposal>.Fail(
                $"the IKE proposal with {encryption} has no PRF",
                $"{encryption} + PRF-HMAC-SHA2-256 + {group}"
            )
            : Parsed<IkeProposal>.Of(new(encryption, integrity, prf, group));
    }

    /// <summary>
    /// Reads one line such as <c>AES-256-GCM-16 + PRF-HMAC-SHA2-384 + DH 20</c>; members are parted by <c>+</c>,
    /// <c>/</c> or a comma, in any order.
    /// </summary>
    public static Parsed<IkeProposal> Parse(string text) =>
        ProposalText.Members(text, "IKE").Then(m => Of(m.Encryption, m.Integrity, m.Prf, m.Group));

    /// <summary>
    /// Reads one line with more than one member of a type (RFC 7296 section 3.3: any one of each): every combination,
    /// in the order in which the members stand. At most 24.
    /// </summary>
    public static Parsed<ImmutableArray<IkeProposal>> ParseAll(string text) =>
        ProposalText.All(text, "IKE", m => Of(m.Encryption, m.Integrity, m.Prf, m.Group));

    /// <inheritdoc/>
    public override string ToString() =>
        string.Join(" + ", new[] { Encryption.Name, Integrity?.Name, Prf.Name, Group.Name }.Where(n => n is not null));
}
