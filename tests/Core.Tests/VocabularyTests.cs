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

    /// <summary>What a program is told in a word is explained to whoever writes it, each word in a row of its own.</summary>
    [Theory]
    [InlineData(typeof(StandingAttribute))]
    [InlineData(typeof(OutcomeAttribute))]
    [InlineData(typeof(StopKindAttribute))]
    [InlineData(typeof(SeverityAttribute))]
    [InlineData(typeof(TunnelStateAttribute))]
    public void The_words_are_explained_for_programs(Type vocabulary)
    {
        var rows = File.ReadLines(Path.Combine(DemoInventory.Root, "docs/command.md"))
            .Select(l => l.Split('|', StringSplitOptions.TrimEntries))
            .Where(c => c.Length == 5)
            .Select(c => (Of: c[1], Word: c[2]));
        var name = vocabulary.Name.Replace("Attribute", "", StringComparison.Ordinal);
        rows.Where(r => r.Of == name)
            .Select(r => r.Word)
            .ShouldBe(((OneOfAttribute)Activator.CreateInstance(vocabulary)!).Words);
    }
}
