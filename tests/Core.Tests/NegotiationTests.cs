using System.Collections.Immutable;
using CsCheck;
using Shouldly;
using Vellumkeep.Core.Algorithms;
using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Negotiation;
using Vellumkeep.Core.Quantities;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// What is chosen of what is offered, held against a plain reading of RFC 7296 section 2.7; and what a difference in
/// PFS brings, and when.
/// </summary>
public class NegotiationTests
{
    private static readonly IkeProposal[] Some =
    [
        .. new[]
        {
            "AES-128-CBC + HMAC-SHA1-96 + PRF-HMAC-SHA1 + DH 14",
            "AES-256-CBC + HMAC-SHA1-96 + PRF-HMAC-SHA1 + DH 14",
            "AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14",
            "AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 19",
            "AES-256-GCM-16 + PRF-HMAC-SHA2-256 + DH 19",
            "AES-256-GCM-16 + PRF-HMAC-SHA2-384 + DH 20",
        }.Select(t => IkeProposal.Parse(t).Value!),
    ];

    private static readonly Gen<ImmutableArray<IkeProposal>> Lists = Gen.Int[0, 5]
        .Array[1, 4]
        .Select(at => at.Distinct().Select(i => Some[i]).ToImmutableArray());

    [Fact]
    public void A_proposal_is_taken_whole_and_the_first_of_whoever_decides()
    {
        Gen.Select(Lists, Lists, Gen.Bool)
            .Sample(
                (offers, accepts, responders) =>
                {
                    var common = (responders ? accepts : offers).Where(p => offers.Contains(p) && accepts.Contains(p));
                    var chosen = Choice.Ike(
                        offers,
                        accepts,
                        Answering.SameList,
                        IkeVersion.IKEv2,
                        responders ? OrderOf.Responder : OrderOf.Initiator
                    );
                    chosen.Proposal.ShouldBe(common.FirstOrDefault());
                    (chosen.Miss is null).ShouldBe(chosen.Proposal is not null);
                }
            );
    }

    [Fact]
    public void Ticked_one_by_one_any_combination_of_members_is_taken_and_nothing_else()
    {
        Gen.Select(Lists, Lists)
            .Sample(
                (offers, accepts) =>
                {
                    static IEnumerable<string?> Members(IkeProposal p) =>
                        [p.Encryption.Name, p.Integrity?.Name, p.Prf.Name, p.Group.Name];
                    var known = accepts.SelectMany(Members).ToHashSet();
                    var expected = offers.FirstOrDefault(o => Members(o).All(m => m is null || known.Contains(m)));
                    Choice.Ike(offers, accepts, Answering.AnyCombination, IkeVersion.IKEv2).Proposal.ShouldBe(expected);
                }
            );
    }

    [Fact]
    public void The_nearest_miss_differs_in_the_fewest_types_and_names_them()
    {
        Gen.Select(Lists, Lists)
            .Sample(
                (offers, accepts) =>
                {
                    if (Choice.Ike(offers, accepts, Answering.SameList, IkeVersion.IKEv2).Miss is not { } miss)
                        return;
                    static int Apart(IkeProposal a, IkeProposal b) =>
                        (a.Encryption == b.Encryption ? 0 : 1)
                        + (a.Integrity == b.Integrity ? 0 : 1)
                        + (a.Prf == b.Prf ? 0 : 1)
                        + (a.Group == b.Group ? 0 : 1);
                    miss.DiffersIn.Length.ShouldBe(offers.Min(o => accepts.Min(a => Apart(o, a))));
                    var (o, a) = (IkeProposal.Parse(miss.Offered).Value!, IkeProposal.Parse(miss.Accepted).Value!);
                    miss.DiffersIn.Contains("DH group").ShouldBe(o.Group != a.Group);
                    miss.DiffersIn.Contains("encryption").ShouldBe(o.Encryption.Number != a.Encryption.Number);
                    miss.DiffersIn.Contains("key length")
                        .ShouldBe(o.Encryption != a.Encryption && o.Encryption.Number == a.Encryption.Number);
                }
            );
    }

    [Fact]
    public void Every_algorithm_reads_back_from_its_own_name_and_in_any_case()
    {
        foreach (var p in Some)
        foreach (var text in new[] { p.ToString(), p.ToString().ToLowerInvariant(), p.ToString().Replace(" + ", "/") })
            IkeProposal.Parse(text).Value.ShouldBe(p, text);
        foreach (var group in AlgorithmTable.Groups)
            AlgorithmTable.Group(group.Name).Value.ShouldBe(group);
    }

