namespace Vellumkeep.Core.Proposals;

/// <summary>Reading the members of a proposal, shared by IKE and ESP.</summary>
internal static class ProposalText
{
    internal sealed record Parts(Encryption Encryption, Integrity? Integrity, Prf? Prf, DhGroup? Group);

    internal static (string Wrong, string Right)? Mixed(Encryption encryption, Integrity? integrity) =>
        encryption.Combined && integrity is not null
            ? (
                $"{encryption} is an AEAD cipher, so it takes no integrity algorithm such as {integrity} (RFC 5282)",
                $"{encryption} without integrity"
            )
        : !encryption.Combined && integrity is null
            ? ($"{encryption} needs an integrity algorithm beside it", $"{encryption} + HMAC-SHA2-256-128")
        : null;

    /// <summary>The members of one proposal; one that names two of a type is refused.</summary>
    internal static Parsed<Parts> Members(string text, string layer) =>
        Lists(text, layer)
            .Then(l =>
                l switch
                {
                    { Encryptions.Count: > 1 } => Twice(text, "encryption algorithms"),
                    { Integrities.Count: > 1 } => Twice(text, "integrity algorithms"),
                    { Groups.Count: > 1 } => Twice(text, "DH groups"),
                    { Prfs.Count: > 1 } => Twice(text, "PRFs"),
                    _ => Parsed<Parts>.Of(
                        new(
                            l.Encryptions[0],
                            l.Integrities.FirstOrDefault(),
                            l.Prfs.FirstOrDefault(),
                            l.Groups.FirstOrDefault()
                        )
                    ),
                }
            );

    /// <summary>Every combination of the members of one line.</summary>
    internal static Parsed<ImmutableArray<T>> All<T>(string text, string layer, Func<Parts, Parsed<T>> of)
    {
        var lists = Lists(text, layer);
        if (!lists.Ok)
            return Parsed<ImmutableArray<T>>.Fail(lists.Wrong!, lists.Right!);
        var l = lists.Value;
        var made = ImmutableArray.CreateBuilder<T>();
        foreach (var e in l.Encryptions)
        // A combined-mode cipher beside a plain one takes no integrity algorithm (RFC 7296 section 3.3.3).
        foreach (var i in e.Combined && l.Encryptions.Count > 1 ? new Integrity?[1] : OrNone(l.Integrities))
        foreach (var p in OrNone(l.Prfs))
        foreach (var g in OrNone(l.Groups))
        {
            var one = of(new(e, i, p, g));
            if (!one.Ok)
                return Parsed<ImmutableArray<T>>.Fail(one.Wrong!, one.Right!);
            made.Add(one.Value);
        }

        return made.Count > 24
            ? Parsed<ImmutableArray<T>>.Fail(
                $"'{Typed.Short(text)}' makes {made.Count} combinations",
                "at most 24, or several lines"
            )
            : Parsed<ImmutableArray<T>>.Of(made.ToImmutable());
    }

    private static IReadOnlyList<T?> OrNone<T>(List<T> list)
        where T : class => list.Count == 0 ? new T?[1] : list;

    private static Parsed<Parts> Twice(string text, string type) =>
        Parsed<Parts>.Fail($"'{Typed.Short(text)}' names two {type}", "one proposal a line, each with one of a type");

    private sealed record MemberLists(
        List<Encryption> Encryptions,
        List<Integrity> Integrities,
        List<Prf> Prfs,
        List<DhGroup> Groups
    );

    private static Parsed<MemberLists> Lists(string text, string layer)
    {
        var members = Typed
            .Trim(text)
            .Split(['+', '/', ','], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (members.Length == 0)
            return Parsed<MemberLists>.Fail(
                $"the {layer} proposal is empty",
                layer == "IKE" ? "AES-256-CBC + HMAC-SHA2-256-128 + DH 14" : "AES-256-CBC + HMAC-SHA2-256-128"
            );
        if (members.Length > 16 || text.Length > 300)
            return Parsed<MemberLists>.Fail(
                $"'{Typed.Short(text)}' has too many members for one proposal",
                "one proposal a line"
            );
        var lists = new MemberLists([], [], [], []);
        foreach (var member in members)
            if (Put(lists, member) is { } wrong)
                return Parsed<MemberLists>.Fail(wrong.Wrong, wrong.Right);
        return Parsed<MemberLists>.Of(lists);
    }

    /// <summary>
    /// Puts a member where it belongs; what is wrong with it otherwise. The first is always a cipher.
    /// </summary>
    private static (string Wrong, string Right)? Put(MemberLists lists, string member)
    {
        (string, string)? Into<T>(List<T> list, Parsed<T> read)
        {
            if (!read.Ok)
                return (read.Wrong!, read.Right!);
            if (!list.Contains(read.Value))
                list.Add(read.Value);
            return null;
        }

        if (lists.Encryptions.Count == 0)
            return Into(lists.Encryptions, AlgorithmTable.Encryption(member));
        var folded = Typed.Folded(member);
        if (AlgorithmTable.IsGroup(member) || folded is ['d', 'h', ..] or ['g', 'r', 'o', 'u', 'p', ..])
            return Into(lists.Groups, AlgorithmTable.Group(member));
        if (folded.StartsWith("prf", StringComparison.Ordinal))
            return Into(lists.Prfs, AlgorithmTable.Prf(member));
        return AlgorithmTable.Encryption(member) is { Ok: true } cipher
            ? Into(lists.Encryptions, cipher)
            : Into(lists.Integrities, AlgorithmTable.Integrity(member));
    }
}
