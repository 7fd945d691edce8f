using Microsoft.Playwright;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>The real console in headless Chromium, by what a person sees and presses.</summary>
public class ConsoleTests(DemoService demo) : IClassFixture<DemoService>
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
            // Three records hold that address: Enter puts the first at hand, and the arrows lead to the others.
            await page.GetByRole(AriaRole.Link, new() { Name = "BRI-ASHLOW" }).WaitForAsync();
            await page.Keyboard.PressAsync("Enter");
            await page.Locator("a.hit:focus").WaitForAsync();
            await page.Keyboard.PressAsync("ArrowDown");
            await page.Keyboard.PressAsync("Enter");
            var verdict = page.Locator(".verdict");
            (await verdict.InnerTextAsync()).ShouldStartWith(
                "Comes up when B starts; A only answers. Lost 60 minutes after it comes up"
            );
            (
                await page.GetByRole(AriaRole.Group, new() { Name = "Crossing of BRI-ASHLOW" }).BoundingBoxAsync()
            )!.Y.ShouldBeLessThan(300);
            (await page.Locator(".compare tbody tr").First.BoundingBoxAsync())!.Y.ShouldBeLessThan(700);
            (await page.Locator(".compare tbody tr").CountAsync()).ShouldBe(5);
            await page.Keyboard.PressAsync("v");
            await page.GetByText("show those").WaitForAsync();
            (await page.Locator(".compare tbody tr").CountAsync()).ShouldBeGreaterThan(15);
            await page.GetByRole(AriaRole.Link, new() { Name = "Pair grid" }).ClickAsync();
            await page.GetByText("no rule in", new() { Exact = true }).WaitForAsync();
            // The address of the view opens the same view.
            await page.ReloadAsync();
            await page.GetByText("no rule in", new() { Exact = true }).WaitForAsync();
        });

    [Fact]
    public Task The_ladder_stops_where_it_happens_with_what_would_mend_it_beside_and_a_finding_is_accepted() =>
        With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/LAR-HEATH?tab=rehearsal");
            var ladder = page.Locator(".ladder");
            await ladder.GetByText("Stops here. A refuses.").WaitForAsync();
            (await ladder.BoundingBoxAsync())!.Y.ShouldBeLessThan(300);
            (await ladder.TextContentAsync())!.ShouldContain("5 · if mended: ESP");
            await page.GetByRole(AriaRole.Link, new() { Name = "A starts" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "A starts, IKEv2" }).WaitForAsync();
            await page.GotoAsync("/findings?code=STR-09");
            await page.GetByText(new System.Text.RegularExpressions.Regex("^[0-9]+ to work off")).WaitForAsync();
            var count = await page.Locator(".finding").CountAsync();
            await page.GetByText("Why it matters").First.ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Accept it as it stands" }).First.ClickAsync();
            var dialog = page.GetByRole(AriaRole.Dialog);
            await dialog.GetByLabel("Why it may stay").FillAsync("moved to a new platform in spring");
            await dialog.GetByLabel("Until").FillAsync("31.3.");
            await dialog.GetByRole(AriaRole.Button, new() { Name = "Accept it", Exact = true }).ClickAsync();
            (await dialog.GetByRole(AriaRole.Alert).InnerTextAsync()).ShouldContain("is not a date");
            (await dialog.GetByLabel("Why it may stay").InputValueAsync()).ShouldBe(
                "moved to a new platform in spring"
            );
            await dialog.GetByLabel("Until").FillAsync(DateTime.UtcNow.AddDays(90).ToString("yyyy-MM-dd"));
            await dialog.GetByRole(AriaRole.Button, new() { Name = "Accept it", Exact = true }).ClickAsync();
            await page.GetByText("1 accepted").First.WaitForAsync();
            (await page.Locator(".finding").CountAsync()).ShouldBe(count - 1);
        });

    [Fact]
    public Task A_value_is_confirmed_and_a_conflict_keeps_what_was_typed() => With("ines", async page =>
        {
            // Without the line of events: what the other one writes must not reach the page before the press.
            await page.RouteAsync("**/api/v1/events**", r => r.AbortAsync());
            await page.GotoAsync("/tunnels/QUI-OTT?rows=all");
            await page.GetByRole(AriaRole.Button, new() { NameRegex = new("^ESP lifetime") }).ClickAsync();
            var dialog = page.GetByRole(AriaRole.Dialog);
            await dialog.GetByLabel("it has something else").CheckAsync();
            await dialog.GetByLabel("What A really has").FillAsync("30 min");
            await dialog.GetByLabel("Why the record was wrong").FillAsync("read on the device");
            (await demo.Command("tomas", "tunnel describe QUI-OTT --purpose 'watched at night'")).Status.ShouldBe(0);
            await dialog.GetByRole(AriaRole.Button, new() { Name = "Correct at A" }).ClickAsync();
            (await dialog.GetByRole(AriaRole.Alert).InnerTextAsync()).ShouldContain("QUI-OTT was changed by tomas");
            (await dialog.GetByLabel("What A really has").InputValueAsync()).ShouldBe("30 min");
            // The page behind has read the new version, so that the same press now goes through.
            await page.WaitForTimeoutAsync(500);
            await dialog.GetByRole(AriaRole.Button, new() { Name = "Correct at A" }).ClickAsync();
            await dialog.WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            await page.GetByRole(AriaRole.Cell, new() { NameRegex = new("30 min set") }).WaitForAsync();
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
            await keys.GetByLabel("Why it has to be seen").FillAsync("entering it at press-gw");
            await keys.GetByRole(AriaRole.Button, new() { Name = "Show", Exact = true }).ClickAsync();
            var key = await keys.Locator(".key code").InnerTextAsync();
            key.Replace(" ", "").Length.ShouldBe(52);
            // It goes with the page: nothing keeps it.
            await page.ReloadAsync();
            await keys.GetByText("prepared").WaitForAsync();
            (await page.ContentAsync()).ShouldNotContain(key);
        });

    [Fact]
    public async Task A_gateway_is_planned_onto_another_platform_from_its_page_and_every_setting_says_what_becomes_of_it() =>
        await With("odile", async page =>
        {
            await page.GotoAsync("/gateways/tid-seal-gw");
            await page.GetByRole(AriaRole.Link, new() { Name = "Plan a change" }).ClickAsync();
            await page.GetByLabel("New platform profile").FillAsync("teasel-minor@1");
            await page.GetByLabel("What it is for").FillAsync("past support");
            await page.GetByRole(AriaRole.Button, new() { Name = "Make the plan" }).ClickAsync();
            var carried = page.GetByRole(AriaRole.Region, new() { Name = "Carried over" });
            await carried
                .GetByRole(
                    AriaRole.Row,
                    new() { NameRegex = new("IKE proposals DES-CBC.*AES-128-CBC.*this is the strongest") }
                )
                .WaitForAsync();
            // Lifetimes are typed in minutes there.
            await carried
                .GetByRole(AriaRole.Row, new() { NameRegex = new("IKE lifetime 86,400 s .*1,440 min") })
                .WaitForAsync();
            await page.GetByText("TID-SEAL carries nothing from step").First.WaitForAsync();
        });

    [Fact]
    public async Task A_change_goes_from_the_tunnel_page_through_review_and_run_sheet_to_the_record()
    {
        var url = "";
        await With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/BRI-NETTLE");
            await page.GetByRole(AriaRole.Link, new() { Name = "Plan a change" }).ClickAsync();
            await page.GetByLabel("Prefixes").FillAsync("10.61.40.1/24");
            await page.GetByLabel("What it is for").FillAsync("the cold store");
            await page.GetByRole(AriaRole.Button, new() { Name = "Make the plan" }).ClickAsync();
            (await page.GetByRole(AriaRole.Alert).InnerTextAsync()).ShouldContain("10.61.40.0/24 for the network");
            await page.GetByLabel("Prefixes").FillAsync("10.61.40.0/24");
            await page.GetByRole(AriaRole.Button, new() { Name = "Make the plan" }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Send for review" }).ClickAsync();
            await page.GetByText("You cannot approve it: needs the role reviewer.").WaitForAsync();
            url = page.Url;
        });
        await With("tomas", async page =>
        {
            await page.GotoAsync(url);
            await page.GetByRole(AriaRole.Button, new() { Name = "Approve" }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Begin the work" }).ClickAsync();
            await page.GetByLabel("Remark, what was seen").FillAsync("the way in is shut");
            await page.GetByRole(AriaRole.Button, new() { Name = "Failed", Exact = true }).ClickAsync();
            await page.Locator(".verdict").GetByText("Step 1 failed: the way in is shut.").WaitForAsync();
            var renamed = false;
            for (var left = await page.Locator(".step").CountAsync(); left > 0; left--)
            {
                var number = await page.Locator(".athand").GetAttributeAsync("aria-label");
                // What is at hand is of this step alone: one value to each number, and nothing said of another attempt.
                (
                    await page.Locator(".athand kbd").GetByText("1", new() { Exact = true }).CountAsync()
                ).ShouldBeLessThan(2, number);
                (await page.GetByLabel("Remark, what was seen").InputValueAsync()).ShouldBeEmpty(number);
                if (number!.StartsWith("Step 1,", StringComparison.Ordinal))
                    await page.GetByLabel("or a file")
                        .SetInputFilesAsync(
                            new FilePayload
                            {
                                Name = "way in.txt",
                                MimeType = "text/plain",
                                Buffer = "it answers"u8.ToArray(),
                            }
                        );
                if (
                    await page.Locator(".athand .value").GetByText("name", new() { Exact = true }).CountAsync() > 0
                    && !renamed
                )
                {
                    renamed = true;
                    await page.GetByLabel("it was set otherwise").CheckAsync();
                    await page.GetByLabel("Planned")
                        .SelectOptionAsync(
                            new SelectOptionValue
                            {
                                Label = await page.Locator(".athand .value", new() { HasText = "name" })
                                    .Locator("code")
                                    .First.InnerTextAsync(),
                            }
                        );
                    await page.GetByLabel("Set instead").FillAsync("cold-in");
                    await page.GetByLabel("Because").FillAsync("eight characters at most");
                }

                await page.GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }).ClickAsync();
                await page.Locator($".athand[aria-label='{number}']")
                    .WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            }

            await page.GetByRole(AriaRole.Button, new() { Name = "Close: record as built" }).ClickAsync();
            await page.Locator(".verdict").GetByText("eight characters at most").WaitForAsync();
            var kept = await page.RunAndWaitForDownloadAsync(() =>
                page.GetByRole(AriaRole.Link, new() { Name = "way in.txt" }).ClickAsync()
            );
            (await File.ReadAllTextAsync(await kept.PathAsync(), Ct)).ShouldBe("it answers");
            await page.GotoAsync("/tunnels/BRI-NETTLE?tab=history");
            await page.GetByRole(AriaRole.Row, new() { NameRegex = new("tomas close BRI-00") }).WaitForAsync();
            await page.GetByText("10.61.40.0/24", new() { Exact = true }).First.WaitForAsync();
        });
    }

    [Fact]
    public async Task Urgent_work_begins_on_a_name_is_reviewed_afterwards_and_what_it_skips_is_planned_from_its_own_steps()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var change = await ines.DraftAsync(
            new("SAL-PIERS", null, null, null, "Bounce the uplink", "The line is down.", null, null)
            {
                Kind = "free",
                Steps =
                [
                    new(
                        "switch",
                        "B",
                        "Take the uplink of Long Spit down and up",
                        2,
                        "The tunnel falls for a moment.",
                        null
                    ),
                    new("prove", "us", "Look at the tunnel at noon", 5, null, null),
                ],
            },
            Ct
        );
        await With("ines", async page =>
        {
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByText("stops traffic").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Ask to begin urgently" }).ClickAsync();
            await page.GetByLabel("Who has to confirm it").FillAsync("ines");
            await page.GetByLabel("Why it cannot wait").FillAsync("the pier is cut off");
            await page.Locator("form.told")
                .GetByRole(AriaRole.Button, new() { Name = "Ask to begin urgently" })
                .ClickAsync();
            await page.GetByText("who wrote it").WaitForAsync();
            await page.GetByLabel("Who has to confirm it").FillAsync("tomas");
            await page.Locator("form.told")
                .GetByRole(AriaRole.Button, new() { Name = "Ask to begin urgently" })
                .ClickAsync();
            await page.GetByText("asked tomas to let it begin urgently").WaitForAsync();
        });
        await With("tomas", async page =>
        {
            await page.GotoAsync("/");
            await page.GetByText("ines asks you to let").WaitForAsync();
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Button, new() { Name = "Confirm: begin now" }).ClickAsync();
            await page.Locator("form.told")
                .GetByRole(AriaRole.Button, new() { Name = "Confirm: begin now" })
                .ClickAsync();
            await page.GetByText("Urgent, confirmed by tomas: the pier is cut off.").WaitForAsync();
        });
        await With("ines", async page =>
        {
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }).ClickAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Step 2, at hand" }).WaitForAsync();
            await page.GetByLabel("Remark, what was seen").FillAsync("nobody is there before noon");
            await page.GetByRole(AriaRole.Button, new() { Name = "Skip", Exact = true }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Close: record as built" }).ClickAsync();
            await page.GetByRole(AriaRole.Link, new() { Name = "Plan what is left" }).ClickAsync();
            (await page.GetByLabel("What it is for").InputValueAsync()).ShouldContain("nobody is there before noon");
            (await page.Locator("textarea").InputValueAsync()).ShouldBe("prove us Look at the tunnel at noon");
            await page.GetByRole(AriaRole.Button, new() { Name = "Make the plan" }).ClickAsync();
            await page.GetByText("1 step on SAL-PIERS, written by hand").WaitForAsync();
        });
        await With("tomas", async page =>
        {
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Button, new() { Name = "Reviewed afterwards" }).ClickAsync();
            await page.Locator("form.told")
                .GetByRole(AriaRole.Button, new() { Name = "Reviewed afterwards" })
                .ClickAsync();
            await page.GetByText("Reviewed afterwards by tomas.").WaitForAsync();
        });
    }

    /// <summary>
    /// Two engineers on one run sheet: what one ticks the other sees without asking, and neither loses a word that is
    /// being typed.
    /// </summary>
    [Fact]
    public async Task What_one_ticks_the_other_sees_as_it_comes_and_a_number_copies_a_value()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var change = await ines.DraftAsync(
            new("BRI-MILK", null, null, null, null, "perrin knows the key", null, null) { Kind = "rekey" },
            Ct
        );
        await ines.ActAsync(change.Code, "submit", new(null, null), null, Ct);
        await tomas.ActAsync(
            change.Code,
            "approve",
            new(null, null),
            (await tomas.ChangeAsync(change.Code, Ct)).Version,
            Ct
        );
        await ines.ActAsync(change.Code, "begin", new(null, null), null, Ct);
        await With("tomas", async page =>
        {
            await page.Context.GrantPermissionsAsync(["clipboard-read", "clipboard-write"]);
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Region, new() { Name = "Step 1, at hand" }).WaitForAsync();
            await page.GetByLabel("Proof: a line").FillAsync("the way in ans");
            // The other one ticks a later step.
            await ines.AttemptAsync(change.Code, 2, new("done", null, null, null, null, "made 22:01"), Ct);
            await page.Locator("#step-2").GetByText("made 22:01").WaitForAsync();
            (await page.GetByLabel("Proof: a line").InputValueAsync()).ShouldBe("the way in ans");
            await page.Locator(".verdict").GetByText($"1 of {change.Steps.Count} steps settled").WaitForAsync();
            // The step that enters the key's version is taken at hand out of turn, and its value copied by its number.
            var enters = change.Steps.First(s => s.Enter.Count > 0);
            await page.GetByRole(AriaRole.Button, new() { Name = $"Work on step {enters.Number}", Exact = true })
                .ClickAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = $"Step {enters.Number}, at hand" }).WaitForAsync();
            (await page.Locator(".athand kbd").AllInnerTextsAsync()).ShouldBe(
                enters.Enter.Select((_, i) => $"{i + 1}")
            );
            await page.Keyboard.PressAsync("1");
            await page.Locator(".athand").GetByText("copied").WaitForAsync();
            (await page.EvaluateAsync<string>("navigator.clipboard.readText()")).ShouldBe(enters.Enter[0].Text);
            // A number that is typed into a field is a number.
            await page.GetByLabel("Remark, what was seen").FillAsync("");
            await page.GetByLabel("Remark, what was seen").PressAsync("1");
            (await page.GetByLabel("Remark, what was seen").InputValueAsync()).ShouldBe("1");
        });
    }

    /// <summary>
    /// A change that would make things worse says so, names what it would add and what stays, and cannot go to review.
    /// </summary>
    [Fact]
    public Task A_plan_that_blocks_says_what_and_cannot_go_on() => With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/BRI-DEPOT/plan");
            await page.GetByRole(AriaRole.Radio, new() { NameRegex = new("^B ") }).CheckAsync();
            await page.GetByLabel("What is to go").FillAsync("10.62.20.0/24");
            await page.GetByLabel("What it is for").FillAsync("the loading bay closes");
            await page.GetByRole(AriaRole.Button, new() { Name = "Make the plan" }).ClickAsync();
            await page.GetByText("It cannot go to review yet: it would add PAIR-06 on BRI-DEPOT, which blocks.")
                .WaitForAsync();
            (await page.GetByRole(AriaRole.Button, new() { Name = "Send for review" }).CountAsync()).ShouldBe(0);
            await page.GetByRole(AriaRole.Region, new() { Name = "Findings it adds" })
                .GetByText("was degrades")
                .WaitForAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Findings it takes away" })
                .GetByText("could be one")
                .WaitForAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Findings that stay" })
                .GetByText("PAIR-11")
                .WaitForAsync();
        });

    [Fact]
    public Task No_page_scrolls_sideways_at_1280_and_none_has_a_serious_barrier() => With("tomas", async page =>
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
                    "/tunnels?on=2026-11-17",
                    "/gateways/churn-gw1",
                    "/platforms",
                    "/platforms/nimbolt-hosted@1",
                    "/suites/BRI-STANDARD@3",
                    "/sums",
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
                }
            )
            {
                await page.GotoAsync(path);
                await RunningService.SettledAsync(page);
                (
                    await page.EvaluateAsync<bool>("document.documentElement.scrollWidth <= window.innerWidth")
                ).ShouldBeTrue(path);
                await page.EvaluateAsync(axe);
                var barriers = await page.EvaluateAsync<string[]>(
                    "axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag22aa'] }).then(r => r.violations.filter(v => v.impact === 'serious' || v.impact === 'critical').map(v => v.id + ': ' + v.nodes[0].html.slice(0, 160)))"
                );
                barriers.ShouldBeEmpty(path);
            }
        });

    [Fact]
    public Task A_keepfile_is_shown_before_it_is_taken() => With("ines", async page =>
        {
            await page.GotoAsync("/import");
            await page.Locator("input[type=file]")
                .SetInputFilesAsync(
                    new FilePayload
                    {
                        Name = "broken.yaml",
                        MimeType = "text/yaml",
                        Buffer =
                            "vellumkeep: inventory/1\nsites:\n  - {code: X1, customer: BRI, name: X, networks: [{prefix: 10.9.0.1/24, name: lan}]}\n"u8.ToArray(),
                    }
                );
            await page.GetByRole(AriaRole.Button, new() { Name = "Show what it would do" }).ClickAsync();
            (await page.GetByRole(AriaRole.Alert).InnerTextAsync()).ShouldContain("Line 3");
            await page.Locator("input[type=file]")
                .SetInputFilesAsync(Path.Combine(RunningService.Root, "demo/walk/cheese-cave.yaml"));
            (
                await page.GetByRole(AriaRole.Button, new() { Name = "Import", Exact = true }).IsDisabledAsync()
            ).ShouldBeTrue();
            await page.GetByRole(AriaRole.Button, new() { Name = "Show what it would do" }).ClickAsync();
            await page.GetByText("3 would be added").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Import", Exact = true }).ClickAsync();
            await page.GetByText("Imported.").WaitForAsync();
            (await demo.Command("bram", "tunnel show BRI-CAVE")).Out.ShouldContain("cheese cave");
        });

    [Fact]
    public Task A_record_is_edited_with_what_it_does_in_sight_and_two_edits_are_brought_together() =>
        With("ines", async page =>
        {
            await page.GotoAsync("/edit/sites/BRI-PETHER");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^name"))
                .First.FillAsync("Pethermead dairy");
            await page.GetByText("No finding comes or goes.").WaitForAsync();
            // Somebody else is faster, with another name and a note.
            using var tomas = await demo.Service.ClientAsync("tomas");
            await tomas.WriteAsync(
                "sites",
                "BRI-PETHER",
                (await tomas.FormAsync("sites", "BRI-PETHER", null, Ct)).Version,
                new(null, null, [new("name", "Pethermead works"), new("notes", "ring twice")], null),
                false,
                Ct
            );
            await page.GetByText("tomas, just now: describe").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Write it" }).ClickAsync();
            await page.GetByText("One value was altered by both: choose.").WaitForAsync();
            (await page.Locator(".merge tbody tr").AllInnerTextsAsync())
                .Select(r => string.Join(" | ", r.Split('\t').Select(c => c.Trim())))
                .ShouldBe([
                    "name | Pethermead creamery | Pethermead works | Pethermead dairy",
                    "notes | nothing | ring twice | left as it was",
                ]);
            await page.GetByRole(AriaRole.Button, new() { Name = "Go on with these" }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Write it" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "BRI-PETHER Pethermead dairy" }).WaitForAsync();
            await page.GetByText("ring twice", new() { Exact = true }).First.WaitForAsync();
            // Two versions against each other, and the page as it was before.
            await page.GetByRole(AriaRole.Checkbox, new() { Name = "3" }).CheckAsync();
            await page.GetByRole(AriaRole.Checkbox, new() { Name = "1" }).CheckAsync();
            (await page.Locator(".told").InnerTextAsync()).ShouldBe(
                "name Pethermead creamery → Pethermead dairy\nnotes nothing → ring twice"
            );
        });

    [Fact]
    public Task A_new_tunnel_asks_for_little_and_a_wrong_value_is_told_where_it_stands() => With("ines", async page =>
        {
            await page.GotoAsync("/new/tunnels");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^code")).FillAsync("BRI-WHEY");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^gateway")).First.FillAsync("churn-gw1");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^gateway")).Last.FillAsync("no-such-gw");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^gateway"))
                .Last.Locator("xpath=..")
                .GetByRole(AriaRole.Alert)
                .WaitForAsync();
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^gateway")).Last.FillAsync("nettle-gw");
            await page.GetByText("Churn House to Nettlebank creamery", new() { Exact = true }).WaitForAsync();
            await page.GetByText("derived: the two sites").WaitForAsync();
            // What was typed is not lost by a click beside it.
            await page.GetByRole(AriaRole.Link, new() { Name = "Findings" }).ClickAsync();
            await page.GetByText("What you typed is not written yet.").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Stay here" }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Add the tunnel" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "BRI-WHEY Churn House to Nettlebank creamery" })
                .WaitForAsync();
            // It is the start of the next one.
            await page.GetByRole(AriaRole.Button, new() { Name = "Copy" }).ClickAsync();
            await page.GetByLabel("The code of the new tunnel").FillAsync("BRI-WHEY-2");
            await page.Keyboard.PressAsync("Enter");
            (
                await page.GetByLabel(new System.Text.RegularExpressions.Regex("^gateway")).First.InputValueAsync()
            ).ShouldBe("churn-gw1");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^gateway")).Last.FillAsync("pether-gw");
            await page.GetByRole(AriaRole.Button, new() { Name = "Add the tunnel" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "BRI-WHEY-2" }).WaitForAsync();
        });

    [Fact]
    public Task A_messy_sheet_is_matched_read_and_imported_without_its_unreadable_rows() => With("ines", async page =>
        {
            await page.GotoAsync("/import");
            await page.Locator("input[type=file]")
                .SetInputFilesAsync(Path.Combine(RunningService.Root, "demo/sheet/pennyroyal.xlsx"));
            await page.GetByText("4 are left out for 5 cells that cannot be read.").WaitForAsync();
            await page.GetByRole(AriaRole.Row, new() { NameRegex = new("^13 J soon") }).WaitForAsync();
            // A column taken for something else is read again at once.
            var column = page.GetByLabel("Column J", new() { Exact = false });
            var taken = await column.InputValueAsync();
            await column.SelectOptionAsync("nothing");
            await page.GetByText("4 cells that cannot be read").WaitForAsync();
            await column.SelectOptionAsync(taken);
            await page.GetByText("5 cells that cannot be read").WaitForAsync();
            (
                await page.GetByRole(AriaRole.Button, new() { NameRegex = new("^Import 4") }).IsDisabledAsync()
            ).ShouldBeTrue();
            await page.GetByLabel("Import the others without them").CheckAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Import 4 tunnels" }).ClickAsync();
            await page.GetByText("Imported. 15 added").WaitForAsync();
            // Drawn at once, with every tunnel on the drawing; and taken away as a file.
            await page.GotoAsync("/customers/PEN");
            foreach (var tunnel in new[] { "PEN-HEATHER", "PEN-CLOVER", "PEN-LIME", "PEN-BORAGE" })
                await page.Locator(".drawing").GetByText(tunnel, new() { Exact = true }).WaitForAsync();
            await page.Locator(".drawing").GetByText("PEN-LIME", new() { Exact = true }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { NameRegex = new("PEN-LIME") }).WaitForAsync();
        });

    [Fact]
    public Task A_lead_gives_a_password_that_opens_nothing_but_its_replacement() => With("odile", async page =>
        {
            await page.GotoAsync("/new/people");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^code")).FillAsync("wren");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^name")).FillAsync("Wren");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^roles")).FillAsync("reader for BRI");
            await page.GetByRole(AriaRole.Button, new() { Name = "Add the person" }).ClickAsync();
            await page.GetByText("Has no password yet").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Give a new password" }).ClickAsync();
            var password = await page.Locator(".told code").InnerTextAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Sign out" }).ClickAsync();
            // Exactly: until the sign-in stands there, the search field, whose label speaks of names too, would be
            // filled.
            await page.GetByLabel("Name", new() { Exact = true }).FillAsync("wren");
            await page.GetByLabel("Password").FillAsync(password);
            await page.Keyboard.PressAsync("Enter");
            await page.GetByRole(AriaRole.Heading, new() { Name = "A password of your own" }).WaitForAsync();
            await page.GetByLabel("The one you have").FillAsync(password);
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^The new one (?!again)"))
                .FillAsync("heron-ladle-quartz-eleven");
            await page.GetByLabel("The new one again").FillAsync("heron-ladle-quartz-eleven");
            await page.GetByRole(AriaRole.Button, new() { Name = "Replace the password" }).ClickAsync();
            await page.GetByText("Sign out").WaitForAsync();
            // For one customer only: others are not there, and neither is what belongs to the house.
            await page.GotoAsync("/customers");
            await page.GetByRole(AriaRole.Link, new() { Name = "BRI", Exact = true }).WaitForAsync();
            (await page.Locator("tbody tr").CountAsync()).ShouldBe(1);
            await page.GotoAsync("/sites/SAL-HARBOUR");
            await page.GetByText("There is no site 'SAL-HARBOUR'").WaitForAsync();
            await page.GotoAsync("/history");
            (await page.GetByText("SAL-").CountAsync()).ShouldBe(0);
        });
}
