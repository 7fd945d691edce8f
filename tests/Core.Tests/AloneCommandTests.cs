using Shouldly;
using Vellumkeep.Cli;
using Vellumkeep.Cli.Terminal;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>The demo's records in a keepfile of its own, for as long as a test takes.</summary>
internal sealed class DemoFile : IDisposable
{
    public static readonly string Text = Exchange.Keepfiles.Keepfile.Write(
        DemoInventory.All.All,
        DemoInventory.All.Codes(),
        DemoInventory.Today
    );

    public DemoFile() => File.WriteAllText(Path, Text);

    public string Path { get; } = System.IO.Path.GetTempFileName();

    public void Dispose() => File.Delete(Path);
}

/// <summary>The command where no service is asked: calculations, what is typed wrong, and who is signed in.</summary>
public class AloneCommandTests
{
    private static async Task<(int Status, string Out, string Error)> Typed(
        string line,
        Dictionary<string, string>? environment = null
    )
    {
        var variables = environment ?? new() { ["XDG_CONFIG_HOME"] = "/nonexistent" };
        var around = new Surroundings
        {
            In = new StringReader(""),
            Out = new StringWriter(),
            Error = new StringWriter(),
            Variable = variables.GetValueOrDefault,
        };
        var words = line.Split('\'').SelectMany((part, i) => i % 2 == 1 ? [part] : part.Split(' '));
        var status = await CommandLine.RunAsync([.. words.Where(w => w.Length > 0)], around);
        return (status, around.Out.ToString()!, around.Error.ToString()!);
    }

    [Theory]
    [InlineData("calc prefix split 10.61.0.0/24 --length 26", "10.61.0.64/26")]
    [InlineData("calc prefix merge 10.61.0.0/25 10.61.0.128/25", "10.61.0.0/24")]
    [InlineData("calc prefix subtract 10.61.0.0/24 --of 10.61.0.0/25", "10.61.0.128/25")]
    [InlineData("calc prefix contains 10.61.0.0/22 --of 10.61.3.9", "10.61.0.0/22 contains 10.61.3.9/32")]
    [InlineData("calc prefix free 10.61.0.0/24 --of 10.61.0.0/25 --length 25", "10.61.0.128/25")]
    [InlineData("calc lifetime 8 h", "28,800 s")]
    [InlineData("calc lifetime 28800", "minutes")]
    [InlineData("calc detect 20 s x 3, try again --ike IKEv1", "80 s")]
    [InlineData("calc grade AES-256-CBC + SHA256 + DH 14", "112 bits")]
    [InlineData("calc packet AES-256-GCM-16 --udp --mtu 1400", "1338")]
    public async Task A_calculation_needs_no_service_and_ends_well(string line, string says)
    {
        var (status, told, error) = await Typed(line);
        (status, error).ShouldBe((0, ""), told);
        told.ShouldContain(says);
    }

    [Theory]
    [InlineData("calc prefix split 10.61.0.0/24", "length")]
    [InlineData("calc prefix add 10.61.0.0/24", "'add'")]
    [InlineData("calc prefix show 10.61.0.0/33", "10.61.0.0/33")]
    [InlineData("calc grade ROT-13", "ROT-13")]
    [InlineData("calc lifetime soon", "soon")]
    [InlineData("calc packet AES-256-GCM-16 --mtu big", "big")]
    [InlineData("calc packet", "proposal")]
    [InlineData("calc nothing", "nothing")]
    [InlineData("calc prefix show 10.61.0.0/24 --lenght 25", "--lenght")]
    [InlineData("nothing", "nothing")]
    [InlineData("tunnel", "")]
    public async Task What_is_typed_wrong_is_status_two_and_says_what(string line, string says)
    {
        var (status, told, error) = await Typed(line);
        status.ShouldBe(2, told + error);
        (told + error).ShouldContain(says);
        error.ShouldNotContain("   at ");
    }

    [Fact]
    public async Task A_calculation_as_json_is_the_same_answer()
    {
        var (status, told, _) = await Typed("calc packet AES-256-GCM-16 --json");
        status.ShouldBe(0);
        using var read = System.Text.Json.JsonDocument.Parse(told);
        read.RootElement.GetProperty("inner").GetInt32().ShouldBe(1446);
    }

    [Theory]
    [InlineData("{")]
    [InlineData("null")]
    [InlineData("[1]")]
    [InlineData("")]
    public async Task A_session_that_cannot_be_read_is_told_with_what_to_type_next(string kept)
    {
        var home = Directory.CreateTempSubdirectory("vellumkeep-").FullName;
        try
        {
            Directory.CreateDirectory(Path.Combine(home, "vellumkeep"));
            await File.WriteAllTextAsync(
                Path.Combine(home, "vellumkeep", "session.json"),
                kept,
                TestContext.Current.CancellationToken
            );
            var (status, _, error) = await Typed("tunnel list", new() { ["XDG_CONFIG_HOME"] = home });
            status.ShouldBe(5, error);
            error.ShouldContain("session.json is not readable");
            error.ShouldContain("vellumkeep sign-in");
        }
        finally
        {
            Directory.Delete(home, true);
        }
    }

    [Fact]
    public async Task Nobody_is_signed_in_is_status_five_with_what_to_type_next()
    {
        var (status, told, error) = await Typed("tunnel list");
        (status, told).ShouldBe((5, ""));
        error.ShouldContain("vellumkeep sign-in --url");
    }