    // Initiator, responder, the group of the IKE SA: whether it fits, and with which group (RFC 7296 section 1.3.1).
    [Theory]
    [InlineData("required DH 14", "required DH 14", "DH 19", true, "DH 14")]
    [InlineData("required DH 14", "required DH 16", "DH 19", false, null)]
    [InlineData("required DH 14, DH 16", "required DH 16", "DH 19", true, "DH 16")]
    [InlineData("required DH 16, DH 14", "optional DH 14, DH 16", "DH 19", true, "DH 16")]
    [InlineData("required DH 14", "refused", "DH 14", false, null)]
    [InlineData("refused", "required DH 14", "DH 14", false, null)]
    [InlineData("refused", "refused", "DH 14", true, null)]
    [InlineData("refused", "optional DH 14", "DH 14", true, null)]
    [InlineData("optional DH 14", "refused", "DH 14", false, null)]
    [InlineData("optional DH 14", "optional DH 16", "DH 14", false, null)]
    [InlineData("optional DH 14", "accepts only DH 16, DH 14", "DH 14", true, "DH 14")]
    [InlineData("required DH 14", "accepts only DH 14", "DH 14", true, "DH 14")]
    [InlineData("accepts only DH 14", "required DH 14", "DH 14", false, null)]
    [InlineData("accepts only DH 14", "optional DH 14", "DH 14", true, null)]
    [InlineData("accepts only DH 14", "refused", "DH 14", true, null)]
    [InlineData("refused", "accepts only DH of IKE", "DH 14", true, null)]
    [InlineData("optional DH 14", "required DH 16", "DH 14", false, null)]
    [InlineData("required DH of IKE", "required DH 14", "DH 14", true, "DH 14")]
    [InlineData("required DH of IKE", "required DH 14", "DH 19", false, null)]
    [InlineData("required DH of IKE", "required DH of IKE", "DH 19", true, "DH 19")]
    public void Two_settings_of_pfs_fit_as_the_standard_has_it(
        string initiator,
        string responder,
        string ofIke,
        bool fits,
        string? group
    )
    {
        var (one, other) = (Pfs.Parse(initiator).Value!, Pfs.Parse(responder).Value!);
        var found = Choice.Pfs(one, other, AlgorithmTable.Group(ofIke).Value, IkeVersion.IKEv2);
        (found.Fits, found.Group?.Name).ShouldBe((fits, group));
        Choice.PfsFits(one, other, AlgorithmTable.Group(ofIke).Value, IkeVersion.IKEv2).ShouldBe(fits);
    }

    [Theory]
    [InlineData("required DH of IKE", "required DH 14", null)]
    [InlineData("required DH 14", "optional DH of IKE", null)]
    [InlineData("required DH of IKE", "required DH of IKE", true)]
    [InlineData("required DH of IKE", "refused", false)]
    [InlineData("required DH 14", "required DH 14", true)]
    public void Where_the_group_of_the_ike_sa_decides_and_is_not_known_nothing_is_said(
        string initiator,
        string responder,
        bool? fits
    ) =>
        Choice.PfsFits(Pfs.Parse(initiator).Value!, Pfs.Parse(responder).Value!, null, IkeVersion.IKEv2).ShouldBe(fits);

    /// <summary>
    /// RFC 2409 section 5.5: every transform of a quick mode has the group of the one key exchange, and nothing asks for
    /// it again with another.
    /// </summary>
    [Theory]
    [InlineData("required DH 14, DH 16", "required DH 16", false)]
    [InlineData("required DH 16, DH 14", "required DH 16", true)]
    [InlineData("required DH 14", "required DH 16, DH 14", true)]
    public void Under_ikev1_the_first_group_is_the_only_one_that_is_sent(
        string initiator,
        string responder,
        bool fits
    ) =>
        Choice.PfsFits(Pfs.Parse(initiator).Value!, Pfs.Parse(responder).Value!, null, IkeVersion.IKEv1).ShouldBe(fits);

    /// <summary>RFC 2409 section 4: the PRF of IKEv1 is the HMAC of the hash, and in no transform.</summary>
    [Theory]
    [InlineData(IkeVersion.IKEv1, true)]
    [InlineData(IkeVersion.IKEv2, false)]
    public void A_prf_keeps_two_ends_apart_only_where_it_is_negotiated(IkeVersion version, bool chosen)
    {
        var one = IkeProposal.Parse("AES-256-CBC + SHA256 + PRF-HMAC-SHA2-512 + DH 14").Value;
        var other = IkeProposal.Parse("AES-256-CBC + SHA256 + DH 14").Value;
        foreach (var answering in Enum.GetValues<Answering>())
            (Choice.Ike([one], [other], answering, version).Proposal is not null).ShouldBe(chosen);
    }

    [Fact]
    public void Esp_under_ikev1_has_no_cipher_without_an_identifier()
    {
        var profile = DemoInventory.All.Get<Gateway>(DemoInventory.Tunnel("BRI-PETHER").A.GatewayId);
        var able = DemoInventory.All.Get<Platform>(profile.PlatformId) with
        {
            Encryptions = AlgorithmTable.Encryptions,
            IkeVersions = [IkeVersion.IKEv1, IkeVersion.IKEv2],
        };
        bool Has(IkeVersion version) =>
            CommonGround.EspProposals(able, able, version).Any(p => p.Encryption.Name == "CHACHA20-POLY1305");
        Has(IkeVersion.IKEv2).ShouldBeTrue();
        Has(IkeVersion.IKEv1).ShouldBeFalse();
    }

