using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Findings: listed, opened, accepted.</summary>
internal static class FindingCommands
{
    public static IReadOnlyList<Command> Make(Frame frame)
    {
        var findings = List(frame);
        findings.Add(Accept(frame));
        findings.Add(Withdraw(frame));
        findings.Add(OverTime(frame));
        return [findings];
    }

    private static Command List(Frame frame)
    {
        var (tunnel, gateway, customer, code, severity) = (
            Text("--tunnel", "code"),
            Text("--gateway", "code"),
            Text("--customer", "code"),
            Text("--code", "code of a check, such as PATH-03"),
            Text("--severity", "blocks, degrades, risk, note")
        );
        return frame.Reads(
            "findings",
            "findings, worst first",
            async (p, c, ct) =>
            {
                if (p.GetValue(frame.Output) is { } file)
                {
                    using var client = frame.Session.Open();
                    await frame.WriteListAsync(
                        client,
                        "findings",
                        file,
                        [
                            ("tunnel", p.GetValue(tunnel)),
                            ("gateway", p.GetValue(gateway)),
                            ("customer", p.GetValue(customer)),
                            ("code", p.GetValue(code)),
                            ("severity", p.GetValue(severity)),
                        ],
                        ct
                    );
                    return 0;
                }

                var found = await c.FindingsAsync(
                    p.GetValue(tunnel),
                    p.GetValue(gateway),
                    p.GetValue(customer),
                    p.GetValue(code),
                    p.GetValue(severity),
                    ct
                );
                frame.Shows(p, found, () =>
                {
                    Printing.Findings(frame.Screen, found, true);
                    frame.Screen.Line(found.Count == 0 ? "No findings." : $"{found.Count} findings.");
                });
                return Stands(found.Select(f => f.Standing));
            },
            tunnel,
            gateway,
            customer,
            code,
            severity,
            frame.Output
        );
    }

    private static Command OverTime(Frame frame)
    {
        var customer = Text("--customer", "code");
        return frame.Verb(
            "over-time",
            "findings that nobody had accepted, week by week",
            async (p, c, ct) =>
            {
                var counted = await c.FindingsOverTimeAsync(p.GetValue(customer), ct);
                frame.Shows(p, counted, () =>
                    frame.Screen.Table(
                        ["on", "tunnels", "blocks", "degrades", "risk"],
                        counted.Points.Select(o =>
                            (IReadOnlyList<string>)[o.On, $"{o.Tunnels}", $"{o.Blocks}", $"{o.Degrades}", $"{o.Risk}"]
                        )
                    )
                );
                return 0;
            },
            customer
        );
    }

    private static Command Accept(Frame frame)
    {
        var which = new Which();
        var why = Text("--reason", "why it can stay");
        var until = Text("--until", "last day, such as 2027-03-31");
        return frame.Verb(
            "accept",
            "accept a finding of a tunnel, with a reason and an end date",
            async (p, c, ct) =>
            {
                var (t, f) = await which.OfAsync(p, c, ct);
                await c.AcceptAsync(
                    t.Code,
                    t.Version,
                    new(f.Code, f.Subject, f.Digest, p.GetValue(why) ?? "", p.GetValue(until) ?? ""),
                    ct
                );
                frame.Screen.Line(
                    $"Accepted until {p.GetValue(until)}: {t.Code} {f.Code}. It opens again after that day, or "
                        + $"when its values change."
                );
                return 0;
            },
            which.Tunnel,
            which.Code,
            which.Subject,
            why,
            until
        );
    }

    private static Command Withdraw(Frame frame)
    {
        var which = new Which();
        return frame.Verb(
            "withdraw",
            "withdraw an acceptance",
            async (p, c, ct) =>
            {
                var (t, f) = await which.OfAsync(p, c, ct);
                await c.WithdrawAsync(t.Code, t.Version, new(f.Code, f.Subject), ct);
                frame.Screen.Line($"No longer accepted: {t.Code} {f.Code}.");
                return 0;
            },
            which.Tunnel,
            which.Code,
            which.Subject
        );
    }

    /// <summary>One finding of a tunnel: its code, and its subject where there are several.</summary>
    private sealed class Which
    {
        public Argument<string> Tunnel { get; } = Frame.Name("tunnel");

        public Argument<string> Code { get; } = new("code") { Description = "code of the finding, such as STR-09" };

        public Option<string?> Subject { get; } = Text("--subject", "its subject, if there is more than one");

        public async Task<(TunnelPage Tunnel, FindingPage Finding)> OfAsync(
            ParseResult p,
            KeepClient c,
            CancellationToken ct
        )
        {
            var code = p.GetValue(Code)!;
            var t = await c.TunnelAsync(p.GetValue(Tunnel)!, ct);
            var found = t
                .Findings.Where(f =>
                    f.Code.Equals(code, StringComparison.OrdinalIgnoreCase)
                    && (p.GetValue(Subject) is not { } s || f.Subject == s)
                )
                .ToArray();
            if (found.Length == 1)
                return (t, found[0]);
            var has = string.Join(", ", t.Findings.Select(f => f.Code).Distinct());
            throw found.Length == 0
                ? new Refusal(
                    3,
                    $"{t.Code} has no finding {code}. {(has.Length > 0 ? $"It has {has}." : "It has none.")}"
                )
                : new Refusal(
                    2,
                    $"{t.Code} has {found.Length} findings {code}. Say which: "
                        + $"{string.Join(", ", found.Select(f => $"--subject '{f.Subject}'"))}"
                );
        }
    }
}