    [Theory]
    [InlineData("ftp://keep.example")]
    [InlineData("keep.example")]
    [InlineData("http//x")]
    public async Task An_address_that_is_none_of_a_service_is_status_two(string url)
    {
        var (status, _, error) = await Typed(
            "tunnel list",
            new() { ["VELLUMKEEP_URL"] = url, ["VELLUMKEEP_TOKEN"] = "vk_x" }
        );
        status.ShouldBe(2, error);
        error.ShouldContain($"'{url}' is not an address of a service");
    }

    [Fact]
    public async Task A_file_is_worked_on_alone_and_a_wrong_one_is_told_at_its_line()
    {
        using var demo = new DemoFile();
        var file = demo.Path;
        (await Typed($"tunnel rehearse BRI-PETHER --file {file}")).Status.ShouldBe(0);
        (await Typed($"tunnel rehearse LAR-HEATH --file {file}")).Status.ShouldBe(1);
        var missing = await Typed($"tunnel rehearse NO-SUCH --file {file}");
        (missing.Status, missing.Error.Contains("NO-SUCH", StringComparison.Ordinal)).ShouldBe((3, true));
        await File.WriteAllTextAsync(
            file,
            DemoFile.Text.Replace("code: BRI-PETHER", "cod: BRI-PETHER", StringComparison.Ordinal),
            TestContext.Current.CancellationToken
        );
        var spoilt = await Typed($"tunnel rehearse BRI-ASHLOW --file {file}");
        spoilt.Status.ShouldBe(2, spoilt.Error);
        spoilt.Error.ShouldContain("'cod' is not a field");
    }

    [Theory]
    [InlineData("calc nothing", "packet, grade, common, lifetime, detect, prefix")]
    [InlineData("tunnel shwo BRI-ASHLOW", "list, show, rehearse, compare, confirm, correct")]
    [InlineData("tunnel", "list, show, rehearse")]
    [InlineData("change draft nothing", "subnets, tunnel, rekey")]
    [InlineData("nothing", "tunnel, gateway, customer")]
    public async Task An_unknown_verb_says_what_there_is(string line, string verbs)
    {
        var (status, told, error) = await Typed(line);
        (status, told).ShouldBe((2, ""), error);
        var known = error[(error.IndexOf("Expected: ", StringComparison.Ordinal) + 10)..].Split('.')[0].Split(", ");
        verbs.Split(", ").ShouldBeSubsetOf(known, error);
        error.ShouldContain("--help");
    }

    [Theory]
    [InlineData("bla", "'bla' is not a command of vellumkeep. Expected: sign-in,")]
    [InlineData("calc", "vellumkeep calc needs a command. Expected: packet,")]
    [InlineData("change list --kind x", "vellumkeep change list has no option '--kind'. Expected: --state.")]
    [InlineData("tunnel show --colour", "vellumkeep tunnel show has no option '--colour'. Expected: --all, --as-of")]
    [InlineData("tunnel show", "vellumkeep tunnel show needs <name>: code of the tunnel")]
    [InlineData("tunnel show ONE TWO", "vellumkeep tunnel show takes no further value, and 'TWO' is one.")]
    [InlineData("tunnel confirm ONE --end A", "vellumkeep tunnel confirm needs --row: ")]
    [InlineData("calc packet AES-256-GCM-16 --mtu wide", "--mtu: 'wide' cannot be read. Expected: a whole number.")]
    [InlineData("calc packet AES-256-GCM-16 --mtu", "--mtu needs a value: ")]
    [InlineData("findings --severity", "--severity needs a value: blocks, degrades, risk, note.")]
    [InlineData(
        "findings nothing",
        "'nothing' is not a command of vellumkeep findings. Expected: accept, withdraw, over-time."
    )]
    public async Task What_is_typed_wrong_is_named_with_what_there_is_instead(string line, string says)
    {
        var (status, told, error) = await Typed(line);
        (status, told).ShouldBe((2, ""), error);
        error.ShouldStartWith(says);
        var command = line.Split(' ')
            .TakeWhile(w => w is not ("ONE" or "bla" or "nothing") && !w.StartsWith("--"))
            .Take(2);
        error.ShouldContain($"Next: {string.Join(' ', command.Prepend("vellumkeep"))} --help");
    }

    [Fact]
    public async Task The_glossary_says_what_a_word_or_a_code_means_without_a_service()
    {
        var whole = await Typed("glossary");
        (whole.Status, whole.Error).ShouldBe((0, ""));
        foreach (var line in Views.Glossary.Words.Concat(Views.Glossary.Codes))
            whole.Out.ShouldContain($"{line.Term}: ");
        var one = await Typed("glossary pair-05");
        one.Out.Trim().ShouldBe("PAIR-05: PFS mismatch");
        var json = await Typed("glossary fix --json");
        json.Out.ShouldContain("\"meaning\"");
        var none = await Typed("glossary PAIR-99");
        (none.Status, none.Out).ShouldBe((3, ""));
        none.Error.ShouldContain("PAIR-09");
    }

    [Fact]
    public async Task A_beginning_that_several_tunnels_have_names_them()
    {
        using var demo = new DemoFile();
        var file = demo.Path;
        var (status, told, error) = await Typed($"tunnel show BRI- --file {file}");
        (status, told).ShouldBe((3, ""), error);
        foreach (var wrong in new[] { "--code PATH-99", "--severity bad" })
            (await Typed($"findings {wrong} --file {file}")).Status.ShouldBe(2, wrong);
        (await Typed($"findings --customer nobody --file {file}")).Error.ShouldContain("BRI, LAR, MOS");
        var meant = DemoInventory.All.Tunnels.Where(t => t.Code.StartsWith("BRI-", StringComparison.Ordinal));
        error.ShouldContain($"'BRI-' matches {meant.Count()} tunnels: ");
        foreach (var tunnel in meant)
            error.ShouldContain(tunnel.Code);
    }
}
