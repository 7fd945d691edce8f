using System.CommandLine;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using static Vellumkeep.Cli.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Findings: listed, opened, accepted.</summary>
internal static class FindingCommands
{
    public static IReadOnlyList<Command> Make(Frame frame)
    {
        var screen = frame.Screen;
        var made = new List<Command>();
        var (tunnel, gateway, customer, code, severity) = (
            Text("--tunnel", "code"),
            Text("--gateway", "code"),
            Text("--customer", "code"),
            Text("--code", "code of a check, such as PATH-03"),
            Text("--severity", "blocks, degrades, risk, note")
        );
        var findings = frame.Reads(
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
                    Printing.Findings(screen, found, true);
                    screen.Line(found.Count == 0 ? "No findings." : $"{found.Count} findings.");
                });
                return Blocks(found.Select(f => f.Severity));
            },
            tunnel,
            gateway,
            customer,
            code,
            severity,
            frame.Output
        );
        var which = new Argument<string>("code") { Description = "code of the finding, such as STR-09" };
        var subject = Text("--subject", "its subject, if there is more than one");
        var why = Text("--reason", "why it can stay");
        var until = Text("--until", "last day, such as 2027-03-31");
        var on = Frame.Name("tunnel");
        async Task<(TunnelPage Tunnel, FindingPage Finding)> One(ParseResult p, KeepClient c, CancellationToken ct)
        {
            var t = await c.TunnelAsync(p.GetValue(on)!, ct);
            var found = t
                .Findings.Where(f =>
                    f.Code.Equals(p.GetValue(which), StringComparison.OrdinalIgnoreCase)
                    && (p.GetValue(subject) is not { } s || f.Subject == s)
                )
                .ToArray();
            return found.Length == 1
                ? (t, found[0])
                : throw new Refusal(
                    found.Length == 0 ? 3 : 2,
                    found.Length == 0
                        ? $"{t.Code} has no finding {p.GetValue(which)}."
                        : $"{t.Code} has {found.Length} findings {p.GetValue(which)}. Say which: "
                            + $"{string.Join(", ", found.Select(f => $"--subject '{f.Subject}'"))}"
                );
        }

        findings.Add(
            frame.Verb(
                "accept",
                "accept a finding of a tunnel, with a reason and an end date",
                async (p, c, ct) =>
                {
                    var (t, f) = await One(p, c, ct);
                    await c.AcceptAsync(
                        t.Code,
                        t.Version,
                        new(f.Code, f.Subject, f.Digest, p.GetValue(why) ?? "", p.GetValue(until) ?? ""),
                        ct
                    );
                    screen.Line(
                        $"Accepted until {p.GetValue(until)}: {t.Code} {f.Code}. It opens again after that day, or "
                            + $"when its values change."
                    );
                    return 0;
                },
                on,
                which,
                subject,
                why,
                until
            )
        );
        findings.Add(
            frame.Verb(
                "withdraw",
                "withdraw an acceptance",
                async (p, c, ct) =>
                {
                    var (t, f) = await One(p, c, ct);
                    await c.WithdrawAsync(t.Code, t.Version, new(f.Code, f.Subject), ct);
                    screen.Line($"No longer accepted: {t.Code} {f.Code}.");
                    return 0;
                },
                on,
                which,
                subject
            )
        );
        made.Add(findings);
        return made;
    }
}
