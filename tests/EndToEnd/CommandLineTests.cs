using System.Text.Json;
using System.Text.RegularExpressions;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// What holds of every verb of the command: it helps, it fits the terminal, it writes JSON where it reads, it refuses
/// what it does not know, and its exit status says what came of it.
/// </summary>
public partial class CommandLineTests(DemoService demo) : IClassFixture<DemoService>
{
    /// <summary>Reading verbs, each with what it needs.</summary>
    public static TheoryData<string> Reading =>
        [
            "today",
            "tunnel list",
            "tunnel list --customer BRI --severity blocks",
            "tunnel show BRI-ASHLOW",
            "tunnel compare BRI-ASHLOW",
            "tunnel rehearse BRI-ASHLOW",
            "tunnel history BRI-DEPOT",
            "findings",
            "findings --customer BRI",
            "gateway list",
            "gateway show churn-gw1",
            "customer list",
            "customer show BRI",
            "site list",
            "site show BRI-CHURN",
            "platform list",
            "platform show teasel-minor@1",
            "suite list",
            "suite show BRI-STANDARD@3",
            "change list",
            "change show BRI-0003",
            "change play BRI-0003",
            "key list BRI-ASHLOW",
            "find creamery",
            "history list",
        ];

    [Theory]
    [MemberData(nameof(Reading))]
    public async Task Every_reading_verb_writes_the_same_facts_as_json(string line)
    {
        var (status, told, error) = await demo.Command("odile", line);
        error.ShouldBeEmpty();
        status.ShouldBeOneOf(0, 1);
        told.Trim().ShouldNotBeEmpty();
        var (again, json, _) = await demo.Command("odile", line + " --json");
        again.ShouldBe(status, "the form alters no exit status");
        var facts = JsonDocument.Parse(json).RootElement;
        facts.ValueKind.ShouldBeOneOf(JsonValueKind.Object, JsonValueKind.Array);
        // What is named in the text is named in the facts.
        var codes = Code().Matches(told).Select(m => m.Value).Distinct().Take(8).ToArray();
        foreach (var code in codes)
            json.ShouldContain(code);
    }

    [Theory]
    [MemberData(nameof(Reading))]
    public async Task No_line_is_wider_than_the_terminal(string line)
    {
        foreach (var width in new[] { 80, 132, 200 })
        {
            var (_, told, _) = await demo.Service.CommandHereAsync(
                line,
                null,
                demo.Token("odile"),
                new Dictionary<string, string> { ["COLUMNS"] = $"{width}" }
            );
            foreach (var row in told.Split('\n'))
                // A value is never cut or broken: what one reads aloud is what is entered.
                (row.Length <= width || Longest(row) > width - 40 || Columns(row) > 2).ShouldBeTrue(
                    $"{row.Length} wide at {width}: {row}"
                );
        }
    }

    [Theory]
    [MemberData(nameof(Reading))]
    public async Task Colour_is_for_terminals_and_never_the_only_sign(string line)
    {
        async Task<string> At(params (string, string)[] variables) =>
            (
                await demo.Service.CommandHereAsync(
                    line,
                    null,
                    demo.Token("odile"),
                    variables.Append(("COLUMNS", "120")).ToDictionary(v => v.Item1, v => v.Item2)
                )
            ).Out;
        var plain = await At();
        plain.ShouldNotContain("\u001b");
        (await At(("VELLUMKEEP_FORCE_TERMINAL", "1"), ("NO_COLOR", "1"))).ShouldNotContain("\u001b[38");
        var coloured = Escape().Replace(await At(("VELLUMKEEP_FORCE_TERMINAL", "1")), "");
        foreach (var code in Code().Matches(plain).Select(m => m.Value).Distinct())
            coloured.ShouldContain(code);
    }

    [Fact]
    public async Task Every_verb_says_what_it_is_for_and_what_each_of_its_options_takes()
    {
        var verbs = await VerbsAsync("");
        verbs.Count.ShouldBeGreaterThan(80);
        foreach (var (verb, help) in verbs)
        {
            var about = help.Split("Description:")[1].Split("Usage:")[0].Trim();
            about.ShouldNotBeEmpty(verb);
            foreach (var row in Section(help, "Options:").Concat(Section(help, "Arguments:")))
                Regex.Split(row.Trim(), " {2,}").Length.ShouldBeGreaterThan(1, $"{verb}: nothing is said of {row}");
        }
    }

