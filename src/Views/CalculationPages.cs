namespace Vellumkeep.Views;

/// <summary>The calculations, each with its working: the same for the service and for the command alone.</summary>
public static class CalculationPages
{
    /// <param name="proposal">The ESP proposal.</param>
    /// <param name="outer">IPv4 or IPv6: the family of the outer header.</param>
    /// <param name="udp">Whether ESP goes in UDP.</param>
    /// <param name="mtu">Of the link, in octets.</param>
    /// <param name="mode">Tunnel or transport; tunnel when left out.</param>
    /// <param name="wrap">What the tunnel interface puts around the packet; nothing when left out.</param>
    public static Parsed<PacketResult> Packet(
        string? proposal,
        string? outer,
        bool udp,
        int mtu,
        string? mode = null,
        string? wrap = null
    ) =>
        EspProposal
            .Parse(proposal ?? "")
            .In("proposal")
            .Then(p => FamilyOf(outer).In("outer").To(f => (Proposal: p, Outer: f)))
            .Then(x => Word(WordsOf.EspModes, mode, EspMode.Tunnel).In("mode").To(m => (x.Proposal, x.Outer, Mode: m)))
            .Then(x =>
                Word(WordsOf.InterfaceEncapsulations, wrap, InterfaceEncapsulation.None)
                    .In("interface")
                    .Then(w =>
                        PacketCalculation
                            .Of(x.Proposal, x.Outer, udp, mtu, x.Mode, w)
                            .In("mtu")
                            .To(s => new PacketResult
                            {
                                Proposal = x.Proposal.ToString(),
                                Outer = x.Outer.ToString(),
                                Udp = udp,
                                LinkMtu = s.LinkMtu,
                                Terms = [.. s.Terms.Select(t => new TermLine(t.What, t.Octets))],
                                Left = s.Left,
                                Alignment = s.Alignment,
                                Aligned = s.Aligned,
                                Inside = [.. s.Inside.Select(t => new TermLine(t.What, t.Octets))],
                                Inner = s.Inner,
                                MssIPv4 = s.MssIPv4,
                                MssIPv6 = s.MssIPv6,
                                Note = s.BelowIPv6
                                    ? "IPv6 in the tunnel has less than its minimum MTU of 1,280 (RFC 8200 section "
                                        + "5): it must be fragmented."
                                    : null,
                            })
                    )
            );

    private static Parsed<T> Word<T>(Words<T> words, string? typed, T usual)
        where T : struct, Enum => typed is null ? Parsed<T>.Of(usual) : words.Parse(typed);

    public static Parsed<GradeResult> Grade(string? proposal) => Graded.Parse(proposal ?? "").To(Grade);

    public static GradeResult Grade(Graded g) =>
        new(
            g.Proposal,
            g.Layer,
            g.Bits,
            g.Weakest,
            g.Word,
            [.. g.Members.Select(m => new MemberLine(m.Name, m.Bits, m.Word, m.Standard))]
        );

    public static CommonResult Common(string nameA, Platform a, string nameB, Platform b, IkeVersion version)
    {
        var c = CommonGround.Of(a, b, version);
        return new(
            nameA,
            nameB,
            version.ToString(),
            c.BothSpeak,
            [.. c.Ike.Select(Grade)],
            [.. c.Esp.Select(Grade)],
            c.Groups,
            [.. c.Differences.Select(d => new NotCommonLine(d.What, d.A, d.B, d.Follows))],
            [.. c.Unknown.Select(u => new NotSaidLine(u.At.ToString(), u.At == EndName.A ? nameA : nameB, u.What))]
        );
    }

