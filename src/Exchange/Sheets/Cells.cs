using System.Text.RegularExpressions;

namespace Vellumkeep.Exchange.Sheets;

/// <summary>A prefix read from a cell, with the remark that stood behind it in brackets.</summary>
public sealed record NotedPrefix(Prefix Prefix, string? Name);

/// <summary>
/// What people really type into cells, read into values; what cannot be read without guessing is refused with what
/// would be right.
/// </summary>
public static partial class Cells
{
    /// <summary>
    /// Prefixes parted by anything: commas, semicolons, line breaks, slashes with blanks, "and". Masks as a length or a
    /// dotted quad. A network address without a mask is refused, because it would be a guess; a host address is that
    /// one host.
    /// </summary>
    public static Parsed<ImmutableArray<NotedPrefix>> Subnets(string cell)
    {
        var text = Typed.Trim(cell);
        var found = ImmutableArray.CreateBuilder<NotedPrefix>();
        var at = 0;
        foreach (Match m in PrefixLike().Matches(text))
        {
            if (Left(text[at..m.Index]) is { } between)
                return Parsed<ImmutableArray<NotedPrefix>>.Fail(
                    $"'{Typed.Short(between)}' is not a prefix",
                    "prefixes such as 10.61.0.0/24, separated by commas or line breaks; remarks in brackets"
                );
            at = m.Index + m.Length;
            var (address, mask) = (m.Groups["address"].Value, m.Groups["mask"].Value);
            if (mask.Length == 0 && !address.Contains(':') && address.EndsWith(".0", StringComparison.Ordinal))
                return Parsed<ImmutableArray<NotedPrefix>>.Fail(
                    $"{address} has no mask",
                    $"a mask too, such as {address}/24"
                );
            var read = Prefix.Parse(mask.Length == 0 ? address : $"{address}/{mask}");
            if (!read.Ok)
                return Parsed<ImmutableArray<NotedPrefix>>.Fail(read.Wrong!, read.Right!);
            if (found.All(f => f.Prefix != read.Value))
                found.Add(new(read.Value, m.Groups["note"].Value.Trim() is { Length: > 0 } note ? note : null));
        }

        return Left(text[at..]) is { } rest
                ? Parsed<ImmutableArray<NotedPrefix>>.Fail(
                    $"'{Typed.Short(rest)}' is not a prefix",
                    "prefixes such as 10.61.0.0/24, separated by commas or line breaks; remarks in brackets"
                )
            : found.Count == 0
                ? Parsed<ImmutableArray<NotedPrefix>>.Fail("there is no prefix here", "a prefix such as 10.61.0.0/24")
            : Parsed<ImmutableArray<NotedPrefix>>.Of(found.ToImmutable());
    }

    private static string? Left(string between)
    {
        var rest = Separators().Replace(between, " ").Trim();
        return rest.Length == 0 ? null : rest;
    }

    /// <summary>
    /// Proposals of IKE, one or several (on lines of their own, or parted by semicolons, "|" or "or"), each written in
    /// any of the usual ways.
    /// </summary>
    public static Parsed<ImmutableArray<string>> IkeProposals(string cell) =>
        Several(cell, one =>
            Members(one) is { Ok: true } m
                ? IkeProposal.Parse(string.Join(" + ", m.Value)).To(p => p.ToString())
                : Members(one).To(_ => "")
        );

    /// <summary>
    /// Proposals of ESP, and the DH group that is often written beside them although it is the PFS setting.
    /// </summary>
    public static Parsed<(ImmutableArray<string> Proposals, string? Group)> EspProposals(string cell)
    {
        string? group = null;
        var read = Several(cell, one =>
        {
            var members = Members(one);
            if (!members.Ok)
                return members.To(_ => "");
            group ??= members.Value.FirstOrDefault(m => m.StartsWith("DH ", StringComparison.Ordinal));
            return EspProposal
                .Parse(string.Join(" + ", members.Value.Where(m => !m.StartsWith("DH ", StringComparison.Ordinal))))
                .To(p => p.ToString());
        });
        return read.To(p => (p, group));
    }

    /// <summary>
    /// A length of time. A number alone is read in <paramref name="unit"/>, which the heading named, or else in
    /// seconds; the second is a guess that has to be told.
    /// </summary>
    public static Parsed<(string Text, bool Guessed)> Time(string cell, string? unit)
    {
        var text = Typed.Trim(cell).Replace(",", "").Replace(" ", " ");
        var number = text.All(char.IsAsciiDigit);
        var written = number
            ? $"{text} {unit ?? "s"}"
            : Typed.Folded(text) switch
            {
                "day" or "1day" or "aday" => "1 d",
                "hour" or "1hour" or "anhour" => "1 h",
                _ => Hours().Replace(text, "h"),
            };
        return Lifetime.Parse(written).To(t => ($"{t.Amount} {Lifetime.Word(t.Unit)}", number && unit is null));
    }

