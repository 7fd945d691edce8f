using System.Collections.Immutable;
using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Every value of every record of the demo, typed wrong: it is refused at its place with what would be right, or taken
/// as something that reads back as it was written. Nothing throws, and nothing is dropped in silence.
/// </summary>
public class SlipTests
{
    private static readonly CodeNames Names = DemoInventory.All.Codes();

    private static readonly Node[] Slips =
    [
        new TextNode(""),
        new TextNode(" "),
        new TextNode("x"),
        new TextNode("-1"),
        new TextNode("99999999999999999999"),
        new TextNode("2026-13-45"),
        new TextNode("10.0.0.1/33"),
        new TextNode("none of these"),
        new TextNode(new string('a', 5000)),
        new ListNode([]),
        new ListNode([new TextNode("x"), new TextNode("x")]),
        new ListNode([new ListNode([])]),
        MapNode.Empty,
        MapNode.Empty.With("is", "x").With("was", "y"),
    ];

    public static TheoryData<string> Kinds =>
        [.. DemoInventory.All.All.Select(r => r.Kind).Distinct().Select(k => k.ToString())];

    private static IEnumerable<IRecord> Of(string kind) =>
        DemoInventory.All.All.Where(r => r.Kind.ToString() == kind).Take(6);

    /// <summary>Every place of a form: of each value, and of each list and group of them.</summary>
    private static IEnumerable<ImmutableArray<object>> Places(Node node) =>
        node switch
        {
            MapNode m => m.Entries.SelectMany(e => Under(e.Key, e.Value)),
            ListNode l => l.Items.SelectMany((item, i) => Under(i, item)),
            _ => [],
        };

    private static IEnumerable<ImmutableArray<object>> Under(object step, Node node) =>
        Places(node).Select(p => p.Insert(0, step)).Prepend([step]);

    private static Node Put(Node node, ReadOnlySpan<object> at, Node value)
    {
        if (at.IsEmpty)
            return value;
        if (node is MapNode m)
        {
            var key = (string)at[0];
            return m.With(key, Put(m.Find(key)!, at[1..], value));
        }

        var (list, index) = ((ListNode)node, (int)at[0]);
        return new ListNode(list.Items.SetItem(index, Put(list.Items[index], at[1..], value)));
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_slip_is_refused_with_what_would_be_right_or_reads_back(string kind)
    {
        var (refused, taken) = (0, 0);
        foreach (var record in Of(kind))
        {
            var form = WrittenRecord.Write(record, Names);
            foreach (var at in Places(form))
            foreach (var slip in Slips)
            {
                var slipped = (MapNode)Put(form, at.AsSpan(), slip);
                var (read, problems) = WrittenRecord.Read(record.Kind, record.Id, slipped, Names);
                var about = $"{record.Code} {string.Join('.', at)}: {slip}";
                if (read is null)
                {
                    problems.ShouldNotBeEmpty(about);
                    problems.ShouldAllBe(p => p.Field.Length > 0 && p.Wrong.Length > 0 && p.Right.Length > 0, about);
                    refused++;
                    continue;
                }

                var written = WrittenRecord.Write(read, Names);
                var (again, none) = WrittenRecord.Read(record.Kind, record.Id, written, Names);
                none.ShouldBeEmpty(about);
                Node.Same(WrittenRecord.Write(again!, Names), written).ShouldBeTrue(about);
                taken++;
            }
        }

        (refused > taken).ShouldBeTrue($"{kind}: {refused} refused, {taken} taken");
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_field_that_there_is_not_is_refused_wherever_it_stands(string kind)
    {
        foreach (var record in Of(kind))
        {
            var form = WrittenRecord.Write(record, Names);
            foreach (var at in Places(form).Append([]))
            {
                if (Found(form, at.AsSpan()) is not MapNode group)
                    continue;
                var slipped = (MapNode)Put(form, at.AsSpan(), group.With("zzzz", "x"));
                var (read, problems) = WrittenRecord.Read(record.Kind, record.Id, slipped, Names);
                var about = $"{record.Code} {string.Join('.', at)}";
                read.ShouldBeNull(about);
                var place = at.LastOrDefault(step => step is string) as string ?? "zzzz";
                problems.ShouldContain(
                    p =>
                        (p.Field + p.Wrong).Contains("zzzz", StringComparison.Ordinal)
                        || p.Field.Contains(place, StringComparison.Ordinal),
                    about
                );
            }
        }
    }

    private static Node Found(Node node, ReadOnlySpan<object> at) =>
        at.IsEmpty ? node
        : node is MapNode m ? Found(m.Find((string)at[0])!, at[1..])
        : Found(((ListNode)node).Items[(int)at[0]], at[1..]);

    /// <summary>What a field is that is left out.</summary>
    private static readonly Dictionary<string, string> Usual = new() { ["timeZone"] = "Etc/UTC", ["runBy"] = "us" };

    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_field_that_is_left_out_is_missed_by_name_or_stays_left_out(string kind)
    {
        foreach (var record in Of(kind))
        {
            var form = WrittenRecord.Write(record, Names);
            foreach (var (key, _) in form.Entries)
            {
                var (read, problems) = WrittenRecord.Read(record.Kind, record.Id, form.With(key, null), Names);
                if (read is null)
                    problems.ShouldContain(
                        p => p.Field.StartsWith(key, StringComparison.Ordinal),
                        $"{record.Code} {key}"
                    );
                else
                    (WrittenRecord.Write(read, Names).Text(key) ?? Usual.GetValueOrDefault(key)).ShouldBe(
                        Usual.GetValueOrDefault(key),
                        $"{record.Code} {key}"
                    );
            }
        }
    }
}
