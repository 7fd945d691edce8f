using Shouldly;
using Vellumkeep.Contract;
using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>The words that the contract names are the words of the core, all of them and in their order.</summary>
public class VocabularyTests
{
    private static string[] Lower<T>()
        where T : struct, Enum => [.. Enum.GetNames<T>().Select(n => char.ToLowerInvariant(n[0]) + n[1..])];

    public static TheoryData<OneOfAttribute, string[]> Vocabularies() =>
        new()
        {
            { new ChangeStateAttribute(), [.. Change.States.All] },
            { new CarriageAttribute(), [.. Play.Carriages.All] },
            { new StepOutcomeAttribute(), [.. Change.Outcomes.All] },
            { new RunSheetPartAttribute(), Lower<Part>() },
            { new StepPlaceAttribute(), ["A", "B", "us"] },
            { new ChangeActAttribute(), [.. ChangeActs.All.Where(r => r.Act != ChangeAct.Remark).Select(r => r.Word)] },
            { new SeverityAttribute(), [.. Severities.Words.All] },
            { new StandingAttribute(), [.. StandingRule.Words.All] },
            { new OutcomeAttribute(), [.. FindingText.Outcomes.All] },
            { new StopKindAttribute(), [.. FindingText.Kinds.All] },
            { new WorstAttribute(), [.. Severities.Words.All, "none"] },
            { new TunnelStateAttribute(), [.. WordsOf.States.All] },
            { new TunnelFormAttribute(), [.. WordsOf.Forms.All] },
            { new CarriesAttribute(), Lower<Carries>() },
            { new ToneAttribute(), Lower<Tone>() },
            { new StrokeFormAttribute(), Lower<Stroke>() },
            { new TimelineMarkKindAttribute(), [.. Views.RehearsalPages.MarkKinds.All] },
            { new KeyStateAttribute(), ["not made", .. Keys.KeyMaking.States.All] },
        };

    [Theory]
    [MemberData(nameof(Vocabularies))]
    public void The_contract_has_the_cores_words(OneOfAttribute words, string[] core) =>
        words.Words.ShouldBe(core, words.GetType().Name);

    [Fact]
    public void Every_vocabulary_is_held()
    {
        var held = Vocabularies().Select(v => v.Data.Item1.GetType());
        typeof(OneOfAttribute)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(OneOfAttribute)))
            .ShouldBe(held, ignoreOrder: true);
    }

    /// <summary>
    /// What a program is told in a word is explained to whoever writes it: the documentation has each word, with the
    /// sentence that openapi.json has.
    /// </summary>
    [Fact]
    public void The_words_are_explained_for_programs()
    {
        var explained = Vocabularies()
            .Select(v => v.Data.Item1)
            .Where(v => v.Means.Count > 0)
            .SelectMany(v =>
                v.Means.Select(m =>
                    (v.GetType().Name.Replace("Attribute", "", StringComparison.Ordinal), m.Word, m.Means)
                )
            )
            .ToArray();
        explained.Select(e => e.Item1).Distinct().Count().ShouldBeGreaterThan(9);
        explained.ShouldAllBe(e => e.Means.EndsWith('.'));
        File.ReadLines(Path.Combine(DemoInventory.Root, "docs/command.md"))
            .Select(l => l.Split('|', StringSplitOptions.TrimEntries))
            .Where(c => c.Length == 5 && c[1] is not ("of" or "---"))
            .Select(c => (c[1], c[2], c[3]))
            .Where(r => explained.Any(e => e.Item1 == r.Item1))
            .ShouldBe(explained, ignoreOrder: true);
    }
}