    [Fact]
    public async Task Every_verb_refuses_an_option_that_it_does_not_have_and_says_what_to_type_next()
    {
        foreach (var (verb, _) in await VerbsAsync(""))
        {
            var (status, told, error) = await demo.Command("odile", $"{verb} --nonsense");
            status.ShouldBe(2, verb);
            told.ShouldBeEmpty(verb);
            error.ShouldContain("--help", Case.Sensitive, verb);
            error.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length.ShouldBeLessThanOrEqualTo(2, verb);
        }
    }

    [Theory]
    // 0: done, nothing blocks; 1: what was looked at blocks; 2: the question is wrong; 3: there is no such thing; 5:
    // not for this person, or nobody is signed in.
    [InlineData("odile", "tunnel show BRI-NETTLE", 0)]
    [InlineData("odile", "tunnel show NOBODY", 3)]
    [InlineData("odile", "gateway show nobody-gw", 3)]
    [InlineData("odile", "customer show NOBODY", 3)]
    [InlineData("odile", "change show XXX-0001", 3)]
    [InlineData("odile", "tunnel list --severity dreadful", 2)]
    [InlineData("odile", "tunnel show BRI-NETTLE --as-of 2026-13-01", 2)]
    [InlineData("odile", "tunnel", 2)]
    [InlineData("odile", "", 2)]
    [InlineData("odile", "calc prefix 10.0.0.1/24", 2)]
    [InlineData("bram", "change review BRI-0003 --approve", 5)]
    [InlineData("maud-audit", "tunnel show BRI-ASHLOW", 3)]
    [InlineData("maud-audit", "person list", 5)]
    [InlineData("ines", "backup /tmp/never-written.vkb", 5)]
    public async Task The_exit_status_says_what_came_of_it(string who, string line, int expected)
    {
        var (status, told, error) = await demo.Command(who, line);
        status.ShouldBe(expected, $"{told}{error}");
        if (expected > 1)
            (told + error).Trim().ShouldNotBeEmpty();
    }

    [Fact]
    public async Task A_finding_that_blocks_is_status_one_wherever_it_is_looked_at()
    {
        var (_, json, _) = await demo.Command("odile", "findings --severity blocks --json");
        var blocked = JsonDocument.Parse(json).RootElement;
        var tunnel = blocked.EnumerateArray().First().GetProperty("tunnel").GetString()!;
        foreach (var line in new[] { $"tunnel show {tunnel}", $"findings --tunnel {tunnel}", "findings" })
            (await demo.Command("odile", line)).Status.ShouldBe(1, line);
    }

    [Fact]
    public async Task Nobody_is_signed_in_and_no_service_are_told_with_what_to_do_next()
    {
        var nowhere = new Dictionary<string, string>
        {
            ["VELLUMKEEP_URL"] = "http://127.0.0.1:9",
            ["XDG_CONFIG_HOME"] = Path.Combine(demo.Service.Data, "nobody"),
        };
        var (status, _, error) = await demo.Service.CommandHereAsync("today", null, null, nowhere);
        (status, error).ShouldSatisfyAllConditions(
            x => x.status.ShouldBe(5),
            x => x.error.ShouldContain("vellumkeep sign-in")
        );
        (status, _, error) = await demo.Service.CommandHereAsync("today", null, "vk_x", nowhere);
        (status, error).ShouldSatisfyAllConditions(
            x => x.status.ShouldBe(6),
            x => x.error.ShouldContain("not reachable")
        );
        nowhere["VELLUMKEEP_URL"] = "over there";
        (status, _, error) = await demo.Service.CommandHereAsync("today", null, "vk_x", nowhere);
        (status, error).ShouldSatisfyAllConditions(
            x => x.status.ShouldBe(2),
            x => x.error.ShouldContain("not an address")
        );
    }

