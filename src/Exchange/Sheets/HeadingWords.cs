using System.Text.RegularExpressions;

namespace Vellumkeep.Exchange.Sheets;

/// <summary>What a word of a heading speaks of.</summary>
internal enum HeadingWord
{
    /// <summary>A secret.</summary>
    Key,

    /// <summary>A lifetime.</summary>
    Lifetime,

    /// <summary>Forward secrecy.</summary>
    Pfs,

    /// <summary>The version of IKE.</summary>
    Version,

    /// <summary>Main or aggressive.</summary>
    Mode,

    /// <summary>An identity.</summary>
    Identity,

    /// <summary>Protected subnets.</summary>
    Subnets,

    /// <summary>A DH group.</summary>
    Group,

    /// <summary>A hash, integrity.</summary>
    Hash,

    /// <summary>How the ends authenticate; within a phase perhaps its hash.</summary>
    Authentication,

    /// <summary>Encryption.</summary>
    Encryption,

    /// <summary>A whole proposal.</summary>
    Proposal,

    /// <summary>An outer address.</summary>
    Outer,

    /// <summary>An outer address and nothing else, whatever its cells look like.</summary>
    Strictly,

    /// <summary>Make and model.</summary>
    Platform,

    /// <summary>A device.</summary>
    Gateway,

    /// <summary>A site.</summary>
    Site,

    /// <summary>A running number.</summary>
    Number,

    /// <summary>A customer.</summary>
    Customer,

    /// <summary>A tunnel.</summary>
    Tunnel,

    /// <summary>Which end a row is of.</summary>
    End,

    /// <summary>The state.</summary>
    State,

    /// <summary>A contact.</summary>
    Contact,

    /// <summary>A remark.</summary>
    Notes,
}

/// <summary>A heading in words: which end, which phase, and what its words speak of.</summary>
internal sealed partial class HeadingWords
{
    private static readonly (HeadingWord Word, string Words)[] Vocabulary =
    [
        (HeadingWord.Key, "psk psks preshared secret passphrase password key keys"),
        (HeadingWord.Lifetime, "life lifetime lifetimes lives rekey timer timers expiry expires"),
        (HeadingWord.Pfs, "pfs forward secrecy"),
        (HeadingWord.Version, "version ver ikever ikev1v2 v1v2"),
        (HeadingWord.Mode, "mode exchange"),
        (HeadingWord.Identity, "identity identities id ids ikeid"),
        (
            HeadingWord.Subnets,
            "subnet subnets net nets network networks lan lans prefix prefixes domain domains protected inside internal "
                + "range ranges selector selectors traffic cidr cidrs"
        ),
        (HeadingWord.Group, "dh group groups diffie hellman modp"),
        (HeadingWord.Hash, "hash hashes integrity digest hmac hashing prf"),
        (HeadingWord.Authentication, "authentication auth authmethod method"),
        (HeadingWord.Encryption, "encryption enc encr cipher ciphers crypto algorithm algorithms algo"),
        (HeadingWord.Proposal, "proposal proposals transform transforms policy suite settings sa"),
        (
            HeadingWord.Outer,
            "ip ips wan public peer peers external outer outside address addresses endpoint publicip internet"
        ),
        (HeadingWord.Strictly, "wan public peer peers external outer outside endpoint internet"),
        (HeadingWord.Platform, "platform model make hardware type vendor product"),
        (HeadingWord.Gateway, "gateway gateways device devices firewall router hostname host box gw fw appliance edge"),
        (HeadingWord.Site, "site sites location office branch place town building store shop"),
        (HeadingWord.Number, "no number nr num"),
        (HeadingWord.Customer, "customer customers client clients company account organisation"),
        (HeadingWord.Tunnel, "tunnel tunnels vpn vpns connection ref reference name id link circuit no number"),
        (HeadingWord.End, "end side"),
        (HeadingWord.State, "state status live"),
        (HeadingWord.Contact, "contact contacts person phone telephone engineer"),
        (HeadingWord.Notes, "note notes remark remarks comment comments"),
    ];

