using System.Text.RegularExpressions;

namespace Vellumkeep.Core.Records;

/// <summary>Numbers from one to another, both included.</summary>
/// <param name="From">The first.</param>
/// <param name="To">The last.</param>
public readonly record struct NumberRange(int From, int To)
{
    /// <summary>Whether it has all of the other.</summary>
    public bool Contains(NumberRange other) => From <= other.From && other.To <= To;

    /// <summary>Whether they have a number in common.</summary>
    public bool Overlaps(NumberRange other) => From <= other.To && other.From <= To;

    /// <summary>What both have; only where they overlap.</summary>
    public NumberRange Common(NumberRange other) => new(Math.Max(From, other.From), Math.Min(To, other.To));

    /// <summary>What is below and above the other, which it overlaps.</summary>
    public IEnumerable<NumberRange> Beside(NumberRange other)
    {
        if (From < other.From)
            yield return new(From, other.From - 1);
        if (other.To < To)
            yield return new(other.To + 1, To);
    }

    /// <inheritdoc/>
    public override string ToString() => From == To ? $"{From}" : $"{From}-{To}";
}

/// <summary>
/// What of the traffic between two prefixes is meant: next layer protocol and ports, as selectors and rules have them
/// (RFC 4301 section 4.4.1.1). All of it where nobody says.
/// </summary>
/// <param name="Protocols">IP protocol numbers, 0 to 255.</param>
/// <param name="Near">Ports on the near side: A of a pair, the own side of an end; 0 to 65535.</param>
/// <param name="Far">Ports on the far side.</param>
public sealed partial record Traffic(NumberRange Protocols, NumberRange Near, NumberRange Far)
{
    private static readonly NumberRange AnyProtocol = new(0, 255);
    private static readonly NumberRange AnyPort = new(0, 65_535);

    /// <summary>Every protocol and every port.</summary>
    public static readonly Traffic All = new(AnyProtocol, AnyPort, AnyPort);

    private static readonly ImmutableArray<(string Name, int Number)> Names =
    [
        ("icmp", 1),
        ("ipip", 4),
        ("tcp", 6),
        ("udp", 17),
        ("gre", 47),
        ("icmpv6", 58),
        ("sctp", 132),
    ];

    private static readonly ImmutableHashSet<int> WithPorts = [6, 17, 132];

    /// <summary>Whether an echo request is among it.</summary>
    public bool TakesPing => Protocols.Contains(new(1, 1)) || Protocols.Contains(new(58, 58));

    /// <summary>The same seen from the other side.</summary>
    public Traffic Turned => new(Protocols, Far, Near);

    /// <summary>Whether it has all of the other.</summary>
    public bool Contains(Traffic other) =>
        Protocols.Contains(other.Protocols) && Near.Contains(other.Near) && Far.Contains(other.Far);

    /// <summary>Whether they have something in common.</summary>
    public bool Overlaps(Traffic other) =>
        Protocols.Overlaps(other.Protocols) && Near.Overlaps(other.Near) && Far.Overlaps(other.Far);

    /// <summary>What both have; only where they overlap.</summary>
    public Traffic Common(Traffic other) =>
        new(Protocols.Common(other.Protocols), Near.Common(other.Near), Far.Common(other.Far));

    /// <summary>What it has that the other, which it overlaps, does not.</summary>
    public IEnumerable<Traffic> Beside(Traffic other) =>
        Protocols
            .Beside(other.Protocols)
            .Select(p => this with { Protocols = p })
            .Concat(Near.Beside(other.Near).Select(n => new Traffic(Protocols.Common(other.Protocols), n, Far)))
            .Concat(
                Far.Beside(other.Far)
                    .Select(f => new Traffic(Protocols.Common(other.Protocols), Near.Common(other.Near), f))
            );

    /// <summary>Reads it as it is said of a pair: <c>tcp 443 at B</c>, <c>icmp</c>, <c>udp 1024-65535 at A 53 at B</c>.</summary>
    public static Parsed<Traffic> ParseOfPair(string text) => Parse(text, "at A", "at B");

    /// <summary>Reads it as it is said at an end: <c>tcp 443 local</c>, <c>tcp 443 remote</c>, <c>icmp</c>.</summary>
    public static Parsed<Traffic> ParseAtEnd(string text) => Parse(text, "local", "remote");

    /// <summary>As it is said of a pair.</summary>
    public string OfPair => Written("at A", "at B");

    /// <summary>As it is said at an end.</summary>
    public string AtEnd => Written("local", "remote");

    private static Parsed<Traffic> Parse(string text, string near, string far)
    {
        var right = $"a protocol and its ports, such as: tcp 443 {far}, udp 1024-65535 {near} 53 {far}, or icmp";
        Parsed<Traffic> Wrong(string why) => Parsed<Traffic>.Fail($"'{Typed.Short(text)}' {why}", right);
        var match = Form()
            .Match(
                text.Trim()
                    .Replace(near, "near", StringComparison.OrdinalIgnoreCase)
                    .Replace(far, "far", StringComparison.OrdinalIgnoreCase)
            );
        if (!match.Success)
            return Wrong("is no protocol with ports");
        var named = Names.FirstOrDefault(n =>
            n.Name.Equals(match.Groups["protocol"].Value, StringComparison.OrdinalIgnoreCase)
        );
        int protocol;
        if (named.Name is not null)
            protocol = named.Number;
        else if (!int.TryParse(match.Groups["number"].Value, out protocol) || protocol is < 0 or > 255)
            return Wrong("names no protocol from 0 to 255");
        var (n, f) = (Ports(match.Groups["near"]), Ports(match.Groups["far"]));
        if (n is null || f is null)
            return Wrong("has a port that is not from 0 to 65535");
        if (!WithPorts.Contains(protocol) && (n != AnyPort || f != AnyPort))
            return Wrong("has ports, which only tcp, udp and sctp have");
        return Parsed<Traffic>.Of(new(new(protocol, protocol), n.Value, f.Value));
    }

    private static NumberRange? Ports(Group group)
    {
        if (!group.Success)
            return AnyPort;
        var ends = group.Value.Split('-');
        return int.TryParse(ends[0], out var from) && int.TryParse(ends[^1], out var to) && from <= to && to <= 65_535
            ? new(from, to)
            : null;
    }

    private string Written(string near, string far)
    {
        var protocol =
            Protocols == AnyProtocol ? "any protocol"
            : Protocols.From == Protocols.To
                ? Names.FirstOrDefault(n => n.Number == Protocols.From).Name ?? $"protocol {Protocols}"
            : $"protocols {Protocols}";
        return protocol + (Near == AnyPort ? "" : $" {Near} {near}") + (Far == AnyPort ? "" : $" {Far} {far}");
    }

    [GeneratedRegex(
        @"^(?:(?<protocol>[a-z]\w*)|(?:protocol )?(?<number>\d+))(?: (?<near>\d+(?:-\d+)?) near)?(?: (?<far>\d+(?:-\d+)?) far)?$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Form();

    /// <inheritdoc/>
    public override string ToString() => OfPair;
}
