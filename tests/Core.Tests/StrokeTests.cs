using Shouldly;
using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>How a tunnel is drawn says what the rehearsal and the findings say, on every tunnel there is.</summary>
public class StrokeTests
{
    public static TheoryData<string> Grounds => ["demo", "fleet 1", "ends 1", "ends 2"];

    private sealed record Looked(Checked About, IReadOnlyList<Finding> Findings)
    {
        public string Code => About.View.Tunnel.Code;

        public Drawn Ike => Strokes.OfIkeSa(About, Findings);

        /// <summary>The sides that send anything at all.</summary>
        public Rehearsal[] Beginning => [.. About.Rehearsals.Where(r => r.Outcome != Outcome.DoesNotStart)];
    }

    private static IEnumerable<Looked> All(string ground) =>
        Ground
            .Of(ground)
            .All.Tunnels.Select(t => Ground.Of(ground).View(t.Id))
            .Select(v => new Checked(v))
            .Select(c => new Looked(c, [.. Checks.Run(c)]));

    [Theory]
    [MemberData(nameof(Grounds))]
    public void A_row_is_a_gap_where_a_finding_blocks_and_only_there(string ground)
    {
        foreach (var looked in All(ground))
        foreach (var row in looked.About.Rows)
        {
            var on = looked.Findings.Where(f => f.RowKey == row.Key).ToArray();
            var drawn = Strokes.Of(row, looked.Findings);
            (drawn.Stroke == Stroke.Gap).ShouldBe(
                on.Any(f => f.Severity == Severity.Blocks),
                $"{looked.Code} {row.Key}: {drawn}"
            );
            if (drawn.Finding is { } shown)
                on.ShouldContain(shown, $"{looked.Code} {row.Key}");
            else
                drawn.Stroke.ShouldBeOneOf(Stroke.Whole, Stroke.Dotted, Stroke.TwoHairlines);
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void A_row_without_a_finding_is_drawn_by_its_answer_alone(string ground)
    {
        foreach (var looked in All(ground))
        foreach (var row in looked.About.Rows)
            Strokes
                .Of(row, [])
                .Stroke.ShouldBe(
                    row.Relation switch
                    {
                        Relation.Undetermined => Stroke.TwoHairlines,
                        Relation.AgreesNotConfirmed => Stroke.Dotted,
                        Relation.Agrees or Relation.Differs => Stroke.Whole,
                        _ => throw new InvalidOperationException($"{row.Relation}"),
                    },
                    $"{looked.Code} {row.Key}"
                );
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void The_line_of_the_ike_sa_is_whole_only_where_a_side_gets_it_up(string ground)
    {
        foreach (var looked in All(ground).Where(l => l.Beginning.Length > 0))
        {
            var stopped = looked.Beginning.Where(StoppedBeforeChild).ToArray();
            if (stopped.Length == looked.Beginning.Length)
                looked.Ike.Stroke.ShouldBe(Stroke.Gap, looked.Code);
            else if (stopped.Length > 0)
                looked.Ike.Stroke.ShouldBe(Stroke.Thin, looked.Code);
            else if (looked.Ike.Stroke == Stroke.Gap)
                looked.Findings.ShouldContain(f => f.Severity == Severity.Blocks, looked.Code);
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void A_pair_that_no_side_brings_up_is_a_gap_and_one_that_passes_is_none_of_the_rehearsals(string ground)
    {
        foreach (var looked in All(ground).Where(l => l.Beginning.Length > 0))
        foreach (var pair in looked.About.View.Tunnel.Agreed.Pairs)
        {
            var drawn = Strokes.Of(pair, looked.About, looked.Findings);
            if (looked.Beginning.All(r => Stops(r, pair)))
                drawn.Stroke.ShouldBe(Stroke.Gap, $"{looked.Code} {pair}");
            if (looked.Beginning.Any(r => r.Passing.Contains(pair)) && drawn.Stroke == Stroke.Gap)
                drawn.Finding.ShouldNotBeNull($"{looked.Code} {pair}").Severity.ShouldBe(Severity.Blocks);
        }
    }

    /// <summary>A stroke is never the only sign: its word is one of six, and each word belongs to one form.</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void Every_form_has_its_word(string ground)
    {
        foreach (var looked in All(ground))
        foreach (
            var drawn in looked
                .About.Rows.Select(r => Strokes.Of(r, looked.Findings))
                .Concat(looked.About.View.Tunnel.Agreed.Pairs.Select(p => Strokes.Of(p, looked.About, looked.Findings)))
                .Append(looked.Ike)
        )
            (drawn.Stroke, drawn.Word).ShouldBeOneOf(
                (Stroke.Gap, "blocks"),
                (Stroke.Thin, "degrades"),
                (Stroke.Flag, "risk"),
                (Stroke.TwoHairlines, "undetermined"),
                (Stroke.TwoHairlines, "on A only"),
                (Stroke.TwoHairlines, "on B only"),
                (Stroke.Dotted, "agrees, not confirmed"),
                (Stroke.Whole, "agrees"),
                (Stroke.Whole, "harmless difference")
            );
    }

    [Fact]
    public void An_accepted_finding_is_drawn_no_longer_unless_it_blocks()
    {
        foreach (var looked in All("demo"))
        foreach (var row in looked.About.Rows)
        {
            var accepted = looked
                .Findings.Select(f =>
                    f with
                    {
                        Accepted = new(
                            f.Code,
                            f.Subject,
                            f.Digest,
                            "agreed",
                            DemoInventory.Today,
                            "ines",
                            DemoInventory.Today
                        ),
                    }
                )
                .ToArray();
            Strokes
                .Of(row, accepted)
                .Stroke.ShouldBe(
                    accepted.Any(f => f.RowKey == row.Key && f.Severity == Severity.Blocks)
                        ? Stroke.Gap
                        : Strokes.Of(row, []).Stroke,
                    $"{looked.Code} {row.Key}"
                );
        }
    }

    private static bool StoppedBeforeChild(Rehearsal r) =>
        r.Obstacles.Any(o => o.Stage is > Stage.Start and < Stage.Child);

    private static bool Stops(Rehearsal r, SubnetPair pair) =>
        r.Obstacles.Any(o => o.Stage >= Stage.Child && (o.Pairs.IsEmpty || o.Pairs.Contains(pair)));
}
