using Microsoft.Playwright;
using Shouldly;
using Vellumkeep.Contract;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

public partial class ConsoleTests
{
    /// <summary>A change of its own, begun, whose steps anybody can do.</summary>
    private async Task<ChangePage> BegunAsync(string tunnel)
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var change = await ines.DraftAsync(
            new DraftFree
            {
                Tunnel = tunnel,
                Reason = "a walk",
                Steps =
                [
                    new("build", "A", "Fit the spare supply", 2, null, null),
                    new("build", "A", "Label it", 2, null, null),
                    new("record", "us", "Note its number", 1, null, null),
                ],
            },
            Ct
        );
        await ines.ActAsync(change.Code, "submit", new(null, null), null, Ct);
        var read = await tomas.ChangeAsync(change.Code, Ct);
        await tomas.ActAsync(change.Code, "approve", new(null, null), read.Version, Ct);
        return await ines.ActAsync(change.Code, "begin", new(null, null), null, Ct);
    }

    private static Task DoneAsync(IPage page) =>
        page.Locator(".athand").GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }).ClickAsync();

    /// <summary>The page says nothing about what the browser keeps of it: the browser is asked itself.</summary>
    private static async Task KeptForOfflineAsync(IPage page, string code)
    {
        const string kept = """
            async code => {
                const kept = await caches.open("run-sheet");
                const files = performance.getEntriesByType("resource").map(r => r.name).filter(n => n.includes("/assets/"));
                const wanted = ["/", "/api/v1/session", `/api/v1/changes/${code}`, ...files];
                const held = await Promise.all(wanted.map(w => kept.match(w)));
                return files.length > 0 && held.every(Boolean) && navigator.serviceWorker.controller !== null;
            }
            """;
        for (var time = 0; time < 100; time++)
        {
            if (await page.EvaluateAsync<bool>(kept, code))
                return;
            await page.WaitForTimeoutAsync(200);
        }

        throw new ShouldAssertException($"the run sheet of {code} was not kept");
    }

    /// <summary>
    /// Without a connection ticks are kept and said to be unsent, and sent in order when it is back; what a colleague
    /// recorded meanwhile is a clash that is shown, never dropped.
    /// </summary>
    [Fact]
    public async Task Ticks_without_a_connection_are_kept_and_a_clash_is_shown()
    {
        var change = await BegunAsync("SAL-GANNET");
        using var ines = await demo.Service.ClientAsync("ines");
        await With("tomas", async page =>
        {
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Region, new() { Name = "Step 1, at hand" }).WaitForAsync();
            await KeptForOfflineAsync(page, change.Code);
            await page.Context.SetOfflineAsync(true);
            await DoneAsync(page);
            await page.GetByRole(AriaRole.Region, new() { Name = "Step 2, at hand" }).WaitForAsync();
            await DoneAsync(page);
            await page.GetByText("Not sent: step 1 done, step 2 done.").WaitForAsync();
            // Opened again in a place without a connection it is all still there.
            await page.ReloadAsync();
            await page.GetByText("Not sent: step 1 done, step 2 done.").WaitForAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Step 3, at hand" }).WaitForAsync();
            // A colleague records the second step meanwhile.
            await ines.AttemptAsync(change.Code, 1, new("done", null, null, null, null), Ct);
            await ines.AttemptAsync(change.Code, 2, new("done", "labelled", null, null, null), Ct);
            await page.Context.SetOfflineAsync(false);
            var clash = page.GetByRole(AriaRole.Alert).First;
            await clash.GetByText("was recorded as done by ines").WaitForAsync();
            await clash.GetByRole(AriaRole.Button, new() { Name = "Throw mine away" }).ClickAsync();
            await page.GetByText("Step 2, which you recorded as done").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Throw mine away" }).ClickAsync();
            await page.Locator(".notsent").WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            await page.GetByRole(AriaRole.Button, new() { Name = "Sign out" }).ClickAsync();
            await page.GetByLabel("Password").WaitForAsync();
            // The page asks its worker to forget the sheet, which it does in its own time.
            await page.WaitForFunctionAsync("async () => !(await caches.has('run-sheet'))");
        });
        var read = await ines.ChangeAsync(change.Code, Ct);
        read.Steps.Select(s => s.Attempts.Count).ShouldBe([1, 1, 0, 0]);
    }

    /// <summary>A slip is taken back where it stands, and two presses are one.</summary>
    [Fact]
    public async Task Two_presses_record_one_step_and_a_slip_is_taken_back()
    {
        var change = await BegunAsync("SAL-PIERS");
        await With("ines", async page =>
        {
            await page.GotoAsync($"/changes/{change.Code}");
            var done = page.Locator(".athand").GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true });
            await done.DblClickAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Step 2, at hand" }).WaitForAsync();
            await page.Locator(".verdict").GetByText("1 of 4 steps settled").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Take step 1 back" }).ClickAsync();
            await page.Locator("#step-1").GetByText("taken back by ines").WaitForAsync();
            await page.Locator(".verdict").GetByText("0 of 4 steps settled").WaitForAsync();
        });
    }

    /// <summary>A session that ends asks for the password over the page, and what was typed is still there.</summary>
    [Fact]
    public Task A_session_that_ends_takes_nothing_that_was_typed() => With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/BRI-PETHER/plan");
            await page.GetByLabel("Reason").FillAsync("the new cold store");
            await page.Context.ClearCookiesAsync();
            await page.GetByLabel("Prefixes to add", new() { Exact = true }).FillAsync("10.61.40.0/24 ");
            var asks = page.GetByRole(AriaRole.Dialog);
            await asks.GetByLabel("Password").FillAsync(RunningService.Password("ines"));
            await asks.GetByRole(AriaRole.Button, new() { Name = "Go on" }).ClickAsync();
            await asks.WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            (await page.GetByLabel("Reason").InputValueAsync()).ShouldBe("the new cold store");
            // It is there after a reload too, until it is written or thrown away.
            await page.ReloadAsync();
            await page.GetByText("10.61.40.0/24").First.WaitForAsync();
            (await page.GetByLabel("Reason").InputValueAsync()).ShouldBe("the new cold store");
            await page.GetByRole(AriaRole.Button, new() { Name = "Cancel" }).ClickAsync();
        });

    /// <summary>What is selected in a list is done to each, and what became of each is told.</summary>
    [Fact]
    public Task Several_rows_of_a_list_are_confirmed_strengthened_and_taken_away_as_a_file() =>
        With("tomas", async page =>
        {
            await page.GotoAsync("/tunnels");
            foreach (var code in new[] { "BRI-DEPOT", "BRI-MILK" })
                await page.GetByLabel($"Select {code}", new() { Exact = true }).CheckAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Confirm", Exact = true }).ClickAsync();
            var asks = page.GetByRole(AriaRole.Dialog);
            await asks.GetByRole(AriaRole.Button, new() { Name = "Confirm 2" }).ClickAsync();
            await Assertions.Expect(asks.GetByText("values confirmed")).ToHaveCountAsync(2);
            await asks.GetByRole(AriaRole.Button, new() { Name = "Close" }).ClickAsync();
            (await demo.Command("tomas", "tunnel show BRI-MILK --json")).Out.ShouldContain(
                $"read {DateTime.UtcNow:yyyy-MM-dd} by tomas"
            );
            foreach (var code in new[] { "BRI-DEPOT", "BRI-MILK" })
                await page.GetByLabel($"Select {code}", new() { Exact = true }).CheckAsync();
            var href = await page.GetByText("these as")
                .GetByRole(AriaRole.Link, new() { Name = "CSV" })
                .GetAttributeAsync("href");
            var file = await page.APIRequest.GetAsync(href!);
            (await file.TextAsync()).TrimEnd().Split('\n').Length.ShouldBe(3);
            await page.GetByRole(AriaRole.Button, new() { Name = "Plan to strengthen" }).ClickAsync();
            await asks.GetByLabel("Reason").FillAsync("DH 14 is the weakest part");
            await asks.GetByRole(AriaRole.Button, new() { Name = "Draft 2" }).ClickAsync();
            // One is refused with its reason, or both are drafted: nothing is left without a word.
            await Assertions
                .Expect(asks.Locator(".outcomes li").Filter(new() { HasNotText = "under way" }))
                .ToHaveCountAsync(2);
            (await asks.GetByText("drafted as").CountAsync()).ShouldBeGreaterThan(0);
        });

    /// <summary>Findings are accepted together, with one reason and one day.</summary>
    [Fact]
    public Task Findings_are_accepted_together() => With("odile", async page =>
        {
            await page.GotoAsync("/findings?severity=risk&customer=SAL");
            var ticks = page.GetByLabel(new System.Text.RegularExpressions.Regex("^Select .* of SAL-"));
            await ticks.Nth(0).CheckAsync();
            await ticks.Nth(1).CheckAsync();
            await page.GetByText("2 selected").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Accept", Exact = true }).First.ClickAsync();
            var asks = page.GetByRole(AriaRole.Dialog);
            await asks.GetByLabel("Why they can stay").FillAsync("replaced in spring");
            await asks.GetByRole(AriaRole.Spinbutton).First.ClickAsync();
            await page.Keyboard.TypeAsync(DateTime.UtcNow.AddDays(60).ToString("yyyyMMdd"));
            await asks.GetByRole(AriaRole.Button, new() { Name = "Accept 2" }).ClickAsync();
            await Assertions.Expect(asks.GetByText("accepted", new() { Exact = true })).ToHaveCountAsync(2);
            await asks.GetByRole(AriaRole.Button, new() { Name = "Close" }).ClickAsync();
            await page.GetByText("2 accepted").First.WaitForAsync();
        });

    /// <summary>
    /// In the dark, and at the width of a telephone, nothing is a barrier and nothing scrolls sideways.
    /// </summary>
    [Theory]
    [InlineData(1280, ColorScheme.Dark)]
    [InlineData(320, ColorScheme.Light)]
    [InlineData(1600, ColorScheme.Light)]
    public Task No_page_is_a_barrier_in_the_dark_or_on_a_telephone(int width, ColorScheme scheme) =>
        With("tomas", async page =>
        {
            var axe = await File.ReadAllTextAsync(
                Path.Combine(RunningService.Root, "src/console/node_modules/axe-core/axe.min.js"),
                Ct
            );
            await page.SetViewportSizeAsync(width, 800);
            await page.EmulateMediaAsync(new() { ColorScheme = scheme });
            foreach (
                var path in new[]
                {
                    "/",
                    "/tunnels",
                    "/tunnels/BRI-ASHLOW?rows=all",
                    "/tunnels/SAL-WHIMBREL?tab=rehearsal",
                    "/changes/BRI-0002",
                    "/tunnels/BRI-PETHER/plan",
                    "/edit/tunnels/BRI-ASHLOW",
                    "/keys",
                    "/controls",
                    "/findings",
                    "/customers/BRI",
                    "/edit/platforms/teasel-minor@1",
                    "/gateways",
                    "/changes",
                }
            )
                await NoBarrierAsync(page, path, axe);
        });

    /// <summary>
    /// On paper a list keeps the heads of its columns, its codes in one piece, and nothing to press or tick.
    /// </summary>
    [Fact]
    public Task Lists_print_with_their_heads_and_without_what_is_pressed() => With("tomas", async page =>
        {
            await page.SetViewportSizeAsync(700, 1000);
            await page.EmulateMediaAsync(new() { Media = Media.Print });
            await page.GotoAsync("/tunnels");
            await page.GetByRole(AriaRole.Button, new() { Name = "Verdict" })
                .Or(page.GetByText("Verdict"))
                .First.WaitForAsync();
            (await page.Locator("thead").InnerTextAsync())
                .Split(['\t', '\n'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                .ShouldBe(["Tunnel", "A", "Between", "B", "Verdict", "State"]);
            (await page.Locator("main input:visible").CountAsync()).ShouldBe(0);
            (await page.Locator("main button:visible:not(.sorts)").CountAsync()).ShouldBe(0);
            var code = await page.GetByRole(AriaRole.Link, new() { Name = "LAR-BRACKEN", Exact = true })
                .BoundingBoxAsync();
            code!.Height.ShouldBeLessThan(24);
            await page.GotoAsync("/changes?view=calendar");
            await page.GetByText("BRI-0003").WaitForAsync();
            var days = await page.Locator(".calendar thead th")
                .EvaluateAllAsync<double[]>("heads => heads.map(h => Math.round(h.getBoundingClientRect().width))");
            days.Length.ShouldBe(7);
            (days.Max() - days.Min()).ShouldBeLessThanOrEqualTo(1);
        });

    /// <summary>What opens over a page or in it is no barrier either.</summary>
    [Theory]
    [InlineData(ColorScheme.Dark)]
    [InlineData(ColorScheme.Light)]
    public Task No_state_is_a_barrier(ColorScheme scheme) => With("tomas", async page =>
        {
            var axe = await File.ReadAllTextAsync(
                Path.Combine(RunningService.Root, "src/console/node_modules/axe-core/axe.min.js"),
                Ct
            );
            await page.EmulateMediaAsync(new() { ColorScheme = scheme });
            Task PressAsync(string name) =>
                page.GetByRole(AriaRole.Button, new() { Name = name, Exact = true }).ClickAsync();
            await NoBarrierAsync(page, "/tunnels/BRI-ASHLOW?rows=all", axe, async () =>
            {
                await page.GetByLabel("Seen at A: all of them").CheckAsync();
                await PressAsync("IKE lifetime: correct at B");
            });
            await NoBarrierAsync(page, "/tunnels", axe, async () =>
            {
                await page.GetByLabel("Select BRI-ASHLOW").CheckAsync();
                await PressAsync("Confirm");
            });
            await NoBarrierAsync(page, "/tunnels", axe, () => PressAsync("Columns"));
            await NoBarrierAsync(page, "/changes/BRI-0003", axe, () => page.Keyboard.PressAsync("?"));
            await NoBarrierAsync(page, "/new/gateways", axe, async () =>
            {
                await page.GetByRole(AriaRole.Combobox, new() { Name = "platform" }).FillAsync("t");
                await page.Locator("[role=listbox] [role=option]").First.WaitForAsync();
                // What stands beside the choices can still be read out.
                (await page.GetByRole(AriaRole.Heading, new() { Name = "New gateway" }).CountAsync()).ShouldBe(1);
            });
        });
}
