using System.Text.RegularExpressions;

namespace Vellumkeep.Exchange.Sheets;

/// <summary>What a cell says of IKE: its proposals, and version and mode where they stand before them.</summary>
internal sealed record IkeCell(ImmutableArray<string> Proposals, string? Version, string? Mode);

/// <summary>What a cell says of ESP: its proposals, and PFS where it stands behind them.</summary>
/// <param name="Group">A DH group among the algorithms, which is the group of PFS.</param>
/// <param name="Pfs">PFS by its name.</param>
internal sealed record EspCell(ImmutableArray<string> Proposals, string? Group, string? Pfs);

/// <summary>Proposals as people type them.</summary>
public static partial class Cells
{
    /// <summary>
    /// Proposals of IKE, one or several (on lines of their own, or parted by semicolons, "|" or "or"), each written in
    /// any of the usual ways. A hash beside a combined-mode cipher is the PRF (RFC 5282 section 8).
    /// </summary>
    public static Parsed<ImmutableArray<string>> IkeProposals(string cell) => Ike(cell).To(c => c.Proposals);

    /// <summary>
    /// Proposals of ESP, and the DH group that is often written beside them although it is the PFS setting.
    /// </summary>
    public static Parsed<(ImmutableArray<string> Proposals, string? Group)> EspProposals(string cell) =>
        Esp(cell).To(c => (c.Proposals, c.Group));

    internal static Parsed<IkeCell> Ike(string cell)
    {
        var version = VersionIn().Match(cell);
        var rest = ModeIn().Replace(VersionIn().Replace(cell, " "), " ");
        return Several(rest, one =>
                Members(one) is { Ok: true } m
                    ? IkeProposal.Parse(string.Join(" + ", WithPrf(m.Value))).To(p => p.ToString())
                    : Members(one).To(_ => "")
            )
            .To(p => new IkeCell(p, version.Success ? $"IKEv{version.Groups["number"].Value}" : null, ModeOf(cell)));
    }

    /// <summary>The exchange mode that a cell names; null when it names none.</summary>
    private static string? ModeOf(string cell)
    {
        var mode = ModeIn().Match(cell);
        if (!mode.Success)
            return null;
        return mode.Value.TrimStart().StartsWith("ag", StringComparison.OrdinalIgnoreCase) ? "aggressive" : "main";
    }

    internal static Parsed<EspCell> Esp(string cell)
    {
        var (rest, pfs) = PfsIn(cell);
        if (pfs is { Ok: false })
            return pfs.Value.To(_ => default(EspCell)!);
        string? group = null;
        return Several(rest, one =>
            {
                var members = Members(one);
                if (!members.Ok)
                    return members.To(_ => "");
                group ??= members.Value.FirstOrDefault(m => m.StartsWith("DH ", StringComparison.Ordinal));
                return EspProposal
                    .Parse(string.Join(" + ", members.Value.Where(m => !m.StartsWith("DH ", StringComparison.Ordinal))))
                    .To(p => p.ToString());
            })
            .To(p => new EspCell(p, group, pfs?.Value));
    }

    /// <summary>A cell without what it says of PFS, and that; null when it says nothing of it.</summary>
    private static (string Others, Parsed<string>? Pfs) PfsIn(string cell)
    {
        var found = PfsWords().Match(cell);
        if (!found.Success)
            return (cell, null);
        var rest = cell.Remove(found.Index, found.Length);
        if (found.Groups["no"].Success)
            return (rest, Parsed<string>.Of("refused"));
        var said = found.Groups["group"].Value.Trim(' ', ':', '=', '-', '(', ')', ',');
        return (rest, said.Length == 0 ? Parsed<string>.Of("required DH of IKE") : Pfs(said));
    }

    /// <summary>The members with a hash beside a combined-mode cipher taken for what it is there: the PRF.</summary>
    private static IEnumerable<string> WithPrf(ImmutableArray<string> members)
    {
        var combined = members.Any(m => AlgorithmTable.Encryption(m) is { Ok: true, Value.Combined: true });
        var has = members.Any(m => m.StartsWith("PRF-", StringComparison.Ordinal));
        return members
            .Where(m => !(combined && has && IsHash(m)))
            .Select(m => combined && IsHash(m) ? $"PRF-{m[..m.LastIndexOf('-')]}" : m);
    }

