using Microsoft.Playwright;
using Shouldly;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

public partial class ConsoleTests
{
    [Fact]
    public async Task A_gateway_is_planned_onto_another_platform_from_its_page_and_every_setting_says_what_becomes_of_it() =>
        await With("odile", async page =>
        {
            await page.GotoAsync("/gateways/tid-seal-gw");
            await page.GetByRole(AriaRole.Link, new() { Name = "Plan a change" }).ClickAsync();
            await page.GetByRole(AriaRole.Combobox, new() { Name = "New platform profile" }).FillAsync("teasel minor");
            await page.GetByRole(AriaRole.Option, new() { NameRegex = new("^teasel-minor@1") }).ClickAsync();
            await page.GetByLabel("Reason").FillAsync("past support");
            await page.GetByRole(AriaRole.Button, new() { Name = "Keep as draft" }).ClickAsync();
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
            await page.GetByRole(AriaRole.Heading, new() { Name = "What stops, and when" }).WaitForAsync();
        });

    [Fact]
    public async Task A_change_goes_from_the_tunnel_page_through_review_and_run_sheet_to_the_record()
    {
        var url = "";
        await With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/BRI-NETTLE");
            await page.GetByRole(AriaRole.Link, new() { Name = "Plan a change" }).ClickAsync();
            var prefixes = page.GetByLabel("Prefixes to add", new() { Exact = true });
            await prefixes.FillAsync("10.61.40.1/24 ");
            await page.GetByRole(AriaRole.Alert).GetByText("10.61.40.0/24 for the network").First.WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Remove 10.61.40.1/24" }).ClickAsync();
            await prefixes.FillAsync("10.61.40.0/24 ");
            await page.GetByLabel("Reason").FillAsync("the cold store");
            // What it would do stands beside it before anything is kept.
            await page.GetByText("Nothing is kept yet.").WaitForAsync();
            await page.GetByText("Adds 2 pairs to").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Send for review" }).ClickAsync();
            await page.GetByText("You cannot approve it: needs the role reviewer.").WaitForAsync();
            url = page.Url;
        });
        await With("tomas", async page =>
        {
            await page.GotoAsync(url);
            await page.GetByRole(AriaRole.Button, new() { Name = "Approve" }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Begin the work" }).ClickAsync();
            await page.GetByLabel("Remark, what happened").FillAsync("no management access");
            await page.GetByRole(AriaRole.Button, new() { Name = "Failed", Exact = true }).ClickAsync();
            await page.Locator(".verdict").GetByText("Step 1 failed: no management access.").WaitForAsync();
            var renamed = false;
            for (var left = await page.Locator(".step").CountAsync(); left > 0; left--)
            {
                var number = await page.Locator(".athand").GetAttributeAsync("aria-label");
                // What is at hand is of this step alone: one value to each number, and nothing said of another attempt.
                (
                    await page.Locator(".athand kbd").GetByText("1", new() { Exact = true }).CountAsync()
                ).ShouldBeLessThan(2, number);
                (await page.GetByLabel("Remark, what happened").InputValueAsync()).ShouldBeEmpty(number);
                if (number!.StartsWith("Step 1,", StringComparison.Ordinal))
                    await page.Locator(".athand input[type=file]")
                        .SetInputFilesAsync(
                            new FilePayload
                            {
                                Name = "access.txt",
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

                await ProveAsync(page);
                await page.GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }).ClickAsync();
                await page.Locator($".athand[aria-label='{number}']")
                    .WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            }

            await page.GetByRole(AriaRole.Button, new() { Name = "Close: record as built" }).ClickAsync();
            await page.Locator(".verdict").GetByText("Done by tomas").WaitForAsync();
            await page.Locator(".verdict").GetByText("eight characters at most").WaitForAsync();
            var kept = await page.RunAndWaitForDownloadAsync(() =>
                page.GetByRole(AriaRole.Link, new() { Name = "access.txt" }).ClickAsync()
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
            new DraftFree
            {
                Tunnel = "SAL-PIERS",
                Title = "Bounce the uplink",
                Reason = "The line is down.",
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
            await page.GetByLabel("Reviewer who confirms it").FillAsync("ines");
            await page.GetByLabel("Why it cannot wait").FillAsync("the pier is cut off");
            await page.GetByRole(AriaRole.Dialog)
                .GetByRole(AriaRole.Button, new() { Name = "Ask to begin urgently" })
                .ClickAsync();
            await page.GetByText("because ines wrote it").WaitForAsync();
            await page.GetByLabel("Reviewer who confirms it").FillAsync("tomas");
            await page.GetByRole(AriaRole.Dialog)
                .GetByRole(AriaRole.Button, new() { Name = "Ask to begin urgently" })
                .ClickAsync();
            await page.GetByText("asked tomas to confirm that it begins as urgent").WaitForAsync();
        });
        await With("tomas", async page =>
        {
            await page.GotoAsync("/");
            await page.GetByText("ines asks you to confirm that").WaitForAsync();
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Button, new() { Name = "Confirm: begin now" }).ClickAsync();
            await page.GetByRole(AriaRole.Dialog)
                .GetByRole(AriaRole.Button, new() { Name = "Confirm: begin now" })
                .ClickAsync();
            await page.GetByText("Urgent, confirmed by tomas: the pier is cut off.").WaitForAsync();
        });
        await With("ines", async page =>
        {
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }).ClickAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Step 2, at hand" }).WaitForAsync();
            await page.GetByLabel("Remark, what happened").FillAsync("nobody is there before noon");
            await page.GetByRole(AriaRole.Button, new() { Name = "Skip", Exact = true }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Done", Exact = true }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Close: record as built" }).ClickAsync();
            await page.GetByRole(AriaRole.Link, new() { Name = "Plan the skipped steps" }).ClickAsync();
            (await page.GetByLabel("Reason").InputValueAsync()).ShouldContain("nobody is there before noon");
            (await page.GetByLabel("What is done in step 1").InputValueAsync()).ShouldBe("Look at the tunnel at noon");
            await page.GetByRole(AriaRole.Button, new() { Name = "Keep as draft" }).ClickAsync();
            await page.GetByText("1 step on SAL-PIERS, written by the author").WaitForAsync();
        });
        await With("tomas", async page =>
        {
            await page.GotoAsync($"/changes/{change.Code}");
            await page.GetByRole(AriaRole.Button, new() { Name = "Reviewed afterwards" }).ClickAsync();
            await page.GetByRole(AriaRole.Dialog)
                .GetByRole(AriaRole.Button, new() { Name = "Reviewed afterwards" })
                .ClickAsync();
            await page.GetByText("Reviewed afterwards by tomas.").WaitForAsync();
        });
    }

    /// <summary>A proving step is not done without proof.</summary>
    private static async Task ProveAsync(IPage page)
    {
        if (await page.GetByLabel("or why there is no proof").CountAsync() > 0)
            await page.Locator(".athand textarea").FillAsync("5 of 5");
    }

    /// <summary>
    /// Two engineers on one run sheet: what one records the other sees without asking, and neither loses a word that is
    /// being typed.
    /// </summary>
    [Fact]
    public async Task What_one_ticks_the_other_sees_as_it_comes_and_a_number_copies_a_value()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var change = await ines.DraftAsync(new DraftRekey { Tunnel = "BRI-MILK", Reason = "perrin knows the key" }, Ct);
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
            await page.Locator(".athand textarea").FillAsync("access ans");
            // The other one records a later step.
            await ines.MakeKeyAsync("BRI-MILK", new(change.Code), Ct);
            await page.Locator("#step-2").GetByText("the key exists").WaitForAsync();
            (await page.Locator(".athand textarea").InputValueAsync()).ShouldBe("access ans");
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
            await page.GetByLabel("Remark, what happened").FillAsync("");
            await page.GetByLabel("Remark, what happened").PressAsync("1");
            (await page.GetByLabel("Remark, what happened").InputValueAsync()).ShouldBe("1");
        });
    }

    /// <summary>
    /// A change that would make things worse says so, names what it would add and what stays, and cannot go to review.
    /// </summary>
    [Fact]
    public Task A_plan_that_blocks_says_what_and_cannot_go_on() => With("ines", async page =>
        {
            await page.GotoAsync("/tunnels/BRI-DEPOT/plan");
            await page.Locator(".alternative", new() { HasTextRegex = new("^B ") }).ClickAsync();
            await page.GetByRole(AriaRole.Group, new() { Name = "Remove" }).GetByLabel("10.62.20.0/24").CheckAsync();
            await page.GetByLabel("Reason").FillAsync("the loading bay closes");
            await page.GetByRole(AriaRole.Button, new() { Name = "Keep as draft" }).ClickAsync();
            await page.GetByText("It cannot go to review yet: it adds PAIR-06 on BRI-DEPOT, which blocks.")
                .WaitForAsync();
            (await page.GetByRole(AriaRole.Button, new() { Name = "Send for review" }).CountAsync()).ShouldBe(0);
            await page.GetByRole(AriaRole.Region, new() { Name = "Findings that it adds" })
                .GetByText("was degrades")
                .WaitForAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Findings that it removes" })
                .GetByText("can be one prefix")
                .WaitForAsync();
            await page.GetByRole(AriaRole.Region, new() { Name = "Findings that stay" })
                .GetByText("PAIR-11")
                .WaitForAsync();
        });
}
