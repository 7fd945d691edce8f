using System.Net;
using System.Text.Json;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>What the service offers to fill a field with, and how it reads what is typed into one.</summary>
public class ChoicesTests(DemoService demo) : IClassFixture<DemoService>
{
    [Theory]
    [InlineData("customers", "Wexcombe Grain", "", "WEX")]
    [InlineData("customers", "Brindlecombe Cheese", "", "BRI2")]
    [InlineData("sites", "Silo Yard", "bri", "BRI-SILO")]
    [InlineData("sites", "Ashlow annexe", "BRI", "BRI-ASHLOW2")]
    [InlineData("gateways", "", "BRI-CHURN", "churn-gw")]
    [InlineData("platforms", "Thornbury Minor", "", "thornbury-minor")]
    [InlineData("platforms", "Teasel  Minor", "", "teasel-minor2")]
    [InlineData("platforms", "Brack & Water (old)", "", "brack-water-old")]
    [InlineData("platforms", "A device whose name is far too long", "", "a-device-whose-name-is-far-too")]
    [InlineData("platforms", "&&&", "", "new")]
    public async Task A_code_that_nobody_has_follows_from_a_name(string of, string name, string under, string code)
    {
        var query = $"choices/code?of={of}&name={Uri.EscapeDataString(name)}&under={under}";
        (await AnswerAsync(query)).GetProperty("code").GetString().ShouldBe(code);
    }

    [Theory]
    [InlineData("IKE", "aes128 sha1 group2", "AES-128-CBC + HMAC-SHA1-96 + PRF-HMAC-SHA1 + DH 2", "80 bits", "DH 2 ")]
    [InlineData(
        "IKE",
        "aes256 sha256 group14",
        "AES-256-CBC + HMAC-SHA2-256-128 + PRF-HMAC-SHA2-256 + DH 14",
        "112 bits",
        ""
    )]
    [InlineData("ESP", "3des md5", "3DES-CBC + HMAC-MD5-96", "0 bits", "3DES-CBC ")]
    public async Task A_proposal_is_read_in_any_spelling_with_what_should_not_be_used(
        string of,
        string typed,
        string proposal,
        string strength,
        string weak
    )
    {
        var read = (
            await AnswerAsync($"choices/proposals/read?of={of}&text={Uri.EscapeDataString(typed)}")
        ).GetProperty("proposals")[0];
        read.GetProperty("proposal").GetString().ShouldBe(proposal);
        read.GetProperty("strength").GetString().ShouldBe(strength);
        var said = read.GetProperty("weak").GetString();
        if (weak.Length == 0)
            said.ShouldBeNull();
        else
            said!.ShouldContain($"{weak}SHOULD NOT be used (RFC 8");
    }

    [Fact]
    public async Task Two_gateways_offer_what_a_tunnel_between_them_can_name()
    {
        var page = await AnswerAsync("choices/new-tunnel?gatewayA=churn-gw1&gatewayB=ashlow-gw");
        var (a, b) = (page.GetProperty("a"), page.GetProperty("b"));
        Codes(a, "uplinks").ShouldBe(["fibre"]);
        a.GetProperty("sharedEntries")[0].GetProperty("code").GetString().ShouldBe("bri-lan");
        a.GetProperty("sharedEntries")[0].GetProperty("name").GetString().ShouldBe("10.61.0.0/24, 10.61.8.0/22");
        Codes(b, "sharedEntries").ShouldBeEmpty();
        (a.GetProperty("lifetimeUnit").GetString(), b.GetProperty("lifetimeUnit").GetString()).ShouldBe(
            ("seconds", "minutes")
        );
        a.GetProperty("networks")
            .EnumerateArray()
            .Select(n => n.GetProperty("prefix").GetString())
            .ShouldBe(["10.61.0.0/24", "10.61.8.0/22", "10.61.40.0/24"]);
    }

    /// <summary>
    /// A form tells for each field which control it gets, and for a list of parts what each part can be.
    /// </summary>
    [Fact]
    public async Task A_form_says_which_control_a_field_gets_by_where_it_stands()
    {
        var end = Field(await AnswerAsync("forms/tunnels"), "a");
        var rules = Inside(end, "rules");
        rules.GetProperty("control").GetString().ShouldBe("rows");
        Inside(rules, "way")
            .GetProperty("words")
            .EnumerateArray()
            .Select(w => w.GetString())
            .ShouldBe(["both", "in", "out"]);
        Inside(Inside(end, "routes"), "into").GetProperty("words").EnumerateArray().Count().ShouldBe(2);
        Inside(Inside(end, "routes"), "to").GetProperty("control").GetString().ShouldBe("prefix");
        var freeze = Field(await AnswerAsync("forms/customers"), "freezes");
        Inside(freeze, "to").GetProperty("control").GetString().ShouldBe("day");
        Field(await AnswerAsync("forms/offers"), "subnets").GetProperty("control").GetString().ShouldBe("prefix");
        Inside(end, "subnets").GetProperty("control").GetString().ShouldBe("text");
    }

    [Theory]
    [InlineData("choices/code?of=suites&name=x", "customers, sites, gateways or platforms")]
    [InlineData("choices/proposals/read?of=AH&text=x", "IKE or ESP")]
    [InlineData("choices/colours", "customers")]
    public async Task What_is_not_offered_is_refused_with_what_is(string path, string right)
    {
        var (status, body) = await demo.Call("ines", HttpMethod.Get, path);
        status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        body.GetProperty("right").GetString()!.ShouldContain(right);
    }

    private async Task<JsonElement> AnswerAsync(string path)
    {
        var (status, body) = await demo.Call("ines", HttpMethod.Get, path);
        status.ShouldBe(HttpStatusCode.OK, path);
        return body;
    }

    private static IEnumerable<string?> Codes(JsonElement at, string list) =>
        at.GetProperty(list).EnumerateArray().Select(c => c.GetProperty("code").GetString());

    private static JsonElement Field(JsonElement form, string key) => Named(form.GetProperty("fields"), key);

    private static JsonElement Inside(JsonElement field, string key) => Named(field.GetProperty("inside"), key);

    private static JsonElement Named(JsonElement fields, string key) =>
        fields.EnumerateArray().Single(f => f.GetProperty("key").GetString() == key);
}