    private static readonly HashSet<string> WordsOfA =
    [
        .. "a local our ours us hq hub near this main head headoffice from source central we own".Split(' '),
    ];

    private static readonly HashSet<string> WordsOfB =
    [
        .. "b z remote their theirs them branch spoke far other to destination store shop partner depot".Split(' '),
    ];

    private static readonly Dictionary<string, int> Phases = new()
    {
        ["phase1"] = 1,
        ["ph1"] = 1,
        ["p1"] = 1,
        ["ike"] = 1,
        ["isakmp"] = 1,
        ["phase2"] = 2,
        ["ph2"] = 2,
        ["p2"] = 2,
        ["esp"] = 2,
        ["ipsec"] = 2,
    };

    private static readonly HashSet<string> Known =
    [
        .. Vocabulary.SelectMany(v => v.Words.Split(' ')),
        .. WordsOfA.Concat(WordsOfB).Where(w => w.Length > 1),
        .. Phases.Keys,
    ];

    private readonly HashSet<HeadingWord> speaks = [];

    public HeadingWords(string heading)
    {
        string[] words = [.. Words(heading)];
        Phase = words.Select(w => Phases.TryGetValue(w, out var p) ? p : (int?)null).FirstOrDefault(p => p is not null);
        foreach (var (word, known) in Vocabulary)
            if (known.Split(' ').Any(words.Contains))
                speaks.Add(word);
        if (VersionsOf().IsMatch(heading))
            speaks.Add(HeadingWord.Version);
        // A prefix that is local or remote names the end before one that is both a place and a side.
        Side = words.Select(SideOf).FirstOrDefault(s => s is not null);
        if (words.Contains("local") || words.Contains("remote"))
            Side = words.Contains("local") ? "a" : "b";
        OnlySide = words.Length > 0 && words.All(w => SideOf(w) is not null || w is "end" or "side");
    }

    /// <summary>The phase of IKE that it names: 1 or 2; null when it names none.</summary>
    public int? Phase { get; }

    /// <summary>The end that it names: a or b; null when it names none.</summary>
    public string? Side { get; }

    /// <summary>Whether nothing else is in it.</summary>
    public bool OnlySide { get; }

    /// <summary>The end of the customer, where a customer stands before what is of an end.</summary>
    public string? CustomersSide => Has(HeadingWord.Customer) ? "b" : null;

    /// <summary>Whether one of its words speaks of something.</summary>
    public bool Has(HeadingWord word) => speaks.Contains(word);

    private static string? SideOf(string word) =>
        WordsOfA.Contains(word) ? "a"
        : WordsOfB.Contains(word) ? "b"
        : null;

    private static IEnumerable<string> Words(string heading)
    {
        var text = PhaseWords().Replace(heading.ToLowerInvariant(), m => $" phase{m.Groups[1].Value} ");
        // Units and remarks in brackets do not tell what the column is.
        var cut = text.IndexOfAny(['(', '[']);
        return Pieces().Matches(cut > 0 ? text[..cut] : text).SelectMany(m => Segments(m.Value));
    }

    /// <summary>A word, or the known words that are written together in it.</summary>
    private static string[] Segments(string word)
    {
        if (Known.Contains(word))
            return [word];
        for (var length = word.Length - 2; length >= 2; length--)
            if (Known.Contains(word[..length]) && Segments(word[length..]) is var rest && rest.All(Known.Contains))
                return [word[..length], .. rest];
        return [word];
    }

    [GeneratedRegex(@"\b(?:phase|ph|p)[\s._-]*([12])(?!\d)")]
    private static partial Regex PhaseWords();

    [GeneratedRegex(@"\bv?1\s*/\s*v?2\b", RegexOptions.IgnoreCase)]
    private static partial Regex VersionsOf();

    [GeneratedRegex(@"[a-z]+[0-9]*|[0-9]+")]
    private static partial Regex Pieces();
}
