using Shouldly;
using Vellumkeep.Contract;
using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Wording;
using Vellumkeep.Views;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// The page of a tunnel and of its rehearsal, from the records to what is sent: they say what was computed, to each
/// asker what they may see.
/// </summary>
public class PageTests
{
    private static bool Everything(string? owner) => true;

    private static Sees Only(string? customer) => owner => owner is null || owner == customer;

    private static IEnumerable<(Tunnel Tunnel, TunnelPage Page, RehearsalPage Rehearsal)> Pages(Sees sees) =>
        DemoInventory.All.Tunnels.Select(t =>
            (
                t,
                TunnelPages.Make(DemoInventory.Checked(t).View, Beside.Nothing, sees),
                RehearsalPages.Make(DemoInventory.Checked(t).View, sees)
            )
        );

    [Fact]
    public void Both_pages_open_with_the_same_verdict()
    {
        foreach (var (tunnel, page, rehearsal) in Pages(Everything))
        {
            page.Verdict.ShouldNotBeEmpty(tunnel.Code);
            page.Verdict.Select(v => (v.Tone, v.Says.Text))
                .ShouldBe(rehearsal.Verdict.Select(v => (v.Tone, v.Says.Text)), tunnel.Code);
        }
    }

    [Fact]
    public void Every_row_says_what_was_compared_and_names_the_findings_that_rest_on_it()
    {
        foreach (var (tunnel, page, _) in Pages(Everything))
        {
            var about = DemoInventory.Checked(tunnel);
            var findings = Checks.Run(about).ToArray();
            page.Rows.Select(r => r.Key).ShouldBe(about.Rows.Select(r => r.Key.Text), tunnel.Code);
            foreach (var (row, shown) in about.Rows.Zip(page.Rows))
            {
                (shown.A.Text, shown.B.Text).ShouldBe((row.A.Text, row.B.Text), $"{tunnel.Code} {row.Key}");
                shown.Codes.ShouldBe(
                    findings.Where(f => f.RowKey == row.Key).Select(f => f.Code).Distinct(),
                    ignoreOrder: true
                );
                if (row.Relation is Relation.Differs or Relation.Undetermined)
                    shown.WorthALook.ShouldBeTrue($"{tunnel.Code} {row.Key}");
            }

            page.Findings.Select(f => (f.Code, f.Digest)).ShouldBe(findings.Select(f => (f.Code, f.Digest)));
        }
    }

    [Fact]
    public void Every_pair_stands_on_the_page_with_what_each_end_has_for_it()
    {
        foreach (var (tunnel, page, _) in Pages(Everything))
        {
            page.Pairs.Select(p => $"{p.A} - {p.B}").ShouldBe(tunnel.Agreed.Pairs.Select(p => p.ToString()));
            foreach (var end in page.Pairs.SelectMany(p => new[] { p.AtA, p.AtB }))
                new[] { end.Selector, end.RuleIn, end.RuleOut, end.NoNat, end.Route }.ShouldAllBe(w =>
                    w.Length > 0 && w == w.ToLowerInvariant()
                );
        }
    }

    [Fact]
    public void The_ladder_is_numbered_without_a_gap_and_what_comes_after_the_stop_is_told_to_be_supposed()
    {
        foreach (var (tunnel, _, page) in Pages(Everything))
        foreach (var (side, initiator) in new[] { (page.FromA, EndName.A), (page.FromB, EndName.B) })
        {
            var rehearsed = DemoInventory.Checked(tunnel).Rehearsed(initiator);
            side.Initiator.ShouldBe(initiator.ToString());
            side.Exchanges.Select(x => x.Number)
                .ShouldBe(Enumerable.Range(1, side.Exchanges.Count), $"{tunnel.Code} from {initiator}");
            side.Outcome.ShouldBe(FindingText.Outcomes.Of(rehearsed.Outcome));
            side.Stops.Select(s => s.Code).ShouldBe(rehearsed.Obstacles.Select(o => o.Code));
            var whole = side.Stops.Where(s => s.Pairs.Count == 0 || s.Pairs.Count == tunnel.Agreed.Pairs.Length);
            var sent = side.Exchanges.Where(x => !x.IfFixed).ToArray();
            side.Exchanges.Take(sent.Length).ShouldBe(sent, tunnel.Code);
            // After a stop nothing more is sent than the notify, and nothing is supposed that no fix leads to.
            if (whole.FirstOrDefault() is { } stop)
            {
                sent.Length.ShouldBeInRange(stop.Exchange, stop.Exchange + 1, tunnel.Code);
                if (sent.Length > stop.Exchange)
                    sent[^1].Carries.Text.ShouldBe(stop.Notify, tunnel.Code);
                if (side.Fixes.Count == 0)
                    side.Exchanges.ShouldBe(sent, tunnel.Code);
            }
            else
                side.Exchanges.ShouldBe(sent, tunnel.Code);
            foreach (var message in side.Exchanges)
                message.Carries.Text.ShouldNotBeNullOrWhiteSpace($"{tunnel.Code} {message.Name}");
            if (rehearsed.ComesUp)
                side.Passing.ShouldNotBeEmpty($"{tunnel.Code} from {initiator}");
        }
    }

