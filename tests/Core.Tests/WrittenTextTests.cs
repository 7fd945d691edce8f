using System.Text;
using CsCheck;
using Shouldly;
using Vellumkeep.Exchange.Keepfiles;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Forms as text and back: nothing of what was written is lost or becomes something else on the way.</summary>
public class WrittenTextTests
{
    // What YAML would take for something else if it were not quoted.
    private static readonly string[] Nasty =
    [
        "",
        "~",
        "null",
        "yes",
        "no",
        "1e3",
        "0x1F",
        "2026-11-24",
        "- a",
        "a: b",
        "a #b",
        "#",
        "'",
        "\"",
        "{",
        "[x",
        "|",
        ">",
        "*a",
        "&a",
        "!a",
        "%a",
        "@a",
        "`",
        " a ",
        "a\nb",
        "a\n\n b\n",
        "\ta",
        "ä→€",
        "?",
        "? a",
        "::/0",
        ":a",
        ":",
        "---",
        "...",
        "a\\nb",
        "=1+1",
    ];

    private static readonly Gen<string> Texts = Gen.Frequency(
        (3, Gen.Int[0, Nasty.Length - 1].Select(i => Nasty[i])),
        (1, Gen.String[Gen.Char[' ', '~'], 0, 40])
    );

    private static readonly string[] SomeKeys = ["is", "confirmed", "a b", "10.0.0.0/8", "yes", "null", "x: y"];

    private static readonly Gen<string[]> Keys = Gen.Shuffle(SomeKeys);

    private static readonly Gen<Node> Nodes = Tree(3);

    private static Gen<Node> Tree(int depth) =>
        depth == 0
            ? Texts.Select(t => (Node)new TextNode(t))
            : Gen.Frequency(
                (3, Texts.Select(t => (Node)new TextNode(t))),
                (1, Tree(depth - 1).Array[0, 5].Select(items => (Node)ListNode.Of(items))),
                (1, Gen.Select(Tree(depth - 1).Array[0, 6], Keys).Select((values, keys) => Map(keys, values)))
            );

    private static Node Map(string[] keys, Node[] values) =>
        new MapNode([.. values.Select((v, i) => KeyValuePair.Create(keys[i], v))]);

    [Fact]
    public void Every_form_reads_back_as_it_was_written() =>
        Nodes.Sample(
            node =>
            {
                var text = YamlText.Write(node);
                var (back, problem) = YamlText.ReadPart(text);
                problem.ShouldBeNull(text);
                Node.Same(back, node).ShouldBeTrue($"{text}\nread back as\n{YamlText.Write(back!)}");
            },
            iter: 4000
        );

    [Fact]
    public void What_is_json_is_read_as_the_same_form() =>
        Node.Same(
                YamlText.ReadPart("{\"a\": [\"10.0.0.0/8\", \"x\"], \"b\": {\"is\": \"yes\"}}").Root,
                YamlText.ReadPart("a: [10.0.0.0/8, x]\nb:\n  is: yes\n").Root
            )
            .ShouldBeTrue();

    [Theory]
    [InlineData("vellumkeep: keepfile/1\nsites: []\nsites: []\n", 3, "sites", "twice")]
    [InlineData("vellumkeep: keepfile/1\nsites:\n  - {code: A, name: b, code: C}\n", 3, "sites A.code", "twice")]
    [InlineData("vellumkeep: keepfile/1\nsites: []\n---\nsites: []\n", 3, "file", "second document")]
    [InlineData("vellumkeep: keepfile/1\nsites: !x []\n", 2, "file", "tag")]
    [InlineData("vellumkeep: keepfile/1\n[a]: b\n", 2, "file", "not a word")]
    [InlineData("vellumkeep: keepfile/1\nsites: {a\n", 3, "file", "not readable")]
    [InlineData("sites: []\n", 1, "vellumkeep", "not marked")]
    [InlineData("vellumkeep: inventory/9\n", 1, "vellumkeep", "inventory/9")]
    [InlineData("vellumkeep\n", 1, "file", "has no fields")]
    [InlineData("vellumkeep: keepfile/1\nsites: some\n", 2, "sites", "a list is expected")]
    [InlineData("vellumkeep: keepfile/1\nsites:\n  - some\n", 3, "sites[1]", "fields are expected")]
    [InlineData("vellumkeep: keepfile/1\u0000", 1, "file", "not a text file")]
    public void What_is_no_keepfile_is_refused_at_its_line(string text, int line, string field, string wrong)
    {
        var read = Keepfile.Read(text);
        read.Records.ShouldBeEmpty();
        read.Problems.ShouldContain(
            p => p.Line == line && p.Field == field && p.Wrong.Contains(wrong, StringComparison.Ordinal),
            string.Join("\n", read.Problems)
        );
        read.Problems.ShouldAllBe(p => p.Right.Length > 0);
    }

    [Theory]
    [InlineData("vellumkeep: keepfile/1\n")]
    [InlineData("vellumkeep: keepfile/1\nwritten: 2026-11-24\nsites:\n")]
    [InlineData("vellumkeep: keepfile/1\nsites: []\ntunnels: ~\n")]
    [InlineData("{\"vellumkeep\": \"keepfile/1\", \"sites\": []}")]
    public void A_keepfile_with_nothing_in_it_is_one(string text)
    {
        var read = Keepfile.Read(text);
        read.Problems.ShouldBeEmpty();
        read.Records.ShouldBeEmpty();
    }

    /// <summary>
    /// One letter of the demo's files altered: read or refused, and never a record that nobody wrote.
    /// </summary>
    [Fact]
    public void A_slip_anywhere_is_read_or_refused_at_a_line_of_the_file()
    {
        var text = DemoInventory.Files().First();
        var lines = text.Split('\n').Length;
        Gen.Select(Gen.Int[0, text.Length - 1], Gen.Char[' ', '~'])
            .Sample(
                (at, letter) =>
                {
                    var slipped = new StringBuilder(text) { [at] = letter }.ToString();
                    var read = Keepfile.Read(slipped);
                    foreach (var problem in read.Problems)
                        problem.Line.ShouldBeInRange(1, lines + 1, problem.ToString());
                    (read.Records.IsEmpty || read.Problems.IsEmpty).ShouldBeTrue();
                },
                iter: 150
            );
    }
}
