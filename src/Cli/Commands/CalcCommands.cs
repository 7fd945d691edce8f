using System.CommandLine;
using System.Globalization;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;
using Vellumkeep.Views;

namespace Vellumkeep.Cli.Commands;

/// <summary>One calculation each, with its working; all but common work without a service or a file.</summary>
internal static class CalcCommands
{
    public static Command Make(Frame f) =>
        Frame.Thing(
            "calc",
            "calculations with their working",
            OfPacket(f),
            OfGrade(f),
            OfCommon(f),
            OfLifetime(f),
            OfDetection(f),
            OfPrefixes(f)
        );

    private static Argument<string[]> Words(string name, string about) => new(name) { Description = about };

    private static Option<string?> Version() => Frame.Text("--ike", "IKEv1 or IKEv2; IKEv2 when left out");

    private static Command OfPacket(Frame f)
    {
        var proposal = Words("proposal", "such as AES-256-GCM-16 + PRF-HMAC-SHA2-384 + DH 20");
        var outer = Frame.Text("--outer", "IPv4 or IPv6; IPv4 when left out");
        var mtu = new Option<int>("--mtu") { Description = "link MTU in octets", DefaultValueFactory = _ => 1500 };
        var udp = new Option<bool>("--udp") { Description = "with UDP encapsulation (port 4500)" };
        var mode = Frame.Text("--mode", "tunnel or transport; tunnel when left out");
        var wrap = Frame.Text("--interface", "what the tunnel interface adds: none, GRE, GRE with key or IP in IP");
        return Frame.Alone(
            "packet",
            "largest inner packet and MSS for a proposal on a link",
            (p, _) =>
                Told(
                    f,
                    p,
                    CalculationPages.Packet(
                        Joined(p.GetValue(proposal)),
                        p.GetValue(outer),
                        p.GetValue(udp),
                        p.GetValue(mtu),
                        p.GetValue(mode),
                        p.GetValue(wrap)
                    ),
                    x => Packet(f.Screen, x)
                ),
            proposal,
            outer,
            udp,
            mtu,
            mode,
            wrap
        );
    }

    private static Command OfGrade(Frame f)
    {
        var proposal = Words("proposal", "such as AES-256-GCM-16 + PRF-HMAC-SHA2-384 + DH 20");
        return Frame.Alone(
            "grade",
            "a proposal graded by the RFC levels and its weakest member",
            (p, _) => Told(f, p, CalculationPages.Grade(Joined(p.GetValue(proposal))), x => Grade(f.Screen, x)),
            proposal
        );
    }

    private static Command OfCommon(Frame f)
    {
        var a = new Argument<string>("a") { Description = "platform profile or gateway" };
        var b = new Argument<string>("b") { Description = "platform profile or gateway" };
        var version = Version();
        return f.Reads(
            "common",
            "what two platforms have in common, strongest first",
            async (p, facts, ct) =>
            {
                var x = await facts.CommonAsync(p.GetValue(a)!, p.GetValue(b)!, p.GetValue(version), ct);
                f.Shows(p, x, () => Common(f.Screen, x));
                return x.Ike.Count == 0 || x.Esp.Count == 0 ? 1 : 0;
            },
            a,
            b,
            version
        );
    }

    private static Command OfLifetime(Frame f)
    {
        var words = Words("value", "a lifetime such as 8 h, or a number without a unit");
        var data = Frame.Text("--data", "data lifetime, such as 4 GB");
        var throughput = new Option<int?>("--throughput") { Description = "Mbit/s" };
        return Frame.Alone(
            "lifetime",
            "a lifetime: time against data, or a number read in every unit",
            (p, _) =>
                Told(
                    f,
                    p,
                    CalculationPages.Life(Joined(p.GetValue(words)), p.GetValue(data), p.GetValue(throughput)),
                    x => Life(f.Screen, x)
                ),
            words,
            data,
            throughput
        );
    }

