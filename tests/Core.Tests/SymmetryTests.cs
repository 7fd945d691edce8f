using Shouldly;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Fleet;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Which end is called A is an accident: exchanging them exchanges everything that is said of them, and alters nothing.
/// </summary>
public class SymmetryTests
{
    public static TheoryData<string> Grounds => ["demo", "fleet 1", "ends 1", "ends 2"];

    private static IEnumerable<(Checked Was, Checked Swapped)> Both(string ground)
    {
        var all = Ground.Of(ground).All;
        foreach (var tunnel in all.Tunnels)
        {
            var swapped = TestValues.Swapped(tunnel);
            yield return (
                new(new TunnelView(all, tunnel, DemoInventory.Today)),
                new(new TunnelView(all.With(swapped), swapped, DemoInventory.Today))
            );
        }
    }

    /// <summary>The key of a row with its end exchanged.</summary>
    private static RowKey Mirrored(RowKey key) =>
        key.Owner is not { } owner ? key : TestValues.Row($"{key.Text[..^1]}{owner.Other()}");

    [Theory]
    [MemberData(nameof(Grounds))]
    public void Each_row_has_the_same_answer_and_the_cells_of_the_other_end(string ground)
    {
        foreach (var (was, swapped) in Both(ground))
        {
            swapped.Rows.Length.ShouldBe(was.Rows.Length, was.View.Tunnel.Code);
            foreach (var row in was.Rows)
            {
                var mirror = swapped.Row(Mirrored(row.Key)).ShouldNotBeNull($"{was.View.Tunnel.Code} {row.Key}");
                var about = $"{was.View.Tunnel.Code} {row.Key}: {row.A.Text} | {row.B.Text}";
                mirror.Relation.ShouldBe(row.Relation, about);
                mirror.OnlyOn.ShouldBe(row.OnlyOn?.Other(), about);
                (mirror.A.Source, mirror.B.Source).ShouldBe((row.B.Source, row.A.Source), about);
                (mirror.A.Confirmed, mirror.B.Confirmed).ShouldBe((row.B.Confirmed, row.A.Confirmed), about);
                (mirror.Difference?.GetType()).ShouldBe(row.Difference?.GetType(), about);
            }
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void The_negotiation_takes_the_same_course_from_the_same_device(string ground)
    {
        foreach (var (was, swapped) in Both(ground))
        foreach (var initiator in Enum.GetValues<EndName>())
        {
            var (one, other) = (was.Rehearsed(initiator), swapped.Rehearsed(initiator.Other()));
            var about = $"{was.View.Tunnel.Code} from {initiator}";
            other.Outcome.ShouldBe(one.Outcome, about);
            (other.Version, other.Mode, other.Encapsulated).ShouldBe((one.Version, one.Mode, one.Encapsulated), about);
            (other.Ike, other.Esp, other.Pfs).ShouldBe((one.Ike, one.Esp, one.Pfs), about);
            other
                .Exchanges.Select(x => (x.Number, x.Message, x.From))
                .ShouldBe(one.Exchanges.Select(x => (x.Number, x.Message, x.From.Other())), about);
            other
                .Obstacles.Select(o => (o.Stage, o.Exchange, o.RefusedBy, o.Notify, o.Code))
                .ShouldBe(
                    one.Obstacles.Select(o => (o.Stage, o.Exchange, o.RefusedBy?.Other(), o.Notify, o.Code)),
                    about
                );
            other.Passing.ShouldBe(one.Passing.Select(p => new SubnetPair(p.B, p.A)), ignoreOrder: true, about);
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void The_same_findings_weigh_the_same(string ground)
    {
        foreach (var (was, swapped) in Both(ground))
            Weighed(swapped).ShouldBe(Weighed(was), was.View.Tunnel.Code);

        static string[] Weighed(Checked about) =>
            [.. Checks.Run(about).Select(f => $"{f.Code} {f.Severity} {f.After}").Order(StringComparer.Ordinal)];
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void The_verdict_weighs_the_same(string ground)
    {
        foreach (var (was, swapped) in Both(ground))
            Tones(swapped).ShouldBe(Tones(was), was.View.Tunnel.Code);

        static Tone[] Tones(Checked about) =>
            [.. Verdict.Of(about, [.. Checks.Run(about)]).Select(v => v.Tone).Order()];
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void A_rehearsal_says_of_every_pair_that_it_passes_or_what_stops_it(string ground)
    {
        foreach (var (about, _) in Both(ground))
        foreach (var r in about.Rehearsals.Where(r => r.Outcome is Outcome.Up or Outcome.UpWithFewerPairs))
        {
            var pairs = about.View.Tunnel.Agreed.Pairs;
            var code = $"{about.View.Tunnel.Code} from {r.Initiator}";
            r.Passing.ShouldAllBe(p => pairs.Contains(p), code);
            if (r.Outcome == Outcome.Up)
                r.Passing.Length.ShouldBe(pairs.Length, code);
            foreach (var lost in pairs.Except(r.Passing))
                r.Obstacles.ShouldContain(o => o.Pairs.IsEmpty || o.Pairs.Contains(lost), $"{code}: {lost}");
        }
    }

    [Theory]
    [MemberData(nameof(Grounds))]
    public void What_stops_it_is_refused_by_the_end_that_gets_the_message_or_by_nobody(string ground)
    {
        foreach (var (about, _) in Both(ground))
        foreach (var r in about.Rehearsals)
        foreach (var o in r.Obstacles)
        {
            var code = $"{about.View.Tunnel.Code} from {r.Initiator}: {o.Code} {o.Notify}";
            o.Exchange.ShouldBeGreaterThanOrEqualTo(0, code);
            if (o.Exchange > 0)
                r.Exchanges.ShouldContain(x => x.Number == o.Exchange, code);
            if (o.Notify == "not sent")
                o.RefusedBy.ShouldBe(r.Initiator, code);
            o.Notify.ShouldNotBeNullOrWhiteSpace(code);
            var told = o.Code;
            Checks.All.ShouldContain(c => c.Code == told, code);
        }
    }

    /// <summary>Verdict, findings and rehearsals come of one result, and say the same.</summary>
    [Theory]
    [MemberData(nameof(Grounds))]
    public void An_outcome_other_than_up_has_a_finding_that_says_so_and_the_other_way_round(string ground)
    {
        foreach (var (about, swapped) in Both(ground))
        foreach (var one in new[] { about, swapped })
            OneTruth.Broken(one).ShouldBeNull(one.View.Tunnel.Code);
    }
}
