using System.Text;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Plans of the demo, word for word as an engineer reads them, in cases/plans. A plan that is worded or ordered
/// otherwise fails here and is read again before it is kept: with KEEP_PLANS=1 the test writes what it found.
/// </summary>
public class PlanTextTests
{
    public static IEnumerable<TheoryDataRow<string>> Names() => Requests.Keys.Select(n => new TheoryDataRow<string>(n));

    private static readonly Dictionary<string, Func<ChangeRequest>> Requests = new()
    {
        ["cold store on both tunnels"] = () =>
            new SubnetsRequest(Id("BRI-ASHLOW"), EndName.A, [P("10.61.40.0/24")], [])
            {
                Also = [new(Id("BRI-PETHER"), EndName.A)],
            },
        ["cold store on one tunnel of a shared list"] = () =>
            new SubnetsRequest(Id("BRI-ASHLOW"), EndName.A, [P("10.61.40.0/24")], []),
        ["a subnet goes from both tunnels of a shared list"] = () =>
            new SubnetsRequest(Id("BRI-ASHLOW"), EndName.A, [], [])
            {
                Remove = [P("10.61.8.0/22")],
                Also = [new(Id("BRI-PETHER"), EndName.A)],
            },
        ["subnets on both sides"] = () =>
            new SubnetsRequest(Id("MOS-STORE-1"), EndName.A, [P("10.90.9.0/24")], [])
            {
                Also = [new(Id("MOS-STORE-1"), EndName.B) { Add = [P("10.91.9.0/24")], Remove = [] }],
            },
        ["a subnet for a vessel"] = () => new SubnetsRequest(Id("SAL-DUNLIN"), EndName.B, [P("10.80.5.0/24")], []),
        ["a subnet behind the hosted gateway"] = () =>
            new SubnetsRequest(Id("THR-PLATES-1"), EndName.A, [P("10.50.8.0/24")], []),
        ["the second hosted endpoint"] = () => new NewTunnelRequest(Id("THR-PLATES-2")),
        ["a key where neither end holds two"] = () => new RekeyRequest([Id("LAR-LOAN")]),
        ["a key where one end holds two"] = () => new RekeyRequest([Id("QUI-BRI")]),
        ["stronger in stages"] = () => new StrengthenRequest(Id("QUI-THR"), null),
        ["the main hall onto another platform"] = () => Platform("tid-main-gw", "alderquay-major", null),
        ["the pump house beside the old box"] = () => Platform("tid-pump-gw", "teasel-minor", "203.0.113.171"),
        ["the hub's outer address"] = () =>
            new AddressRequest(
                Gateway("keel-gw1").Id,
                "fibre",
                Address.Parse("192.0.2.60").Value,
                On("keel-gw1", "fibre")
            ),
        ["a surgery closes"] = () => new RetireRequest(Id("LAR-FEN")),
        ["manual"] = () =>
            new FreeRequest(
                Id("TID-PUMP"),
                [
                    new(Part.Safeguard, Where.B, "Fit the spare power supply.", 10, null, null),
                    new(
                        Part.Switch,
                        Where.B,
                        "Turn the old one off.",
                        2,
                        "The gateway runs on the spare.",
                        "Turn it on again."
                    ),
                ]
            ),
    };

    [Theory]
    [MemberData(nameof(Names))]
    public void The_plan_reads_as_it_was_last_read(string name)
    {
        var planned = Planner.Plan(DemoInventory.All, Requests[name](), DemoInventory.Today);
        planned.Plan.ShouldNotBeNull(string.Join(" ", planned.Refused.Select(r => r.Wrong)));
        var text = Text(planned.Plan!);
        var file = FileOf(name);
        if (Environment.GetEnvironmentVariable("KEEP_PLANS") == "1")
            File.WriteAllText(file, text);
        text.ShouldBe(File.ReadAllText(file));
    }

    [Fact]
    public void Every_kept_plan_belongs_to_a_request() =>
        Directory
            .GetFiles(Path.GetDirectoryName(FileOf(""))!)
            .ShouldBe(Requests.Keys.Select(FileOf), ignoreOrder: true);

    private static string FileOf(string name) =>
        Path.Combine(
            DemoInventory.Root,
            "tests/Core.Tests/cases/plans",
            name.Replace(' ', '-').Replace("'", "") + ".txt"
        );

    [Theory]
    [MemberData(nameof(Names))]
    public void A_plan_that_nobody_waits_for_is_not_made_to_its_end(string name) =>
        Should.Throw<OperationCanceledException>(() =>
            Planner.Plan(DemoInventory.All, Requests[name](), DemoInventory.Today, new(canceled: true))
        );