    /// <summary>A lifetime with its unit, with what passes in it; or a bare number, with its readings.</summary>
    public static Parsed<LifetimeWorked> Life(string? time, string? data, int? throughput)
    {
        if (throughput is < 1 or > 400_000)
            return Parsed<LifetimeWorked>
                .Fail($"{throughput} is not a throughput", "Mbit/s, 1 to 400000")
                .In("throughput");
        var typed = Typed.Trim(time ?? "");
        if (long.TryParse(typed.Replace(",", ""), NumberStyles.None, CultureInfo.InvariantCulture, out var bare))
            return
                LifetimeCalculation
                    .Readings(bare)
                    .Select(r => new ReadingLine(
                        r.Unit.ToString().ToLowerInvariant(),
                        Lifetime.Say(r.Reads.InSeconds),
                        r.Reads.InSeconds
                    ))
                    .ToArray()
                    is { Length: > 0 } readings
                ? Parsed<LifetimeWorked>.Of(new(typed, null, null, null, null, null, readings))
                : Parsed<LifetimeWorked>
                    .Fail(
                        $"'{Typed.Short(typed)}' is out of range",
                        "a number with its unit, such as 3600 s, 60 min or 8 h"
                    )
                    .In("time");
        return Lifetime
            .Parse(typed)
            .In("time")
            .Then(t =>
                (
                    data is null
                        ? Parsed<DataAmount?>.Of(null)
                        : DataAmount.Parse(data).In("data").To(d => (DataAmount?)d)
                ).To(d =>
                {
                    var s = LifetimeCalculation.Of(new(t, d), throughput);
                    return new LifetimeWorked(
                        t.ToString(),
                        s.Seconds,
                        s.Says,
                        s.DataSeconds,
                        s.GigabytesInTime,
                        s.Ends,
                        []
                    );
                })
            );
    }

    public static Parsed<DetectResult> Detect(string? dpd, string? version, string? schedule, Platform? platform) =>
        Dpd.Parse(dpd ?? "")
            .In("dpd")
            .Then(d =>
                VersionOf(version)
                    .In("version")
                    .Then(v =>
                        (
                            schedule is null
                                ? Parsed<Retransmission?>.Of(platform?.Retransmits)
                                : Retransmission.Parse(schedule).In("schedule").To(r => (Retransmission?)r)
                        ).To(r =>
                        {
                            var (seconds, working) = Detection.Of(d, r, v, platform?.Title ?? "the platform");
                            return new DetectResult(d.ToString(), v.ToString(), r?.ToString(), seconds, working);
                        })
                    )
            );

    /// <summary>show, split, merge, contains, subtract or free.</summary>
    public static Parsed<PrefixResult> Prefixes(
        string? verb,
        IReadOnlyList<string> given,
        IReadOnlyList<string> less,
        int? length
    )
    {
        var read = Several(given);
        var taken = Several(less);
        if (!read.Ok)
            return Parsed<PrefixResult>.Fail(read.Wrong!, read.Right!);
        if (!taken.Ok)
            return Parsed<PrefixResult>.Fail(taken.Wrong!, taken.Right!).In("less");
        if (read.Value.IsEmpty)
            return Parsed<PrefixResult>.Fail("no prefix is given", "at least one, such as 10.61.0.0/22");
        return read.Value.Concat(taken.Value).Select(p => p.Family).Distinct().Count() > 1
            ? Parsed<PrefixResult>.Fail("IPv4 and IPv6 prefixes are mixed", "prefixes of one family")
            : new PrefixCalculations(read.Value, taken.Value, length).Of(verb);
    }

    public static Parsed<IkeVersion> VersionOf(string? text) =>
        WordsOf.IkeVersions.Parse(
            text is "1" or "v1" ? "IKEv1"
            : text is null or "2" or "v2" ? "IKEv2"
            : text
        );

    private static Parsed<Family> FamilyOf(string? text) =>
        (text ?? "IPv4").ToLowerInvariant() switch
        {
            "ipv4" or "4" => Parsed<Family>.Of(Family.IPv4),
            "ipv6" or "6" => Parsed<Family>.Of(Family.IPv6),
            _ => Parsed<Family>.Fail($"'{Typed.Short(text!)}' is not an address family", "IPv4 or IPv6"),
        };

    private static Parsed<ImmutableArray<Prefix>> Several(IReadOnlyList<string> texts)
    {
        var found = ImmutableArray.CreateBuilder<Prefix>();
        foreach (
            var text in texts.SelectMany(t =>
                t.Split([',', ';', '\n'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            )
        )
        {
            var read = Prefix.Parse(text);
            if (!read.Ok)
                return Parsed<ImmutableArray<Prefix>>.Fail(read.Wrong!, read.Right!);
            found.Add(read.Value);
        }

        return Parsed<ImmutableArray<Prefix>>.Of(found.ToImmutable());
    }

    internal static string Count(Prefix p) =>
        p.Network.Width - p.Length is var bits && bits > 62
            ? $"2^{bits}"
            : (1L << bits).ToString("N0", CultureInfo.InvariantCulture);
}
