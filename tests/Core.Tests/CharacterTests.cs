using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class CharacterTests
{
    [Theory]
    [InlineData("Churn House, käsekeller \U0001F9C0", null)]
    [InlineData("a\u0000b", "U+0000")]
    [InlineData("a\u007fb", "U+007F")]
    [InlineData("a\u202eb", "U+202E")]
    [InlineData("a\u2066b", "U+2066")]
    [InlineData("a\u200bb", "U+200B")]
    [InlineData("a\u2028b", "U+2028")]
    [InlineData("a\uffffb", "U+FFFF")]
    [InlineData("a\U0001FFFFb", "U+1FFFF")]
    [InlineData("a\nb", "U+000A")]
    public void What_cannot_be_kept_or_seen_is_named(string text, string? unfit) =>
        Characters.Unfit(text).ShouldBe(unfit);

    [Fact]
    public void Halves_of_characters_are_unfit_and_lines_are_fit_where_lines_are()
    {
        Characters.Unfit("a" + (char)0xd83d).ShouldBe("U+D83D");
        Characters.Unfit((char)0xdc00 + "a").ShouldBe("U+DC00");
        Characters.Unfit("a\nb\tc\r\n", lines: true).ShouldBeNull();
        Characters.Unfit("a\u0007b", lines: true).ShouldBe("U+0007");
    }

    /// <summary>Every text of every kind of record is looked at, wherever it stands.</summary>
    [Theory]
    [InlineData(RecordKind.Customer, "name")]
    [InlineData(RecordKind.Site, "networks[1].name")]
    [InlineData(RecordKind.Gateway, "uplinks[1].label")]
    [InlineData(RecordKind.Tunnel, "purpose")]
    [InlineData(RecordKind.Tunnel, "a.set.pfs")]
    [InlineData(RecordKind.Suite, "about")]
    [InlineData(RecordKind.Platform, "notes")]
    public void No_record_takes_one_in(RecordKind kind, string path)
    {
        var record = DemoInventory.All.All.First(r =>
            r.Kind == kind
            && (
                kind is not (RecordKind.Site or RecordKind.Gateway)
                || Storage.Bodies.RecordBody.Form(r).Find(path.Split('.', '[')[0]) is not null
            )
        );
        var form = Edits.Put(Storage.Bodies.RecordBody.Form(record), TestValues.Path(path.Replace("[1]", "")), null);
        form = path.Contains("[1]")
            ? Spoilt(Storage.Bodies.RecordBody.Form(record), path)
            : Edits.Put(form, TestValues.Path(path), "a\u202eb");
        var (read, problems) = Storage.Bodies.RecordBody.Read(kind, record.Id, form);
        read.ShouldBeNull();
        problems.ShouldContain(
            p => p.Wrong.Contains("U+202E", StringComparison.Ordinal),
            string.Join("; ", problems.Select(p => p.Wrong))
        );
    }

    private static Forms.MapNode Spoilt(Forms.MapNode form, string path)
    {
        var (list, key) = (path.Split('[')[0], path.Split('.')[^1]);
        var items = (Forms.ListNode)form.Find(list)!;
        return form.With(
            list,
            Forms.ListNode.Of(
                items.Items.Select((item, i) => i == 0 ? ((Forms.MapNode)item).With(key, "a\u202eb") : item)
            )
        );
    }
}