    /// <summary>
    /// Nothing in a plan is a form letter: no two steps of one plan say the same, every sentence ends, and no template
    /// shows through.
    /// </summary>
    [Fact]
    public void No_step_of_a_plan_repeats_another_or_shows_its_template()
    {
        foreach (var (name, request) in Requests)
        {
            var plan = Planner.Plan(DemoInventory.All, request(), DemoInventory.Today).Plan!;
            plan.Steps.Select(s => $"{s.Where} {s.Gateway} {s.Do}").ShouldBeUnique(name);
            foreach (var step in plan.Steps)
            {
                var says = step.Do.ToString();
                says.ShouldEndWith(".", Case.Sensitive, $"{name}: {says}");
                char.IsUpper(says[0])
                    .ShouldBe(!says.StartsWith(step.Gateway ?? "-", StringComparison.Ordinal), $"{name}: {says}");
                says.ShouldNotContain("  ", Case.Sensitive, $"{name}: {says}");
                says.IndexOfAny(['{', '}', '[', ']']).ShouldBe(-1, $"{name}: {says}");
                says.ShouldNotMatch(@"(?<!version )\b1 \w+s\b(?! of)", $"{name}: {says}");
            }
        }
    }

    private static string Text(Plan plan)
    {
        var text = new StringBuilder();
        void Line(string line) => text.Append(line.TrimEnd()).Append('\n');
        foreach (var part in plan.Verdict)
            Line(part.Says.ToString());
        foreach (var i in plan.Interruptions)
            Line(i.Says.ToString());
        foreach (var t in plan.Touches)
            Line(t.How.ToString());
        Line("");
        foreach (var d in plan.Differs)
        {
            var told = d.Added.All(a => d.After.Contains(a, StringComparison.Ordinal));
            var added = told ? "" : ", " + string.Join(", ", d.Added);
            Line($"{d.End?.ToString() ?? " "} {d.What}: {d.Before} -> {d.After}{added}");
        }

        foreach (var t in plan.Translations.Where(t => t.Carries != Carries.Kept || t.Before != t.After))
            Line($"{t.End} {t.TunnelCode} {t.What}: {t.Before ?? "nothing"} -> {t.After ?? "impossible"}. {t.Why}");
        foreach (var (word, list) in new[] { ("adds", plan.Added), ("removes", plan.Removed) })
        foreach (var f in list)
            Line(
                $"{word} {Findings.Severities.Words.Of(f.Finding.Severity)} {f.Finding.Code} on "
                    + $"{f.TunnelCode}{(f.Was is { } was ? $", was {Findings.Severities.Words.Of(was)}" : "")}: "
                    + $"{f.Finding.What}"
            );
        foreach (var (step, i) in plan.Steps.Select((s, i) => (s, i + 1)))
        {
            if (i == 1 || plan.Steps[i - 2].Part != step.Part)
                Line($"\n{step.Part.ToString().ToLowerInvariant()}");
            Line(
                $"{i, 3} {(step.Where == Where.Us ? "us" : step.Where.ToString()), -2} "
                    + $"{(step.Gateway is null ? "" : step.Gateway + ": ")}"
                    + $"{(step.Asked is null ? "" : $"ask {step.Asked}: ")}{step.Do} "
                    + $"({step.Minutes} min)"
            );
            foreach (var v in step.Enter)
                Line(
                    $"       {v.Label} = "
                        + $"{v.Text}{(v.Before is null || v.Before == v.Text ? "" : $" (was {v.Before})")}"
                        + $"{(v.Waits is null ? "" : " (pending)")}"
                );
            foreach (var v in step.Remove)
                Line($"       out {v.Label} = {v.Text}");
            foreach (var v in step.Expect)
                Line($"       {v.Label}: {v.Text}");
            if (step.Stops is { } stops)
                Line($"       stops: {stops}");
            if (step.Proof is { } proof)
                Line($"       proof: {proof}");
            if (step.Undo is { } undo)
                Line($"       back: {undo}");
            if (step.Needs.Length > 0)
                Line(
                    $"       needs: "
                        + $"{string.Join(", ", step.Needs.Select(n => plan.Steps.ToList().FindIndex(s => s.Key == n) + 1))}"
                );
        }

        return text.ToString();
    }

    private static string Id(string code) => DemoInventory.Tunnel(code).Id;

    private static Prefix P(string text) => Prefix.Parse(text).Value;

    private static Gateway Gateway(string code) => DemoInventory.All.ByCode<Gateway>(code)!;

    private static System.Collections.Immutable.ImmutableArray<string> On(string gateway, string? uplink = null) =>
        [
            .. DemoInventory
                .All.On(Gateway(gateway).Id)
                .Where(o =>
                    o.Tunnel.State != TunnelState.Planned
                    && (
                        uplink is null
                        || o.Tunnel.End(o.End).Uplinks.IsEmpty
                        || o.Tunnel.End(o.End).Uplinks.Contains(uplink)
                    )
                )
                .Select(o => o.Tunnel.Id)
                .Distinct(),
        ];

    private static PlatformRequest Platform(string gateway, string platform, string? beside) =>
        new(
            Gateway(gateway).Id,
            DemoInventory
                .All.All.OfType<Platform>()
                .First(p => p.Code == platform || p.Code.StartsWith(platform + "@", StringComparison.Ordinal))
                .Id,
            On(gateway)
        )
        {
            Beside = beside is null ? null : Address.Parse(beside).Value,
        };
}