    private static Command OfDetection(Frame f)
    {
        var dpd = Words("dpd", "such as 20 s x 5, try again");
        var schedule = Frame.Text("--schedule", "first wait, factor and tries: 4 s x 2, 5 tries");
        var version = Version();
        return Frame.Alone(
            "detect",
            "how long a dead peer stays undetected",
            (p, _) =>
                Told(
                    f,
                    p,
                    CalculationPages.Detect(Joined(p.GetValue(dpd)), p.GetValue(version), p.GetValue(schedule), null),
                    x => Detect(f.Screen, x)
                ),
            dpd,
            version,
            schedule
        );
    }

    private static Command OfPrefixes(Frame f)
    {
        var verb = new Argument<string>("verb") { Description = "show, split, merge, contains, subtract or free" };
        var prefixes = new Argument<string[]>("prefix")
        {
            Description = "one or more",
            Arity = ArgumentArity.OneOrMore,
        };
        var less = new Option<string[]>("--of")
        {
            Description = "the prefix to look for, to subtract, or in use",
            AllowMultipleArgumentsPerToken = true,
        };
        var length = new Option<int?>("--length") { Description = "length of the parts wanted" };
        return Frame.Alone(
            "prefix",
            "arithmetic on prefixes",
            (p, _) =>
                Told(
                    f,
                    p,
                    CalculationPages.Prefixes(
                        p.GetValue(verb),
                        p.GetValue(prefixes) ?? [],
                        p.GetValue(less) ?? [],
                        p.GetValue(length)
                    ),
                    x => Prefix(f.Screen, x)
                ),
            verb,
            prefixes,
            less,
            length
        );
    }

    /// <summary>Prints what was worked out, or refuses what could not be read.</summary>
    private static Task<int> Told<T>(Frame f, ParseResult p, Parsed<T> read, Action<T> print)
    {
        if (!read.Ok)
            throw new Refusal(2, $"{Say(read.Wrong!)}. Expected: {read.Right}.");
        f.Shows(p, read.Value, () => print(read.Value));
        return Task.FromResult(0);
    }

    private static string Joined(string[]? words) => string.Join(" ", words ?? []);

    private static string Say(string text) => Core.Wording.Say.Capital(text);

    private static void Packet(Screen s, PacketResult x)
    {
        s.Line($"{s.In("strong", x.Proposal)} over {x.Outer}{(x.Udp ? ", in UDP 4500" : "")}");
        void Row(string sign, int n, string what) => s.Line($"  {sign} {n, 6}  {what}");
        Row(" ", x.LinkMtu, "link MTU");
        foreach (var t in x.Terms)
            Row("-", t.Octets, t.What);
        Row("=", x.Left, "left for the encrypted part");
        Row(
            "=",
            x.Aligned,
            x.Alignment == 4 ? "rounded down to a multiple of 4" : $"rounded down to whole blocks of {x.Alignment}"
        );
        Row("-", 2, "trailer");
        foreach (var t in x.Inside)
            Row(t.Octets < 0 ? "+" : "-", Math.Abs(t.Octets), t.What);
        s.Line(s.In("strong", $"  = {x.Inner, 6}  largest inner packet"));
        s.Line($"    {x.MssIPv4, 6}  MSS with IPv4 inside (less 40)");
        s.Line($"    {x.MssIPv6, 6}  MSS with IPv6 inside (less 60)");
        if (x.Note is { } note)
            s.Wrapped(note, 0, "weak");
    }

    private static void Grade(Screen s, GradeResult x)
    {
        s.Line($"{s.In("strong", x.Proposal)}  {x.Layer}");
        s.Line(
            $"{s.In(x.Word is "MUST NOT" ? "stops" : x.Word is "SHOULD NOT" ? "weak" : "holds", x.Word)}, "
                + $"{Bits(x.Bits)} by {x.Weakest}"
        );
        s.Table(
            ["member", "strength", "RFC level", "where"],
            x.Members.Select(m => (IReadOnlyList<string>)[m.Name, Bits(m.Bits), m.Word, m.Standard])
        );
    }

