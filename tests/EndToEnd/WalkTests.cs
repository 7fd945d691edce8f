using Microsoft.Playwright;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// The five-minute walk of the README, line by line as it is printed there, and its middle part in the browser.
/// </summary>
public class WalkTests(DemoProcess demo) : IClassFixture<DemoProcess>
{
    [Fact]
    public async Task The_walk_in_the_readme_can_be_done_as_it_stands()
    {
        var readme = await File.ReadAllTextAsync(Path.Combine(RunningService.Root, "README.md"), Ct);
        var walk = readme[
            readme.IndexOf("## Five minutes", StringComparison.Ordinal)..readme.IndexOf(
                "## Pictures",
                StringComparison.Ordinal
            )
        ];
        var lines = walk.Split('\n')
            .Where(l => l.StartsWith("./vellumkeep ", StringComparison.Ordinal))
            .Select(l => l["./vellumkeep ".Length..])
            .ToArray();
        var browser = Array.FindIndex(lines, l => l.StartsWith("change submit", StringComparison.Ordinal)) + 1;
        var said = new Dictionary<string, string>();
        foreach (var line in lines[..browser])
        {
            var (status, output, error) = await demo.Command("ines", line);
            // What is refused on purpose is refused with the reason; anything else is done, or done and something
            // blocks.
            if (line.Contains("10.62.30.0/26"))
                (status, error).ShouldSatisfyAllConditions(
                    r => r.status.ShouldBe(2),
                    r => r.error.ShouldContain("would overlap")
                );
            else
                status.ShouldBeOneOf(0, 1);
            said[line] = output;
        }

        said.Single(s => s.Key.StartsWith("tunnel rehearse", StringComparison.Ordinal))
            .Value.ShouldContain("NO_PROPOSAL_CHOSEN");
        var change = lines[browser - 1].Split(' ')[^1];
        walk.ShouldContain($"open {change} under Changes");

        using var playwright = await Playwright.CreateAsync();
        await using var chromium = await RunningService.BrowserAsync(playwright);
        var page = await chromium.NewPageAsync(
            new()
            {
                ViewportSize = new() { Width = 1280, Height = 800 },
                BaseURL = demo.Service.Url.ToString(),
            }
        );
        page.SetDefaultTimeout(45_000);
        await page.GotoAsync("/");
        await page.GetByLabel("Name").FillAsync("tomas");
        await page.GetByLabel("Password").FillAsync("cold-store-2");
        await page.Keyboard.PressAsync("Enter");
        await page.GetByRole(AriaRole.Link, new() { Name = "Changes" }).ClickAsync();
        await page.GetByRole(AriaRole.Link, new() { Name = change }).ClickAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Approve" }).ClickAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Begin the work" }).ClickAsync();
        await page.GetByLabel("Remark, what happened").FillAsync("the modem is silent");
        await page.GetByRole(AriaRole.Button, new() { Name = "Failed", Exact = true }).ClickAsync();
        await page.Locator(".verdict").GetByText("Step 1 failed").WaitForAsync();
        var (skipped, otherwise) = (false, false);
        for (var left = await page.Locator(".step").CountAsync(); left > 0; left--)
        {
            var now = page.Locator(".athand");
            var (number, text) = (await now.GetAttributeAsync("aria-label"), await now.InnerTextAsync());
            if (text.Contains("Add 10.61.40.0/24 to the remote subnets"))
            {
                await page.GetByLabel("it was set otherwise").CheckAsync();
                await page.GetByLabel("Set instead").FillAsync("10.61.40.0/25");
                await page.GetByLabel("Because").FillAsync("only the lower half is in use");
                otherwise = true;
            }

            var skip = !skipped && text.Contains("Check that it fails now");
            if (skip)
                await page.GetByLabel("Remark, what happened").FillAsync("nobody at the cave yet");
            skipped |= skip;
            if (await page.GetByLabel("or why there is no proof").CountAsync() > 0)
                await page.GetByLabel("or why there is no proof").FillAsync("a trial");
            await page.GetByRole(AriaRole.Button, new() { Name = skip ? "Skip" : "Done", Exact = true }).ClickAsync();
            await page.Locator($".athand[aria-label='{number}']")
                .WaitForAsync(new() { State = WaitForSelectorState.Hidden });
        }

        (skipped, otherwise).ShouldBe((true, true));
        await page.GetByRole(AriaRole.Button, new() { Name = "Close: record as built" }).ClickAsync();
        await page.Locator(".verdict").GetByText("10.61.40.0/25").First.WaitForAsync();

        foreach (var line in lines[browser..])
            said[line] = (await demo.Command("ines", line)).Out;
        said[lines[browser]].ShouldContain("PAIR-06");
        var history = said[lines.Last(l => l.StartsWith("tunnel history", StringComparison.Ordinal))];
        history.ShouldContain($"close {change}");
        history.ShouldContain("10.61.40.0/25");
        // The sheet came in without its four unreadable rows, and what it brought is found.
        said[lines.Single(l => l.StartsWith("import", StringComparison.Ordinal) && l.Contains("--leave-out"))]
            .ShouldContain("New 15");
        said[lines[^1]].ShouldContain("PEN-HEATHER");
    }
}
