using System.Diagnostics;
using NJsonSchema;
using Shouldly;
using Vellumkeep.Exchange.Keepfiles;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class KeepfileTests
{
    internal const string Head = "vellumkeep: keepfile/1\ncustomers:\n  - {code: ACM, name: Acme Mills}\n";

    [Fact]
    public void What_is_written_reads_back_to_the_same_text_in_stable_order()
    {
        var text = Keepfile.Write(DemoInventory.All.All, DemoInventory.All.Codes(), DemoInventory.Today);
        var back = Keepfile.Read(text);
        back.Problems.ShouldBeEmpty();
        var again = Inventory.Of(back.Records.Reverse());
        Keepfile.Write(again.All, again.Codes(), DemoInventory.Today).ShouldBe(text);
    }

    [Fact]
    public void The_kept_schema_is_what_the_readers_ask_for() =>
        File.ReadAllText(Path.Combine(DemoInventory.Root, "docs/keepfile.schema.json"))
            .ShouldBe(KeepfileSchema.Json(), "run: make schema");

    [Fact]
    public async Task The_demo_is_valid_by_the_schema_and_a_wrong_field_is_not()
    {
        var schema = await JsonSchema.FromJsonAsync(KeepfileSchema.Json(), TestContext.Current.CancellationToken);
        foreach (var text in DemoInventory.Files())
            schema.Validate(Json(YamlText.Read(text).Root!)).ShouldBeEmpty();
        schema
            .Validate(Json(YamlText.Read(Head + "tunnels:\n  - {code: ACM-ONE, custommer: ACM}\n").Root!))
            .ShouldNotBeEmpty();
    }

    [Fact]
    public void A_file_that_nobody_waits_for_is_not_read_to_its_end() =>
        Should.Throw<OperationCanceledException>(() =>
            Keepfile.Read(Head, new CodeNames(), _ => null, null, ct: new(canceled: true))
        );

    private static string Json(Node node) =>
        System.Text.Json.JsonSerializer.Serialize(
            node,
            new System.Text.Json.JsonSerializerOptions { Converters = { new Storage.Bodies.NodeJson() } }
        );

    [Theory]
    [InlineData(
        "sites:\n  - {code: ACM-A, customer: ACM, name: A, networks: [{prefix: 10.1.0.9/24, name: lan}]}\n",
        5,
        "prefix",
        "host bits",
        "10.1.0.0/24"
    )]
    [InlineData("sites:\n  - {code: ACM-A, customer: ACX, name: A}\n", 5, "customer", "no customer 'ACX'", "ACM")]
    [InlineData("sites:\n  - {code: ACM-A, customer: ACM, name: [a, b]}\n", 5, "name", "one value is expected", "name")]
    [InlineData(
        "sites:\n  - {code: ACM-A, customer: ACM, name: A}\n  - {code: acm-a, customer: ACM, name: B}\n",
        6,
        "code",
        "occurs twice, first at line 5",
        "once"
    )]
    [InlineData("sites:\n  - {code: ACM-A, customer: ACM, nane: A}\n", 5, "name", "'name' is missing", "name")]
    [InlineData(
        "suites:\n  - {code: ACM-S, version: 1, ikeProposals: [AES-257-CBC + SHA256 + DH 14]}\n",
        5,
        "ikeProposals[1]",
        "not an encryption algorithm",
        "AES-256-CBC"
    )]
    [InlineData(
        "suites:\n  - {code: ACM-S, version: 1, ikeProposals: []}\n",
        5,
        "ikeProposals",
        "empty list",
        "one proposal a line"
    )]
    [InlineData(
        "suites:\n  - {code: ACM-S, version: 1, espLifetime: {time: 3600}}\n",
        5,
        "espLifetime.time",
        "no unit",
        "3600 s or 3600 min"
    )]
    [InlineData(
        "gateways:\n  - {code: acm-gw, site: NOWHERE, platform: none@1, uplinks: [{label: a, address: 192.0.2.1}]}\n",
        5,
        "site",
        "no site 'NOWHERE'",
        "add that site"
    )]
    [InlineData(
        "suites:\n  - {code: ACM-S, version: 1, espLifetime: [3600 s, 7200 s]}\n",
        5,
        "espLifetime",
        "one value is expected",
        "one value on the line"
    )]
    [InlineData("customers: &a [x]\n", 4, "file", "anchor", "no anchors")]
    [InlineData("tunnels: *a\n", 4, "file", "alias", "no anchors")]
    [InlineData("tunnels:\n  - {code: 'unclosed\n", 5, "file", "not readable YAML", "quotes")]
    [InlineData("notes: [[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[\n", 4, "file", "levels are nested", "fewer than ten")]
    [InlineData("tunels: []\n", 4, "tunels", "not a part of a keepfile", "tunnels")]
    public void A_broken_file_is_refused_with_line_field_what_is_wrong_and_what_would_be_right(
        string more,
        int line,
        string field,
        string wrong,
        string right
    )
    {
        var read = Keepfile.Read(Head + more);
        read.Records.ShouldBeEmpty();
        read.Problems.ShouldContain(
            p => p.Line == line && p.Field.EndsWith(field) && p.Wrong.Contains(wrong) && p.Right.Contains(right),
            string.Join("\n", read.Problems)
        );
    }

    [Fact]
    public void An_end_that_names_a_missing_held_part_or_uplink_is_refused()
    {
        var text = DemoInventory
            .Files()
            .ElementAt(2)
            .Replace("localFrom: bri-lan, remote: [10.62.4.0/24]", "localFrom: bri-lam, remote: [10.62.4.0/24]")
            .Replace("uplinks: [fibre]", "uplinks: [copper]");
        var names = new CodeNames();
        foreach (var earlier in DemoInventory.Files().Take(2))
            Keepfile.Read(earlier, names, _ => null, null).Problems.ShouldBeEmpty();
        var read = Keepfile.Read(text, names, _ => null, null);
        read.Problems.ShouldContain(p => p.Wrong.Contains("no shared entry 'bri-lam'") && p.Right.Contains("bri-lan"));
        read.Problems.ShouldContain(p => p.Wrong.Contains("no uplink 'copper'") && p.Right.Contains("fibre"));
    }
}

/// <summary>Timed, and so run alone: what other tests do beside it must not count.</summary>
[CollectionDefinition(nameof(NoiseTests), DisableParallelization = true)]
[Collection(nameof(NoiseTests))]
public class NoiseTests
{
    private const string Head = KeepfileTests.Head;

    public static TheoryData<string, string> Noise() =>
        new()
        {
            { "bytes", new(Enumerable.Range(0, 10_000_000).Select(i => (char)(i * 7919 % 255)).ToArray()) },
            { "letters", new('x', 10_000_000) },
            { "letters after the head", Head + new string('x', 10_000_000) },
            { "nesting", Head + "notes: " + new string('[', 100_000) },
            { "lines", Head + string.Concat(Enumerable.Repeat("- - - -\n", 1_200_000)) },
            {
                "anchors bomb",
                "vellumkeep: keepfile/1\na: &a [x,x]\n"
                    + string.Concat(
                        Enumerable
                            .Range(1, 40)
                            .Select(i => $"a{i}: &a{i} [*a{(i == 1 ? "" : i - 1)},*a{(i == 1 ? "" : i - 1)}]\n")
                    )
            },
        };

    [Theory]
    [MemberData(nameof(Noise))]
    public void Noise_is_refused_within_two_seconds(string name, string text)
    {
        var clock = Stopwatch.StartNew();
        Keepfile.Read(text).Problems.ShouldNotBeEmpty(name);
        clock.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(2), name);
    }
}
