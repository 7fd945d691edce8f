namespace Vellumkeep.Core.Proposals;

/// <summary>
/// What an end sends and what it accepts when a child SA is asked for by CREATE_CHILD_SA or quick mode: a fresh
/// Diffie-Hellman exchange, or none (RFC 7296 section 1.3, RFC 2409 section 5.5).
/// </summary>
public enum PfsStance
{
    /// <summary>It sends a fresh exchange, and refuses a child SA without one.</summary>
    Required,

    /// <summary>It sends a fresh exchange, and accepts a child SA with or without one.</summary>
    Optional,

    /// <summary>It sends none, and accepts a child SA with or without one.</summary>
    Accepts,

    /// <summary>It sends none, and refuses a child SA with one.</summary>
    Refused,
}

/// <summary>
/// Perfect forward secrecy as an end has it: the stance, and the groups it offers and takes, preferred first.
/// No group beside required or optional means the group of the IKE SA.
/// </summary>
public sealed record Pfs
{
    private Pfs(PfsStance stance, ImmutableArray<DhGroup> groups) => (Stance, Groups) = (stance, groups);

    /// <summary>What it sends and accepts.</summary>
    public PfsStance Stance { get; }

    /// <summary>Whether it sends a fresh exchange when it asks for a child SA.</summary>
    public bool Sends => Stance is PfsStance.Required or PfsStance.Optional;

    /// <summary>The groups that it offers and takes, preferred first; none for the group of the IKE SA.</summary>
    public ImmutableArray<DhGroup> Groups { get; }

    /// <summary>Whether the group is that of the IKE SA.</summary>
    public bool GroupOfIke => Stance != PfsStance.Refused && Groups.IsEmpty;

    /// <summary>It insists on a fresh exchange with one group.</summary>
    public static Pfs Insisting(DhGroup group) => new(PfsStance.Required, [group]);

    /// <summary>The same with more groups after its own; unchanged where the group is that of the IKE SA.</summary>
    public Pfs Beside(IEnumerable<DhGroup> more) => GroupOfIke ? this : new(Stance, [.. Groups.Union(more)]);

    /// <summary>The same with other groups.</summary>
    public Pfs With(IEnumerable<DhGroup> groups) => new(Stance, [.. groups]);

    /// <summary>It sends none, and takes what the other end sends of these groups.</summary>
    public static Pfs Accepting(Pfs sent) => new(PfsStance.Accepts, sent.Groups);

    /// <summary>It will not have it.</summary>
    public static readonly Pfs Refused = new(PfsStance.Refused, []);

    /// <summary>
    /// Reads <c>required DH 16</c>, <c>optional DH 14, DH 19</c>, <c>accepts only DH 14</c>, <c>required DH of IKE</c>,
    /// <c>refused</c> (also <c>off</c>).
    /// </summary>
    public static Parsed<Pfs> Parse(string text)
    {
        var t = Typed.Trim(text);
        const string right = "required DH 14, optional DH 14, accepts only DH 14, required DH of IKE, or refused";
        if (
            t.Equals("refused", StringComparison.OrdinalIgnoreCase)
            || t.Equals("off", StringComparison.OrdinalIgnoreCase)
        )
            return Parsed<Pfs>.Of(Refused);
        if (
            Stances.FirstOrDefault(x => t.StartsWith(x.Word + " ", StringComparison.OrdinalIgnoreCase))
            is not { Word: not null } said
        )
            return Parsed<Pfs>.Fail(
                $"'{Typed.Short(t)}' does not say whether PFS is required, optional, accepts only or refused, and with "
                    + $"which group",
                right
            );
        var stance = said.Stance;
        var rest = t[said.Word.Length..].Trim();
        if (Typed.Folded(rest) == "dhofike")
            return Parsed<Pfs>.Of(new(stance, []));
        var groups = ImmutableArray.CreateBuilder<DhGroup>();
        foreach (var part in rest.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            var group = AlgorithmTable.Group(part);
            if (!group.Ok)
                return Parsed<Pfs>.Fail(group.Wrong!, group.Right!);
            groups.Add(group.Value);
        }

        return groups.Count == 0
            ? Parsed<Pfs>.Fail("PFS has no DH group", right)
            : Parsed<Pfs>.Of(new(stance, groups.ToImmutable()));
    }

    private static readonly (string Word, PfsStance Stance)[] Stances =
    [
        ("required", PfsStance.Required),
        ("optional", PfsStance.Optional),
        ("accepts only", PfsStance.Accepts),
    ];

    /// <inheritdoc/>
    public bool Equals(Pfs? other) => other is not null && Stance == other.Stance && Groups.SequenceEqual(other.Groups);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Stance, Groups.Length);

    /// <inheritdoc/>
    public override string ToString() =>
        Stance == PfsStance.Refused
            ? "refused"
            : $"{Stances.First(x => x.Stance == Stance).Word} "
                + $"{(GroupOfIke ? "DH of IKE" : string.Join(", ", Groups))}";
}