    [Fact]
    public async Task Signing_in_keeps_a_token_of_its_owner_alone_and_signing_out_forgets_it()
    {
        var home = new Dictionary<string, string> { ["XDG_CONFIG_HOME"] = Path.Combine(demo.Service.Data, "home") };
        var line = $"sign-in --url {demo.Service.Url} --name bram";
        (await demo.Service.CommandHereAsync(line, "wrong\n", null, home)).Status.ShouldBe(5);
        var kept = Path.Combine(demo.Service.Data, "home/vellumkeep/session.json");
        File.Exists(kept).ShouldBeFalse();
        var (status, told, _) = await demo.Service.CommandHereAsync(line, "cold-store-4\n", null, home);
        (status, told).ShouldSatisfyAllConditions(
            x => x.status.ShouldBe(0),
            x => x.told.ShouldStartWith("Signed in as bram until ")
        );
        File.GetUnixFileMode(kept).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
        (await demo.Service.CommandHereAsync("today", null, null, home)).Status.ShouldBeOneOf(0, 1);
        (await demo.Service.CommandHereAsync("sign-out", null, null, home)).Status.ShouldBe(0);
        File.Exists(kept).ShouldBeFalse();
        (await demo.Service.CommandHereAsync("today", null, null, home)).Status.ShouldBe(5);
    }

    [Fact]
    public async Task Lists_go_into_the_sheet_that_the_file_is_named_for_and_into_no_other()
    {
        var folder = Directory.CreateDirectory(Path.Combine(demo.Service.Data, "sheets")).FullName;
        foreach (
            var (list, head) in new[] { ("tunnel list", "code"), ("findings", "tunnel"), ("gateway list", "code") }
        )
        {
            var csv = Path.Combine(folder, list.Replace(' ', '-') + ".csv");
            (await demo.Command("odile", $"{list} --output {csv}")).Out.ShouldBe($"Written: {csv}\n");
            (await File.ReadAllTextAsync(csv, Ct)).ShouldContain(head, Case.Insensitive);
            var xlsx = Path.ChangeExtension(csv, ".xlsx");
            (await demo.Command("odile", $"{list} --output {xlsx}")).Status.ShouldBe(0);
            (await File.ReadAllBytesAsync(xlsx, Ct))[..2].ShouldBe("PK"u8.ToArray());
            var (status, _, error) = await demo.Command("odile", $"{list} --output {folder}/list.pdf");
            status.ShouldBe(2);
            error.ShouldContain("list.csv");
            File.Exists($"{folder}/list.pdf").ShouldBeFalse();
        }
    }

    [Fact]
    public async Task A_shell_completes_verbs_and_options_by_asking_the_command()
    {
        foreach (var shell in new[] { "bash", "zsh", "fish" })
            (await demo.Command("odile", $"completion {shell}")).Out.ShouldContain("[suggest:");
        (await demo.Command("odile", "completion nonsense")).Status.ShouldBe(2);
        foreach (
            var (typed, offered) in new[]
            {
                ("vellumkeep tun", "tunnel"),
                ("vellumkeep tunnel reh", "rehearse"),
                ("vellumkeep findings --sev", "--severity"),
            }
        )
            (await demo.Command("odile", $"[suggest:{typed.Length}] '{typed}'")).Out.ShouldContain(offered);
    }

    private async Task<List<(string Verb, string Help)>> VerbsAsync(string verb)
    {
        var (status, help, error) = await demo.Command("odile", $"{verb} --help".Trim());
        (status, error).ShouldBe((0, ""), verb);
        var inside = Section(help, "Commands:").Select(row => row.Trim().Split(' ')[0]).ToArray();
        if (inside.Length == 0)
            return [(verb, help)];
        var all = new List<(string, string)>();
        foreach (var name in inside)
            all.AddRange(await VerbsAsync($"{verb} {name}".Trim()));
        return all;
    }

    /// <summary>The rows of a part of the help; what goes on below a row is of that row.</summary>
    private static IEnumerable<string> Section(string help, string head)
    {
        var lines = help.Split('\n');
        var at = Array.IndexOf(lines, head);
        return at < 0
            ? []
            : lines.Skip(at + 1).TakeWhile(l => l.Trim().Length > 0).Where(l => l.StartsWith("  ") && l[2] != ' ');
    }

    private static int Longest(string row) => row.Split(' ').Max(w => w.Length);

    private static int Columns(string row) => Regex.Split(row.Trim(), " {2,}").Length;

    [GeneratedRegex(@"\b[A-Z]{3}-[A-Z0-9]{3,}\b")]
    private static partial Regex Code();

    [GeneratedRegex("\u001b\\[[0-9;]*m")]
    private static partial Regex Escape();

    private static CancellationToken Ct => TestContext.Current.CancellationToken;
}