    /// <summary>A tunnel of the demo whose ends differ in PFS alone, with margins and jitter as given.</summary>
    private static Deferred? Later(string a, string b, string lifeA = "1 h", string lifeB = "1 h", int jitterB = 0)
    {
        var tunnel = DemoInventory.Tunnel("BRI-PETHER");
        Platform With(TunnelEnd end, int jitter) =>
            DemoInventory.All.Get<Platform>(DemoInventory.All.Get<Gateway>(end.GatewayId).PlatformId) with
            {
                Jitter = jitter,
            };
        TunnelEnd Set(TunnelEnd end, string pfs, string life) =>
            end with
            {
                Set = end
                    .Set.With(Settings.Pfs, Recorded<Pfs>.Known(Pfs.Parse(pfs).Value!))
                    .With(
                        Settings.EspLifetime,
                        Recorded<Life>.Known(
                            new Life(Lifetime.Parse(life).Value!) { Margin = Margin.Parse("10 %").Value }
                        )
                    ),
            };
        var made = tunnel with { A = Set(tunnel.A, a, lifeA), B = Set(tunnel.B, b, lifeB) };
        return Rekeying.OfPfs(
            new TunnelView(
                DemoInventory.All.With(made, With(made.A, 0), With(made.B, jitterB)),
                made,
                DemoInventory.Today
            ),
            AlgorithmTable.Group("DH 14").Value,
            []
        );
    }

    [Fact]
    public void Whoever_renews_first_is_refused_first_and_the_traffic_ends_with_the_shorter_life()
    {
        var same = Later("required DH 14", "required DH 16").ShouldNotBeNull();
        (same.FirstRefusal, same.Lost).ShouldBe((new Span(3240, 3240), new Span(3600, 3600)));
        var shorterB = Later("required DH 14", "required DH 16", "2 h", "1 h").ShouldNotBeNull();
        (shorterB.Asks, shorterB.FirstRefusal, shorterB.Lost).ShouldBe(
            (EndName.B, new Span(3240, 3240), new Span(3600, 3600))
        );
        Later("required DH 14", "required DH 16", "1 h", "2 h")!.Asks.ShouldBe(EndName.A);
        // Jitter makes it a range, earlier by up to so much of the lifetime.
        Later("required DH 14", "required DH 16", "2 h", "1 h", 10)!.FirstRefusal.ShouldBe(new Span(2880, 3240));
    }

    [Theory]
    [InlineData("required DH 14", "required DH 14")]
    [InlineData("refused", "refused")]
    [InlineData("accepts only DH 14", "refused")]
    public void Where_it_fits_both_ways_nothing_comes_later(string a, string b) => Later(a, b).ShouldBeNull();

    [Theory]
    [InlineData(2700, 2880, "45 to 48 minutes")]
    [InlineData(3600, 3600, "60 minutes")]
    [InlineData(90, 7200, "90 seconds to 2 hours")]
    public void A_span_is_said_with_its_unit_once_where_both_have_the_same(long from, long to, string says) =>
        new Span(from, to).ToString().ShouldBe(says);

    /// <summary>RFC 7296 section 3.3: of each type of a proposal any one member may be chosen.</summary>
    [Theory]
    [InlineData(
        "AES-256-CBC + AES-128-CBC + SHA256 + DH 14 + DH 19",
        4,
        "AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 19"
    )]
    [InlineData(
        "AES-256-GCM-16, AES-256-GCM-8, PRF-HMAC-SHA2-384, DH 20",
        2,
        "AES-256-GCM-8 + PRF-HMAC-SHA2-384 + DH 20"
    )]
    public void A_line_with_several_members_of_a_type_is_every_combination(string line, int count, string among)
    {
        var all = IkeProposal.ParseAll(line).Value;
        all.Length.ShouldBe(count);
        all.ShouldContain(IkeProposal.Parse(among).Value);
        IkeProposal.Parse(line).Right.ShouldBe("one proposal a line, each with one of a type");
    }

    [Fact]
    public void What_no_rfc_grades_is_said_to_be_ours_and_what_is_on_its_way_out_is_not_ahead()
    {
        foreach (var name in new[] { "DH 31", "DH 20", "DH 16", "AES-256-GCM-8" })
        {
            var (word, standard) = name.StartsWith("DH", StringComparison.Ordinal)
                ? (AlgorithmTable.Group(name).Value.Ike.Word, AlgorithmTable.Group(name).Value.Ike.Standard)
                : (AlgorithmTable.Encryption(name).Value.Esp.Word, AlgorithmTable.Encryption(name).Value.Esp.Standard);
            word.ShouldBe("MAY, not mentioned", name);
            standard.ShouldStartWith("in neither RFC 8221 nor RFC 8247; our own judgement: ");
        }

        (Requirement.MustMinus > Requirement.Should).ShouldBeTrue();
        IkeProposal.Parse("NULL + SHA256 + DH 14").Wrong!.ShouldContain("an IKE SA is always encrypted");
        EspProposal.Parse("NULL + SHA256").Ok.ShouldBeTrue();
    }
}
