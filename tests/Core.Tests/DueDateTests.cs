using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>Whatever has a deadline in the written form of a record falls due on it.</summary>
public class DueDateTests
{
    private static (string Kind, string On, string Path)[] Of(params (string Key, Node Value)[] fields) =>
        [
            .. DueDates
                .Of(new([.. fields.Select(f => KeyValuePair.Create(f.Key, f.Value))]))
                .Select(d => (DueDates.Kinds.Of(d.Kind), d.On.ToString("yyyy-MM-dd"), d.Path)),
        ];

    private static MapNode Map(params (string Key, string Value)[] fields) =>
        new([.. fields.Select(f => KeyValuePair.Create<string, Node>(f.Key, f.Value))]);

    private static MapNode End(string key, Node value) => new([KeyValuePair.Create(key, value)]);

    [Fact]
    public void Each_shape_of_a_deadline_is_found_with_its_place() =>
        Of(
                (
                    "a",
                    End(
                        "peerAddress",
                        Map(("temporary", "203.0.113.9"), ("final", "203.0.113.8"), ("deadline", "2026-12-01"))
                    )
                ),
                (
                    "b",
                    End("peerAddress", Map(("pending", "Wren"), ("by", "2026-12-05")))
                        .With("certificate", Map(("ca", "Lark CA"), ("until", "2027-01-31")))
                ),
                ("acceptances", ListNode.Of([Map(("code", "STR-03"), ("until", "2027-03-31"))]))
            )
            .ShouldBe([
                ("temporary value", "2026-12-01", "a.peerAddress"),
                ("pending value", "2026-12-05", "b.peerAddress"),
                ("certificate", "2027-01-31", "b.certificate"),
                ("acceptance", "2027-03-31", "acceptances[0]"),
            ]);

    [Fact]
    public void The_oldest_confirmation_of_each_end_falls_due_a_year_later() =>
        Of(
                (
                    "a",
                    new MapNode([
                        KeyValuePair.Create<string, Node>(
                            "x",
                            Map(("is", "1"), ("confirmed", "read 2026-11-03 by tomas"))
                        ),
                        KeyValuePair.Create<string, Node>(
                            "y",
                            Map(("is", "2"), ("confirmed", "typed 2026-02-28 by ines"))
                        ),
                    ])
                ),
                ("b", End("x", Map(("is", "1"), ("confirmed", "read 2026-06-01 by tomas"))))
            )
            .ShouldBe([("confirmation", "2027-02-28", "a.y"), ("confirmation", "2027-06-01", "b.x")]);

    [Fact]
    public void A_value_without_a_deadline_and_one_that_is_not_a_day_fall_due_never() =>
        Of(("name", "Churn House"), ("x", Map(("pending", "Wren"))), ("y", Map(("pending", "Wren"), ("by", "soon"))))
            .ShouldBeEmpty();
}
