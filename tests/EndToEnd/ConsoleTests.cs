using Microsoft.Playwright;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>The real console in headless Chromium, by what a person sees and presses.</summary>
public partial class ConsoleTests(DemoService demo) : IClassFixture<DemoService>
{
    private async Task With(string who, Func<IPage, Task> use)
    {
        using var playwright = await Playwright.CreateAsync();
        await using var browser = await RunningService.BrowserAsync(playwright);
        var page = await browser.NewPageAsync(
            new()
            {
                ViewportSize = new() { Width = 1280, Height = 800 },
                BaseURL = demo.Service.Url.ToString(),
            }
        );
        page.SetDefaultTimeout(45_000);
        var errors = new List<string>();
        page.PageError += (_, e) => errors.Add(e);
        await page.GotoAsync("/");
        await page.GetByLabel("Name").FillAsync(who);
        await page.GetByLabel("Password").FillAsync(RunningService.Password(who));
        await page.Keyboard.PressAsync("Enter");
        await page.GetByText("Sign out").WaitForAsync();
        await use(page);
        errors.ShouldBeEmpty();
    }

    [Fact]
    public Task The_tunnel_page_answers_above_the_fold_and_by_keyboard() => With("ines", async page =>
        {
            await page.Keyboard.PressAsync("/");
            await page.Keyboard.TypeAsync("10.61.8.20");
            // Several records hold that address, tunnels first: Enter puts the first at hand, and Enter again opens it.
            await page.Locator("a.hit", new() { HasText = "BRI-ASHLOW" }).WaitForAsync();
            await page.Keyboard.PressAsync("Enter");
            await page.Locator("a.hit:focus", new() { HasText = "BRI-ASHLOW" }).WaitForAsync();
            await page.Keyboard.PressAsync("Enter");
            var verdict = page.Locator(".verdict");
            (await verdict.InnerTextAsync()).ShouldStartWith(
                "Comes up for 1 of 2 pairs when B initiates; A responds only. Drops 60 minutes after it comes up"
            );
            (
                await page.GetByRole(AriaRole.Group, new() { Name = "Drawing of both ends of BRI-ASHLOW" })
                    .BoundingBoxAsync()
            )!.Y.ShouldBeLessThan(300);
            (await page.Locator(".compare tbody tr").First.BoundingBoxAsync())!.Y.ShouldBeLessThan(700);
            (await page.Locator(".compare tbody tr").CountAsync()).ShouldBe(5);
            await page.Keyboard.PressAsync("v");
            await page.GetByText("show those").WaitForAsync();
            (await page.Locator(".compare tbody tr").CountAsync()).ShouldBeGreaterThan(15);
            await page.GetByRole(AriaRole.Link, new() { Name = "Pair grid" }).ClickAsync();
            await page.GetByText("no inbound rule", new() { Exact = true }).WaitForAsync();
            // The address of the view opens the same view.
            await page.ReloadAsync();
            await page.GetByText("no inbound rule", new() { Exact = true }).WaitForAsync();
        });

