using Microsoft.Playwright;
using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd;

public partial class ConsoleTests
{
    /// <summary>
    /// Number 9 of the doors: a double press on whatever writes does one thing, and nothing on the page says otherwise.
    /// </summary>
    [Fact]
    public async Task A_double_press_does_one_thing_whatever_it_is_on()
    {
        var url = "";
        await With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/MOS-STORE-1");
            await page.GetByRole(AriaRole.Link, new() { Name = "Plan a change" }).ClickAsync();
            await page.GetByLabel("Prefixes to add", new() { Exact = true }).FillAsync("10.61.44.0/24 ");
            await page.GetByLabel("Reason").FillAsync("pressed twice");
            await page.GetByText("Nothing is kept yet.").WaitForAsync();
            // Drafted and sent.
            await TwiceAsync(page, Button(page, "Send for review"), 2);
            await page.GetByText("You cannot approve it").WaitForAsync();
            url = page.Url;
            await page.GetByLabel("Remark", new() { Exact = true }).FillAsync("once");
            await TwiceAsync(page, Button(page, "Add remark"), 1);
            await Button(page, "set it").ClickAsync();
            await page.GetByLabel("begins").FillAsync($"{DateTime.UtcNow.AddDays(2):yyyy-MM-dd}T22:00");
            await page.GetByLabel("minutes").FillAsync("600");
            await TwiceAsync(page, Button(page, "Set"), 1);
        });
        await With("tomas", async page =>
        {
            await page.GotoAsync(url);
            await TwiceAsync(page, Button(page, "Approve"), 1);
            // What stands under the pointer then is not pressed by the second press.
            await page.Locator(".sub").GetByText("approved by tomas").WaitForAsync();
            await Button(page, "Begin the work").ClickAsync();
            await page.GetByLabel("Why outside the window").FillAsync("to see");
            await TwiceAsync(
                page,
                page.GetByRole(AriaRole.Dialog).GetByRole(AriaRole.Button, new() { Name = "Begin the work" }),
                1
            );
            await page.Locator(".athand").WaitForAsync();
            await ProveAsync(page);
            await TwiceAsync(
                page,
                page.Locator(".athand").GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }),
                1
            );
        });
        await With("ines", async page =>
        {
            await page.GotoAsync("/access");
            await page.GetByPlaceholder("laptop").FillAsync("twice");
            await TwiceAsync(page, Button(page, "Make a token"), 1);
            await TwiceAsync(page, Button(page, "End it").Last, 1);
            await page.GotoAsync("/tunnels?state=planned");
            await Button(page, "save this filter").ClickAsync();
            await page.GetByPlaceholder("blocks at Brindlecombe").FillAsync("twice");
            // A filter is no record: only that nothing is refused can be seen.
            await TwiceAsync(page, Button(page, "Save"), 0);
        });
    }

    private static ILocator Button(IPage page, string name) =>
        page.GetByRole(AriaRole.Button, new() { Name = name, Exact = true });

    /// <summary>Presses twice as fast as a hand can; so many commits come of it, and nothing is refused.</summary>
    private async Task TwiceAsync(IPage page, ILocator button, int commits)
    {
        var before = await LastCommitAsync();
        await button.DblClickAsync();
        for (var i = 0; i < 100 && await LastCommitAsync() < before + commits; i++)
            await page.WaitForTimeoutAsync(50);
        // Long enough for a second act to have come through.
        await page.WaitForTimeoutAsync(700);
        (await LastCommitAsync() - before).ShouldBe(commits, $"{button}");
        (await page.Locator(".problem[role=alert]").AllInnerTextsAsync()).ShouldBeEmpty($"{button}");
    }

    private async Task<long> LastCommitAsync()
    {
        var (_, page) = await demo.Call("odile", HttpMethod.Get, "history?most=1");
        return page.GetProperty("items")[0].GetProperty("number").GetInt64();
    }
}
