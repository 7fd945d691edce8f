using Shouldly;
using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Exchange.Keepfiles;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// Value against value, row by row: alike in meaning is alike, whatever the spelling; unknown is never called alike;
/// and only what somebody has seen at both ends is said to agree.
/// </summary>
public class CompareTests
{
    private const string Confirmed = "read 2026-11-03 by tomas";

    /// <summary>The row of a setting of BRI-PETHER with these values at its ends; a dash leaves one out.</summary>
    private static Row Compared(string key, string a, string b, bool seen = false)
    {
        var tunnel = DemoInventory.Tunnel("BRI-PETHER");
        var form = WrittenRecord.Write(tunnel, IdNames.Instance);
        foreach (var (end, value) in new[] { ("a", a), ("b", b) })
        {
            var written = seen && value != "-" ? $"{{is: {value}, confirmed: {Confirmed}}}" : value;
            form = Edits.Put(
                form,
                TestValues.Path($"{end}.set.{key}"),
                value == "-" ? null : YamlText.ReadPart(written).Root
            );
        }

        var (read, problems) = WrittenRecord.Read(tunnel.Kind, tunnel.Id, form, IdNames.Instance);
        problems.ShouldBeEmpty($"{key}: {a} | {b}: {string.Join("; ", problems)}");
        var made = (Tunnel)read!;
        return new Checked(new TunnelView(DemoInventory.All.With(made), made, DemoInventory.Today))
            .Row(TestValues.Row(key))
            .ShouldNotBeNull(key);
    }

    [Theory]
    [InlineData("ikeVersions", "[IKEv2]", "[IKEv2]", true)]
    [InlineData("ikeVersions", "[IKEv2, IKEv1]", "[IKEv2]", true)]
    [InlineData("ikeVersions", "[IKEv1]", "[IKEv2]", false)]
    [InlineData("authentication", "PSK", "PSK", true)]
    [InlineData("espMode", "tunnel", "tunnel", true)]
    [InlineData("interfaceEncapsulation", "GRE", "GRE", true)]
    [InlineData("espLifetime", "{time: 3600 s}", "{time: 60 min}", true)]
    [InlineData("espLifetime", "{time: 3600 s}", "{time: 3600 min}", false)]
    [InlineData("espLifetime", "{time: 1 h, data: 4 GB}", "{time: 1 h}", false)]
    [InlineData("ikeLifetime", "{time: 8 h}", "{time: 28800 s}", true)]
    [InlineData("pfs", "required DH 14", "required DH 14", true)]
    [InlineData("pfs", "required DH 14", "optional DH 14", true)]
    [InlineData("pfs", "required DH 14", "required DH 16", false)]
    [InlineData("pfs", "required DH 14", "refused", false)]
    [InlineData("pfs", "accepts only DH 14", "refused", true)]
    [InlineData("pfs", "optional DH 14", "refused", false)]
    [InlineData("ikeProposals", "[AES-256-CBC + SHA256 + DH 14]", "[AES-256-CBC + HMAC-SHA2-256-128 + DH 14]", true)]
    [InlineData("ikeProposals", "[AES-256-CBC + SHA256 + DH 14]", "[AES-256-CBC + SHA256 + DH 19]", false)]
    [InlineData("espProposals", "[AES-256-CBC + SHA256]", "[AES-256-CBC + SHA256, AES-128-CBC + SHA1]", true)]
    [InlineData("espProposals", "[AES-256-CBC + SHA256]", "[AES-128-CBC + SHA256]", false)]
    [InlineData("dpd", "'30 s x 4, try again'", "'30 s x 4, try again'", true)]
    public void Alike_in_meaning_is_alike(string key, string a, string b, bool alike)
    {
        var row = Compared(key, a, b);
        (row.Relation != Relation.Differs).ShouldBe(alike, $"{row.A.Text} | {row.B.Text}: {row.Relation}");
        if (alike)
            row.Difference.ShouldBeNull();
    }

    [Theory]
    [InlineData("ikeVersions", "[IKEv2]")]
    [InlineData("authentication", "PSK")]
    [InlineData("espLifetime", "{time: 3600 s}")]
    [InlineData("pfs", "required DH 14")]
    [InlineData("ikeProposals", "[AES-256-CBC + SHA256 + DH 14]")]
    [InlineData("espProposals", "[AES-256-CBC + SHA256]")]
    public void It_agrees_only_where_both_were_seen(string key, string value)
    {
        Compared(key, value, value, seen: true).Relation.ShouldBe(Relation.Agrees, key);
        Compared(key, value, value).Relation.ShouldBe(Relation.AgreesNotConfirmed, key);
    }

    [Theory]
    [InlineData("ikeVersions", "[IKEv2]")]
    [InlineData("pfs", "required DH 14")]
    [InlineData("espProposals", "[AES-256-CBC + SHA256]")]
    [InlineData("ikeLifetime", "{time: 8 h}")]
    public void What_one_end_leaves_out_is_what_was_agreed_or_its_default_and_says_so(string key, string value)
    {
        var row = Compared(key, value, "-", seen: true);
        row.A.Source.ShouldBe(Source.Set);
        row.B.Source.ShouldBeOneOf(Source.Agreed, Source.Default, Source.Unknown);
        row.B.Confirmed.ShouldBeNull();
        row.Relation.ShouldNotBe(Relation.Agrees);
        if (row.B.Text is null)
            (row.Relation, row.OnlyOn).ShouldBe((Relation.Undetermined, EndName.A));
    }

    [Fact]
    public void A_value_for_now_says_until_when_and_what_it_becomes()
    {
        var row = Compared(
            "pfs",
            "{temporary: refused, final: required DH 14, reason: the rekey failed, deadline: 2026-12-01}",
            "required DH 14"
        );
        row.A.Text.ShouldBe("refused");
        row.A.Note.ShouldBe("temporary until 2026-12-01, then required DH 14: the rekey failed");
        row.Relation.ShouldBe(Relation.Differs);
    }

    [Fact]
    public void A_pending_value_is_not_known_and_says_who_will_know_it()
    {
        var row = Compared("pfs", "{pending: the other party, by: 2026-12-01}", "required DH 14");
        row.A.Text.ShouldBeNull();
        row.A.Note.ShouldBe("pending: the other party, by 2026-12-01");
        (row.Relation, row.OnlyOn).ShouldBe((Relation.Undetermined, EndName.B));
    }
}
