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
    /// A length of time, and perhaps an amount of data behind it. A number alone is read in <paramref name="unit"/>,
    /// which the heading named, or else in seconds; the second is a guess that has to be told.
    /// </summary>
    public static Parsed<(string Text, string? Data, bool Guessed)> Time(string cell, string? unit)
    {
        var parts = OrData().Split(Typed.Trim(cell)).Where(p => p.Trim().Length > 0).ToArray();
        var data = parts.Length > 1 ? DataAmount.Parse(parts[1]) : default;
        if (parts.Length > 2 || (parts.Length > 1 && !data.Ok))
            return Parsed<(string, string?, bool)>.Fail(
                $"'{Typed.Short(cell)}' is not a length of time",
                "a time, and perhaps an amount of data, such as: 1 h / 100 GB"
            );
        var text = (parts.Length == 0 ? cell : parts[0]).Trim().Replace(",", "").Replace("\u00a0", " ");
        var number = text.Length > 0 && text.All(char.IsAsciiDigit);
        var written = number
            ? $"{text} {unit ?? "s"}"
            : Typed.Folded(text) switch
            {
                "day" or "1day" or "aday" => "1 d",
                "hour" or "1hour" or "anhour" => "1 h",
                _ => Hours().Replace(text, "h"),
            };
        return Lifetime
            .Parse(written)
            .To(t =>
                (
                    $"{t.Amount} {Lifetime.Word(t.Unit)}",
                    parts.Length > 1 ? data.Value.ToString() : null,
                    number && unit is null
                )
            );
    }

    /// <summary>How the ends authenticate.</summary>
    public static Parsed<string> Authentication(string cell) =>
        Typed.Folded(cell) switch
        {
            "psk" or "presharedkey" or "key" or "secret" or "sharedsecret" => Parsed<string>.Of("PSK"),
            "cert" or "certs" or "certificate" or "certificates" or "rsa" or "x509" => Parsed<string>.Of("certificate"),
            _ => Parsed<string>.Fail($"'{Typed.Short(cell)}' is not an authentication method", "PSK or certificate"),
        };

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

    /// <summary>The version of IKE, and the exchange mode where it stands behind it.</summary>
    public static Parsed<(string Version, string? Mode)> IkeVersion(string cell)
    {
        var mode = ModeOf(cell);
        return Typed.Folded(ModeIn().Replace(cell, " ")) switch
        {
            "1" or "v1" or "ikev1" or "ike1" or "ike" => Parsed<(string, string?)>.Of(("IKEv1", mode)),
            "2" or "v2" or "ikev2" or "ike2" => Parsed<(string, string?)>.Of(("IKEv2", mode)),
            _ => Parsed<(string, string?)>.Fail(
                $"'{Typed.Short(cell)}' is not a key exchange version",
                "IKEv1 or IKEv2"
            ),
        };
    }

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

    [GeneratedRegex(@"(?<=\d)\s*(hrs?|hours?)\.?$", RegexOptions.IgnoreCase)]
    private static partial Regex Hours();

    [GeneratedRegex(@"\s+or\s+|\s*[/;]\s*(?=\d)|\s*[\r\n]+\s*", RegexOptions.IgnoreCase)]
    private static partial Regex OrData();
}
