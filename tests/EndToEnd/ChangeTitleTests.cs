using Shouldly;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>What a change is called when nobody gives it a title. Nothing is kept here: it is only looked at.</summary>
public class ChangeTitleTests(DemoService demo) : IClassFixture<DemoService>
{
    [Fact]
    public async Task A_title_names_what_is_added_and_removed_at_both_ends()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        async Task<string> TitleAsync(string tunnel, DraftSubnets given) =>
            (await ines.LookAsync(given with { Tunnel = tunnel, End = "A", Reason = "asked for" }, Ct)).Title;
        (await TitleAsync("BRI-PETHER", new() { Add = ["10.61.40.0/24"], AddOther = ["10.62.9.0/26"] })).ShouldBe(
            "Add cold store and 10.62.9.0/26 to BRI-PETHER"
        );
        (await TitleAsync("BRI-PETHER", new() { AddOther = ["10.62.9.0/26"] })).ShouldBe(
            "Add 10.62.9.0/26 to BRI-PETHER"
        );
        (await TitleAsync("BRI-NETTLE", new() { Add = ["10.61.40.0/24"], RemoveOther = ["10.62.13.0/24"] })).ShouldBe(
            "Add cold store to and remove laboratory from BRI-NETTLE"
        );
    }

    private static CancellationToken Ct => TestContext.Current.CancellationToken;
}