    [Fact]
    public void A_mend_that_is_said_to_pass_is_shown_with_the_values_that_it_sets_and_how_it_then_ends()
    {
        var fixes = Pages(Everything)
            .SelectMany(p => new[] { p.Rehearsal.FromA, p.Rehearsal.FromB })
            .SelectMany(s => s.Fixes)
            .ToArray();
        fixes.Length.ShouldBeGreaterThan(10);
        foreach (var fix in fixes)
        {
            fix.Says.Text.ShouldNotBeNullOrWhiteSpace();
            fix.Values.ShouldNotBeEmpty(fix.Says.Text);
            fix.Values.ShouldAllBe(v => v.End == "A" || v.End == "B");
            FindingText.Outcomes.All.ShouldContain(fix.Outcome);
            if (fix.Outcome == FindingText.Outcomes.Of(Outcome.Up))
                fix.Next.ShouldBeNull(fix.Says.Text);
        }
    }

    [Fact]
    public void The_hours_after_are_told_in_order_and_within_their_length()
    {
        foreach (var (tunnel, _, page) in Pages(Everything))
        {
            page.Timeline.Marks.Select(m => m.From).ShouldBe(page.Timeline.Marks.Select(m => m.From).Order());
            page.Timeline.Marks.ShouldAllBe(m => m.To >= m.From && m.From >= 0, tunnel.Code);
            foreach (var life in page.Timeline.Lives.Where(l => l.RekeysFrom is not null && l.Drops is not null))
                (life.RekeysFrom <= life.Drops && life.RekeysTo <= life.Drops).ShouldBeTrue($"{tunnel.Code} {life}");
        }
    }

    [Fact]
    public void Nothing_of_another_customers_tunnel_is_in_a_page_of_somebody_who_may_not_see_it()
    {
        var saltmarsh = DemoInventory.All.ByCode<Customer>("SAL")!.Id;
        var foreign = DemoInventory.All.Tunnels.Where(t => t.CustomerId != saltmarsh).Select(t => t.Code).ToArray();
        var mine = Pages(Only(saltmarsh)).Where(p => p.Tunnel.CustomerId == saltmarsh).ToArray();
        mine.ShouldNotBeEmpty();
        foreach (var (tunnel, page, rehearsal) in mine)
        {
            var all = System.Text.Json.JsonSerializer.Serialize(new { page, rehearsal });
            foreach (var code in foreign)
                all.ShouldNotContain($"\"{code}\"", Case.Sensitive, tunnel.Code);
        }
    }

    [Fact]
    public void A_sentence_names_what_the_asker_may_see_and_covers_the_rest_word_by_word()
    {
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        Sentence says =
            $"{tunnel} sends {Argument.Of(tunnel, "10.62.4.0/24")} at {EndName.B}, held by "
            + $"{new Argument(ArgumentKind.Word, "ines", tunnel.CustomerId)}.";
        says.Show(Everything).Text.ShouldBe("BRI-ASHLOW sends 10.62.4.0/24 at B, held by ines.");
        var hidden = says.Show(Only("customer:sal"));
        hidden.Text.ShouldBe(
            "another customer's tunnel sends a prefix at B, held by the value that its owner recorded."
        );
        string.Concat(hidden.Parts.Select(p => p.Text)).ShouldBe(hidden.Text);
        hidden.Parts.ShouldAllBe(p => !p.Text.Contains("ASHLOW") && !p.Text.Contains("10.62"));
    }

    [Fact]
    public void Evidence_of_somebody_elses_tunnel_is_left_out_for_who_may_not_see_it()
    {
        var found = DemoInventory
            .All.Tunnels.SelectMany(t => Checks.Run(DemoInventory.Checked(t)).Select(f => (t, f)))
            .First(x => x.f.Evidence.Any(e => e.Owner is not null && e.Owner != x.t.CustomerId));
        var (tunnel, finding) = found;
        finding.Show(tunnel.Code, Everything).Evidence.Count.ShouldBe(finding.Evidence.Length);
        finding
            .Show(tunnel.Code, Only(tunnel.CustomerId))
            .Evidence.Count.ShouldBe(finding.Evidence.Count(e => e.Owner is null || e.Owner == tunnel.CustomerId));
    }

    [Fact]
    public void A_profile_tells_what_it_says_and_what_results_are_left_open_by()
    {
        var platforms = DemoInventory.All.All.OfType<Platform>().ToArray();
        foreach (var platform in platforms)
        {
            PlatformFacts.Can(platform).Concat(PlatformFacts.Does(platform)).ShouldAllBe(f => f.Value.Length > 0);
            PlatformFacts.Silent(platform).ShouldBeUnique();
        }

        var unknown = platforms.Single(p => p.Code == "unknown@1");
        PlatformFacts.Can(unknown).ShouldBeEmpty();
        PlatformFacts.Silent(unknown).Count.ShouldBe(24);
        // Each thing that a profile says takes one thing off the list of what it is silent about.
        var silent = PlatformFacts.Silent(unknown with { SubnetsCost = platforms[0].SubnetsCost });
        PlatformFacts.Silent(unknown).Except(silent).ShouldBe(["what changing subnets interrupts"]);
        PlatformFacts
            .Silent(unknown with { IkeVersions = [IkeVersion.IKEv2] })
            .ShouldNotContain("what it does with a different IKEv1 lifetime");
        PlatformFacts
            .Does(unknown with { ComparesNamesByOctet = false })
            .ShouldHaveSingleItem()
            .ShouldBe(new FactLine("compares names", "ignoring case"));
    }
}