    [Fact]
    public Task The_ladder_stops_where_it_happens_with_what_would_mend_it_beside_and_a_finding_is_accepted() =>
        With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/LAR-HEATH?tab=rehearsal");
            var ladder = page.Locator(".ladder");
            await ladder.GetByText("Stops here. A refuses.").WaitForAsync();
            (await ladder.BoundingBoxAsync())!.Y.ShouldBeLessThan(300);
            (await ladder.TextContentAsync())!.ShouldContain("6 · if fixed: packets of 2 pairs");
            await page.GetByRole(AriaRole.Link, new() { Name = "A initiates" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "A initiates, IKEv2" }).WaitForAsync();
            await page.GotoAsync("/findings?code=STR-09");
            await page.GetByText(new System.Text.RegularExpressions.Regex("^[0-9]+, worst first")).WaitForAsync();
            var count = await page.Locator(".finding").CountAsync();
            await page.GetByText("Why it matters").First.ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Accept", Exact = true }).First.ClickAsync();
            var dialog = page.GetByRole(AriaRole.Dialog);
            await dialog.GetByLabel("Why it can stay").FillAsync("gets a new platform in spring");
            await dialog.GetByRole(AriaRole.Button, new() { Name = "Accept it", Exact = true }).ClickAsync();
            (await dialog.GetByRole(AriaRole.Alert).InnerTextAsync()).ShouldContain("until");
            (await dialog.GetByLabel("Why it can stay").InputValueAsync()).ShouldBe("gets a new platform in spring");
            await dialog.GetByRole(AriaRole.Spinbutton).First.ClickAsync();
            await page.Keyboard.TypeAsync(DateTime.UtcNow.AddDays(90).ToString("yyyyMMdd"));
            await dialog.GetByRole(AriaRole.Button, new() { Name = "Accept it", Exact = true }).ClickAsync();
            await page.GetByText("1 accepted").First.WaitForAsync();
            (await page.Locator(".finding").CountAsync()).ShouldBe(count - 1);
        });

    [Fact]
    public Task Values_are_confirmed_and_corrected_in_their_rows_and_a_conflict_keeps_what_was_typed() =>
        With("ines", async page =>
        {
            // Without the line of events: what the other one writes must not reach the page before the press.
            await page.RouteAsync("**/api/v1/events**", r => r.AbortAsync());
            await page.GotoAsync("/tunnels/QUI-OTT?rows=all");
            await page.GetByRole(AriaRole.Button, new() { Name = "ESP lifetime: correct at A" }).ClickAsync();
            var form = page.GetByRole(AriaRole.Form, new() { Name = "ESP lifetime at A" });
            await form.GetByLabel("What A really has: time").FillAsync("30");
            await form.GetByLabel("What A really has: unit").SelectOptionAsync("min");
            await form.GetByLabel("What A really has: margin").FillAsync("10 %");
            await form.GetByLabel("Why the record was wrong").FillAsync("read on the device");
            (await demo.Command("tomas", "tunnel describe QUI-OTT --purpose 'watched at night'")).Status.ShouldBe(0);
            var press = form.GetByRole(AriaRole.Button, new() { Name = "Correct at A" });
            await press.ClickAsync();
            (await form.GetByRole(AriaRole.Alert).InnerTextAsync()).ShouldContain("QUI-OTT was changed by tomas");
            (await form.GetByLabel("What A really has: time").InputValueAsync()).ShouldBe("30");
            // The page behind has read the new version, so that the same press now goes through.
            await page.WaitForTimeoutAsync(500);
            await press.ClickAsync();
            await form.WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            await page.GetByRole(AriaRole.Cell, new() { NameRegex = new("30 min, rekey 10 % before set") })
                .WaitForAsync();
            await page.GetByLabel("Seen at B: all of them").CheckAsync();
            await page.GetByLabel("PFS: seen at A").CheckAsync();
            await page.GetByRole(AriaRole.Button, new() { NameRegex = new("^Confirm \\d+ values") }).ClickAsync();
            await page.GetByText("values of QUI-OTT confirmed").First.WaitForAsync();
            var (_, output, _) = await demo.Command("ines", "tunnel show QUI-OTT --json");
            output.ShouldContain($"read {DateTime.UtcNow:yyyy-MM-dd} by ines");
        });

    [Fact]
    public async Task On_its_page_a_new_tunnel_takes_the_address_that_was_pending_and_has_its_key_made_and_shown() =>
        await With("ines", async page =>
        {
            await page.GotoAsync("/changes/THR-0001");
            var pending = page.GetByRole(AriaRole.Region, new() { Name = "Pending values" });
            await pending.GetByLabel("outer address of plates-gw2").FillAsync("203.0.113.999");
            await pending.GetByRole(AriaRole.Button, new() { Name = "Fill in" }).ClickAsync();
            (await page.GetByRole(AriaRole.Alert).InnerTextAsync()).ShouldContain("203.0.113.999");
            await pending.GetByLabel("outer address of plates-gw2").FillAsync("203.0.113.172");
            await pending.GetByRole(AriaRole.Button, new() { Name = "Fill in" }).ClickAsync();
            await pending.WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            await page.Locator(".step").GetByText("203.0.113.172", new() { Exact = true }).First.WaitForAsync();
            var keys = page.GetByRole(AriaRole.Region, new() { Name = "Keys" });
            await keys.GetByRole(AriaRole.Button, new() { Name = "Make it" }).ClickAsync();
            await keys.GetByText("prepared").WaitForAsync();
            await keys.GetByRole(AriaRole.Button, new() { Name = "Show it" }).ClickAsync();
            await keys.GetByLabel("Reason to show it").FillAsync("entering it at press-gw");
            await keys.GetByRole(AriaRole.Button, new() { Name = "Show", Exact = true }).ClickAsync();
            var key = await keys.Locator(".key code").InnerTextAsync();
            key.Replace(" ", "").Length.ShouldBe(52);
            // It goes with the page: nothing keeps it.
            await page.ReloadAsync();
            await keys.GetByText("prepared").WaitForAsync();
            (await page.ContentAsync()).ShouldNotContain(key);
        });

    [Fact]
    public Task No_page_scrolls_sideways_at_1280_and_none_has_a_barrier() => With("tomas", async page =>
        {
            var axe = await File.ReadAllTextAsync(
                Path.Combine(RunningService.Root, "src/console/node_modules/axe-core/axe.min.js"),
                Ct
            );
            foreach (
                var path in new[]
                {
                    "/",
                    "/tunnels",
                    "/tunnels/BRI-ASHLOW?rows=all",
                    "/tunnels/TID-SEAL?tab=pairs",
                    "/tunnels/BRI-DEPOT?tab=history",
                    "/tunnels/SAL-WHIMBREL?tab=rehearsal",
                    "/tunnels/BRI-ASHLOW?tab=timeline",
                    "/findings",
                    "/customers/SAL",
                    "/customers/BRI?tab=addresses",
                    "/sites",
                    "/sites/BRI-CHURN",
                    "/offers/SKE-PARTNERS",
                    "/edit/tunnels/BRI-ASHLOW",
                    "/new/gateways",
                    "/search?q=creamery",
                    "/history",
                    "/people",
                    "/access",
                    "/tunnels?asOf=2026-11-17",
                    "/gateways/churn-gw1",
                    "/platforms",
                    "/platforms/nimbolt-hosted@1",
                    "/suites/BRI-STANDARD@3",
                    "/calculations",
                    "/changes",
                    "/changes/BRI-0003",
                    "/changes/BRI-0002",
                    "/changes/TID-0002",
                    "/changes/THR-0001",
                    "/changes/new-tunnel",
                    "/gateways/churn-gw1/plan",
                    "/tunnels/BRI-PETHER/plan",
                    "/import",
                    "/tunnels/NO-SUCH",
                    "/keys",
                    "/customers",
                    "/gateways",
                    "/new/tunnels",
                    "/changes?view=calendar",
                    "/nowhere",
                }
            )
                await NoBarrierAsync(page, path, axe);
        });

    /// <summary>A page that does not scroll sideways and has nothing that WCAG 2.2 forbids at A and AA.</summary>
    private static async Task NoBarrierAsync(IPage page, string path, string axe, Func<Task>? open = null)
    {
        await page.GotoAsync(path);
        await RunningService.SettledAsync(page);
        if (open is not null)
        {
            await open();
            await page.WaitForTimeoutAsync(600);
        }

        (await page.EvaluateAsync<bool>("document.documentElement.scrollWidth <= window.innerWidth")).ShouldBeTrue(
            path
        );
        await page.EvaluateAsync(axe);
        var barriers = await page.EvaluateAsync<string[]>(
            "axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag22aa'] }).then(r => r.violations.map(v => v.id + ': ' + "
                + "v.nodes[0].html.slice(0, 160)))"
        );
        barriers.ShouldBeEmpty(path);
    }
}