    private static string Bits(int bits) => bits == 0 ? "under 80 bits" : $"{bits} bits";

    private static void Common(Screen s, CommonResult x)
    {
        s.Line($"{s.In("a", x.A)} and {s.In("b", x.B)} under {x.Version}");
        foreach (var u in x.Unknown)
            s.Wrapped(
                $"Unknown: the profile of {u.Platform} at {u.End} does not say its {string.Join(", ", u.What)}.",
                0,
                "weak"
            );
        if (x.BothSpeak != true)
        {
            if (x.BothSpeak is false)
                s.Line(s.In("stops", $"They do not both support {x.Version}."));
            return;
        }

        foreach (var (layer, list) in new[] { ("IKE", x.Ike), ("ESP", x.Esp) })
        {
            s.Line("");
            if (list.Count == 0)
                s.Line(
                    x.Unknown.Count > 0
                        ? s.In("soft", $"{layer} proposals in common: unknown.")
                        : s.In("stops", $"No {layer} proposal in common by their profiles.")
                );
            else
                s.Table(
                    [$"{layer} proposal, strongest first", "strength", "weakest", "RFC level"],
                    list.Select(g => (IReadOnlyList<string>)[g.Proposal, Bits(g.Bits), g.Weakest, g.Word])
                );
        }

        s.Line("");
        s.Wrapped($"DH groups in common: {Groups(x)}");
        if (x.NotCommon.Count > 0)
            s.Line("\n" + s.In("strong", "What is not in common"));
        foreach (var u in x.NotCommon)
        {
            s.Line($"{u.What}: {s.In("a", "A")} {u.A} · {s.In("b", "B")} {u.B}");
            s.Wrapped(u.Follows, 2, "soft");
        }
    }

    private static string Groups(CommonResult x) =>
        x.Groups.Count > 0 ? string.Join(", ", x.Groups)
        : x.Unknown.Any(u => u.What.Contains("DH groups")) ? "unknown"
        : "none";

    private static void Life(Screen s, LifetimeWorked x)
    {
        if (x.Seconds is null)
        {
            s.Line($"{x.Typed} has no unit. It can be:");
            s.Table(
                ["typed in", "means", "seconds"],
                x.Readings.Select(r =>
                    (IReadOnlyList<string>)[r.Unit, r.Reads, r.Seconds.ToString("N0", CultureInfo.InvariantCulture)]
                )
            );
            return;
        }

        s.Line($"{x.Typed} is {x.Says}, {x.Seconds.Value.ToString("N0", CultureInfo.InvariantCulture)} s.");
        if (x.GigabytesInTime is { } g)
            s.Line($"{g.ToString("#,0.###", CultureInfo.InvariantCulture)} GB pass in that time.");
        if (x.DataSeconds is { } d)
            s.Line(
                $"The data lifetime is used up after {d.ToString("#,0.#", CultureInfo.InvariantCulture)} s: the "
                    + $"{x.Ends} lifetime ends first."
            );
    }

    private static void Detect(Screen s, DetectResult x)
    {
        s.Line($"{x.Dpd} under {x.Version}{(x.Schedule is null ? "" : $", retransmitting {x.Schedule}")}");
        s.Line(
            x.Seconds is { } seconds
                ? s.In(
                    "strong",
                    $"A dead peer is detected after {seconds.ToString("#,0.#", CultureInfo.InvariantCulture)} s."
                )
                : s.In("weak", "Undetermined when a dead peer is detected.")
        );
        s.Wrapped(x.Working, 2, "soft");
    }

    private static void Prefix(Screen s, PrefixResult x)
    {
        foreach (var line in x.Working)
            s.Line(s.In("soft", line));
        if (x.Did != "show")
            foreach (var p in x.Result)
                s.Line(p);
        if (x.Result.Count == 0)
            s.Line("None.");
    }
}
