using System.Text.RegularExpressions;
using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Views;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// The glossary has every finding code that the core can say, and docs/glossary.md is what it prints.
/// </summary>
public partial class GlossaryTests
{
    [GeneratedRegex("\"((?:PAIR|ADR|PATH|STR|KEY|PLAN)-[0-9]{2})\"")]
    private static partial Regex Code();

    private static IEnumerable<string> SourcesOf(string folder) =>
        Directory
            .EnumerateFiles(Path.Combine(DemoInventory.Root, folder), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/") && !f.Contains("/bin/") && !f.Contains("/Migrations/"));

    [Fact]
    public void Every_code_in_the_core_is_in_it_once()
    {
        var said = SourcesOf("src").SelectMany(f => Code().Matches(File.ReadAllText(f))).Select(m => m.Groups[1].Value);
        var known = Glossary.Codes.Select(c => c.Term).ToArray();
        known.ShouldBeUnique();
        // A code is written where its check is, and nowhere a second time.
        said.Order().ShouldBe(known.Order());
        Checks.All.Select(c => c.Code).ShouldBeSubsetOf(known);
    }

    [Fact]
    public void No_word_has_two_meanings_and_each_says_something() =>
        Glossary.Words.Select(w => w.Term).ShouldBeUnique();

    [Fact]
    public void The_stored_glossary_is_the_one_that_the_code_prints() =>
        File.ReadAllText(Path.Combine(DemoInventory.Root, "docs/glossary.md"))
            .ShouldBe(Glossary.Markdown(), "run: make glossary");

    /// <summary>Words that the trade has others for; wherever one of them is met, it has come back.</summary>
    [GeneratedRegex(
        @"\b(answerer|untranslated|port-sharing|one-to-one nat|held parts?|taken for granted|as far as known|kept lists?|"
            + @"segment size|routing instances?|resealed?|mends?|mended|way in\b|other way in|authenticates? afresh|"
            + @"renews? (an|the) SA|associations?|told apart|sums page|inventory/1|feels? it|takes? out|(?-i:Leave it)|let go)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Replaced();

    [Theory]
    [InlineData("src", "*.cs")]
    [InlineData("src/console/src", "*.ts*")]
    [InlineData("docs", "*.md")]
    [InlineData("demo", "*.yaml")]
    [InlineData("tests/Core.Tests/cases", "*.t*")]
    [InlineData("tests/EndToEnd/cases", "*.t*")]
    public void No_replaced_word_comes_back(string folder, string files)
    {
        var met =
            from file in Directory.EnumerateFiles(
                Path.Combine(DemoInventory.Root, folder),
                files,
                SearchOption.AllDirectories
            )
            where !file.Contains("/obj/") && !file.Contains("/bin/") && !file.Contains("/Migrations/")
            where !file.Contains("/decisions/") && !file.Contains("/contract/")
            from line in File.ReadLines(file)
            where Replaced().IsMatch(line)
            select $"{Path.GetFileName(file)}: {line.Trim()}";
        met.ShouldBeEmpty();
    }
}
