namespace Vellumkeep.Core.Proposals;

/// <summary>
/// Whether an end insists on a fresh Diffie-Hellman exchange for every child SA, takes it, or will not have it.
/// </summary>
public enum PfsStance
{
    /// <summary>It refuses a child SA without a fresh exchange.</summary>
    Required,

    /// <summary>It takes a child SA with or without.</summary>
    Optional,

    /// <summary>It refuses a child SA with one.</summary>
    Refused,
}

/// <summary>
/// Perfect forward secrecy as an end has it: the stance, and the groups it offers and takes, preferred first.
/// No group beside required or optional means the group of the IKE SA.
/// </summary>
public sealed record Pfs
{
    private Pfs(PfsStance stance, ImmutableArray<DhGroup> groups) => (Stance, Groups) = (stance, groups);

    /// <summary>Whether it insists.</summary>
    public PfsStance Stance { get; }

    /// <summary>The groups that it offers and takes, preferred first; none for the group of the IKE SA.</summary>
    public ImmutableArray<DhGroup> Groups { get; }

    /// <summary>Whether the group is that of the IKE SA.</summary>
    public bool GroupOfIke => Stance != PfsStance.Refused && Groups.IsEmpty;

    /// <summary>It insists on a fresh exchange with one group.</summary>
    public static Pfs Insisting(DhGroup group) => new(PfsStance.Required, [group]);

    /// <summary>The same with more groups after its own; unchanged where the group is that of the IKE SA.</summary>
    public Pfs Beside(IEnumerable<DhGroup> more) => GroupOfIke ? this : new(Stance, [.. Groups.Union(more)]);

    /// <summary>It will not have it.</summary>
    public static readonly Pfs Refused = new(PfsStance.Refused, []);

    /// <summary>
    /// Reads <c>required DH 16</c>, <c>optional DH 14, DH 19</c>, <c>required DH of IKE</c>, <c>refused</c> (also
    /// <c>off</c>).
    /// </summary>
    public static Parsed<Pfs> Parse(string text)
    {
        var t = Typed.Trim(text);
        const string right = "required DH 14, optional DH 14, required DH of IKE, or refused";
        if (
            t.Equals("refused", StringComparison.OrdinalIgnoreCase)
            || t.Equals("off", StringComparison.OrdinalIgnoreCase)
        )
            return Parsed<Pfs>.Of(Refused);
        var cut = t.IndexOf(' ');
        if (
            cut < 0
            || !Enum.TryParse<PfsStance>(t[..cut], true, out var stance)
            || stance == PfsStance.Refused
            || char.IsAsciiDigit(t[0])
        )
            return Parsed<Pfs>.Fail(
                $"'{Typed.Short(t)}' does not say whether PFS is required, optional or refused, and with which group",
                right
            );
        var rest = t[(cut + 1)..].Trim();
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

    /// <inheritdoc/>
    public bool Equals(Pfs? other) => other is not null && Stance == other.Stance && Groups.SequenceEqual(other.Groups);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Stance, Groups.Length);

    /// <inheritdoc/>
    public override string ToString() =>
        Stance == PfsStance.Refused
            ? "refused"
            : $"{(Stance == PfsStance.Required ? "required" : "optional")} "
                + $"{(GroupOfIke ? "DH of IKE" : string.Join(", ", Groups))}";
}