    private static bool IsHash(string member) => member.StartsWith("HMAC-", StringComparison.Ordinal);

    private static Parsed<ImmutableArray<string>> Several(string cell, Func<string, Parsed<string>> one)
    {
        var parts = Or().Split(Typed.Trim(cell)).Select(p => p.Trim()).Where(p => p.Length > 0).ToArray();
        var result = ImmutableArray.CreateBuilder<string>();
        foreach (var part in parts)
        {
            var read = one(part);
            if (!read.Ok)
                return Parsed<ImmutableArray<string>>.Fail(read.Wrong!, read.Right!);
            if (!result.Contains(read.Value))
                result.Add(read.Value);
        }

        return result.Count == 0
            ? Parsed<ImmutableArray<string>>.Fail(
                "there is no proposal here",
                "AES-256-CBC + HMAC-SHA2-256-128 + DH 14"
            )
            : Parsed<ImmutableArray<string>>.Of(result.ToImmutable());
    }

    /// <summary>
    /// The members of one proposal, whatever parts them: the longest run of pieces that the one table of aliases knows
    /// counts as a member.
    /// </summary>
    private static Parsed<ImmutableArray<string>> Members(string text)
    {
        var pieces = Pieces().Matches(text).Select(m => m.Value).ToArray();
        var members = ImmutableArray.CreateBuilder<string>();
        for (var i = 0; i < pieces.Length; )
        {
            string? member = null;
            var taken = 0;
            for (var length = Math.Min(6, pieces.Length - i); length > 0 && member is null; length--)
            {
                var word = string.Concat(pieces[i..(i + length)]);
                // A number alone would be taken for a DH group wherever it stands; one is named, or comes last.
                if (word.All(char.IsAsciiDigit) && (i + length < pieces.Length || members.Count == 0))
                    continue;
                if (AlgorithmTable.AnyName(word) is { Ok: true } known)
                    (member, taken) = (known.Value, length);
            }

            if (member is null)
                return Parsed<ImmutableArray<string>>.Fail(
                    $"'{Typed.Short(WordAt(text, Pieces().Matches(text)[i].Index))}' in '{Typed.Short(text)}' is "
                        + $"not an algorithm that is known here",
                    "encryption, integrity and group, such as AES256/SHA256/DH14"
                );
            members.Add(member);
            i += taken;
        }

        return members.Count == 0
            ? Parsed<ImmutableArray<string>>.Fail($"'{Typed.Short(text)}' names no algorithm", "AES256/SHA256/DH14")
            : Parsed<ImmutableArray<string>>.Of(members.ToImmutable());
    }

    /// <summary>The whole word that begins at or before a place: what the reader's eye takes for one.</summary>
    private static string WordAt(string text, int at)
    {
        var end = at;
        while (end < text.Length && (char.IsLetterOrDigit(text[end]) || text[end] == '-'))
            end++;
        return text[at..end];
    }

    [GeneratedRegex(@"[;|\r\n]+|\bor\b", RegexOptions.IgnoreCase)]
    private static partial Regex Or();

    [GeneratedRegex(@"[A-Za-z]+|\d+")]
    private static partial Regex Pieces();

    [GeneratedRegex(
        @"\bIKE\s*-?\s*v?(?<number>[12])\b\s*[:,]?|^\s*v(?<number>[12])\b\s*[:,]?",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex VersionIn();

    [GeneratedRegex(@"\b(main|aggressive|aggr)\b(\s+mode)?\s*[:,]?", RegexOptions.IgnoreCase)]
    private static partial Regex ModeIn();

    [GeneratedRegex(
        @"[,;/(\s+-]*(?:(?<no>\bno\s+pfs\b|\bpfs\b\s*[:=]?\s*(?:off|no|none|disabled)\b)|\bpfs\b(?<group>[^;|\r\n]*))",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex PfsWords();
}
