using System.Text.RegularExpressions;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// Every command that README and docs name is one: each is given to the command as it stands there, by somebody who may
/// only read, so that nothing of it is done. What is refused is refused for what it asks, and not for how it is
/// written.
/// </summary>
public partial class DocsCommandTests(DemoService demo) : IClassFixture<DemoService>
{
    private static readonly string[] Things =
    [
        "tunnel",
        "gateway",
        "customer",
        "site",
        "offer",
        "platform",
        "suite",
        "address",
        "change",
        "key",
        "find",
        "findings",
        "calc",
        "import",
        "export",
        "history",
        "person",
        "access",
        "saved-filter",
        "glossary",
        "completion",
    ];

    [GeneratedRegex("`(?:vellumkeep )?([a-z][a-z-]* [^`]+)`")]
    private static partial Regex Span();

    [GeneratedRegex("^vellumkeep [a-z -]+ needs (<|--)")]
    private static partial Regex NeedsMore();

    private static IEnumerable<string> Named(string text) =>
        Span()
            .Matches(text)
            .Select(m => m.Groups[1].Value)
            .Concat(
                text.Split('\n')
                    .Where(l => l.StartsWith("./vellumkeep ", StringComparison.Ordinal))
                    .Select(l => l["./vellumkeep ".Length..])
            )
            .Select(l => l.Split(" | ")[0].Replace("...", "x").Replace("…", "x"))
            .Where(l => Things.Contains(l.Split(' ')[0]) && !l.Contains('<') && l.Split(' ')[1] != "x");

    [Fact]
    public async Task Every_command_of_the_docs_is_understood_as_it_stands_there()
    {
        var root = RunningService.Root;
        string[] files = [Path.Combine(root, "README.md"), .. Directory.GetFiles(Path.Combine(root, "docs"), "*.md")];
        var before = Directory.GetFileSystemEntries(root).Order().ToArray();
        var lines = files.SelectMany(f => Named(File.ReadAllText(f))).Distinct().ToArray();
        lines.Length.ShouldBeGreaterThan(60);
        var wrong = new List<string>();
        foreach (var line in lines)
        {
            var (_, _, error) = await demo.Command("bram", line);
            string[] misuse = ["has no option", "is not a command", "takes no further value", "cannot be read"];
            // A verb alone names the command; what it needs is said elsewhere.
            if (misuse.Any(error.Contains) || (NeedsMore().IsMatch(error) && line.Split(' ').Length > 2))
                wrong.Add($"{line}: {error.Split('\n')[0]}");
        }

        wrong.ShouldBeEmpty();
        // What they write is written elsewhere.
        Directory.GetFileSystemEntries(root).Order().ShouldBe(before);
    }

    /// <summary>A key that is pasted into a wrong place is not told to whoever reads the error.</summary>
    [Theory]
    [InlineData("tunnel show {0}")]
    [InlineData("tunnel list --customer {0}")]
    [InlineData("tunnel list --state {0}")]
    [InlineData("tunnel correct BRI-ASHLOW --end B --row pfs --value {0} --reason x --how read")]
    [InlineData("tunnel correct BRI-ASHLOW --end B --row {0} --value x --reason x --how read")]
    [InlineData("tunnel rehearse BRI-ASHLOW --with {0}")]
    [InlineData("change draft subnets BRI-ASHLOW --end A --add {0} --reason x")]
    [InlineData("change draft rekey {0} --reason x")]
    [InlineData("change show {0}")]
    [InlineData("change fill THR-0001 1 {0}")]
    [InlineData("change step BRI-0002 12 --done --planned {0} --set-to x --reason x")]
    [InlineData("key make {0}")]
    [InlineData("key show {0} 1 --reason x")]
    [InlineData("findings --code {0}")]
    [InlineData("address find {0}")]
    [InlineData("glossary {0}")]
    [InlineData("{0}")]
    [InlineData("tunnel show BRI-ASHLOW {0}")]
    public async Task No_error_repeats_what_may_be_a_key(string line)
    {
        foreach (
            var key in new[] { "hT7kQ2mXw9RbVn4zLp8sJd3fGy6cAe5u", "kR#9vQ!x72mWpZ$h", "c3VwZXJzZWNyZXRrZXkxMjM0NQ==" }
        )
        {
            var (status, told, error) = await demo.Command("ines", string.Format(null, line, $"'{key}'"));
            status.ShouldNotBe(0, line);
            (told + error).ShouldNotContain(key);
        }
    }
}