    /// <summary>PFS as written in a cell: a group, yes (the group of ESP or of IKE), or no.</summary>
    public static Parsed<string> Pfs(string cell)
    {
        var folded = Typed.Folded(cell);
        if (folded is "no" or "n" or "off" or "none" or "disabled" or "nopfs" or "false" or "refused")
            return Parsed<string>.Of("refused");
        if (folded is "yes" or "y" or "on" or "enabled" or "true")
            return Parsed<string>.Of("required DH of IKE");
        return
            AlgorithmTable.Group(folded.StartsWith("pfs", StringComparison.Ordinal) ? folded[3..] : Typed.Trim(cell))
                is { Ok: true } group
            ? Parsed<string>.Of($"required {group.Value}")
            : Core.Proposals.Pfs.Parse(cell).To(p => p.ToString());
    }

    public static Parsed<string> IkeVersion(string cell) =>
        Typed.Folded(cell) switch
        {
            "1" or "v1" or "ikev1" or "ike1" or "ike" => Parsed<string>.Of("IKEv1"),
            "2" or "v2" or "ikev2" or "ike2" => Parsed<string>.Of("IKEv2"),
            _ => Parsed<string>.Fail($"'{Typed.Short(cell)}' is not a key exchange version", "IKEv1 or IKEv2"),
        };

    /// <summary>
    /// An outer address: an address (a mask behind it does not count), a name, dynamic, or not known yet (null).
    /// </summary>
    public static Parsed<string?> Outer(string cell)
    {
        var text = Typed.Trim(cell).TrimEnd('.');
        var folded = Typed.Folded(text);
        if (folded is "dynamic" or "dhcp" or "dyn" or "pppoe" or "mobile")
            return Parsed<string?>.Of("dynamic");
        if (folded is "" or "tbc" or "tbd" or "unknown" or "pending" or "na" || text is "?" or "-")
            return Parsed<string?>.Of(null);
        var cut = text.IndexOf('/');
        return UplinkAddress.Parse(cut > 0 ? text[..cut].Trim() : text).To(a => (string?)a.ToString());
    }

    /// <summary>An identity; its kind is read off its form when it is not named.</summary>
    public static Parsed<string> IdentityOf(string cell)
    {
        var text = Typed.Trim(cell);
        var named = Identity.Parse(text);
        return (named.Ok ? named : Identity.Parse($"{KindOf(text)} {text}")).To(i => i.ToString());
    }

    private static string KindOf(string text)
    {
        if (Address.Parse(text).Ok)
            return "address";
        if (text.Contains('@'))
            return "e-mail";
        if (text.Contains('='))
            return "dn";
        return text.Contains('.') && !text.Contains(' ') ? "fqdn" : "key-id";
    }

    public static Parsed<string> State(string cell) =>
        Typed.Folded(cell) switch
        {
            "" or "up" or "live" or "active" or "inservice" or "yes" or "y" or "ok" or "working" => Parsed<string>.Of(
                "in service"
            ),
            "planned" or "new" or "pending" or "future" => Parsed<string>.Of("planned"),
            "building" or "inprogress" or "wip" => Parsed<string>.Of("building"),
            "down" or "suspended" or "disabled" or "off" or "paused" => Parsed<string>.Of("suspended"),
            "retired" or "removed" or "old" or "decommissioned" or "no" => Parsed<string>.Of("retired"),
            _ => Parsed<string>.Fail(
                $"'{Typed.Short(cell)}' is not a state of a tunnel",
                string.Join(", ", WordsOf.States.All)
            ),
        };

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

    [GeneratedRegex(
        @"(?<address>\d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3}|[0-9a-fA-F]{0,4}(?::[0-9a-fA-F]{0,4}){2,7})"
            + @"(?:\s*/\s*(?<mask>\d{1,3}\.\d{1,3}\.\d{1,3}\.\d{1,3}|\d{1,3})"
            + @"|\s+(?:mask\s+)?(?<mask>(?:255|254|252|248|240|224|192|128|0)\.\d{1,3}\.\d{1,3}\.\d{1,3}))?"
            + @"(?:\s*[\(\[](?<note>[^\)\]]*)[\)\]])?",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex PrefixLike();

    [GeneratedRegex(@"[,;|&+/\s\u00a0]+|\band\b", RegexOptions.IgnoreCase)]
    private static partial Regex Separators();

    [GeneratedRegex(@"[;|\r\n]+|\bor\b", RegexOptions.IgnoreCase)]
    private static partial Regex Or();

    [GeneratedRegex(@"[A-Za-z]+|\d+")]
    private static partial Regex Pieces();

    [GeneratedRegex(@"(?<=\d)\s*(hrs?|hours?)\.?$", RegexOptions.IgnoreCase)]
    private static partial Regex Hours();
}
