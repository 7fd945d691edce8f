using Microsoft.Playwright;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

public partial class ConsoleTests
{
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
                            """
                            vellumkeep: keepfile/1
                            sites:
                              - {code: X1, customer: BRI, name: X, networks: [{prefix: 10.9.0.1/24, name: lan}]}
                            """u8.ToArray(),
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
            await page.GetByText("It adds and removes no finding.").WaitForAsync();
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
            await page.GetByRole(AriaRole.Button, new() { Name = "Save" }).ClickAsync();
            await page.GetByText("One value was altered by both: choose.").WaitForAsync();
            (await page.Locator(".merge tbody tr").AllInnerTextsAsync())
                .Select(r => string.Join(" | ", r.Split('\t').Select(c => c.Trim())))
                .ShouldBe([
                    "name | Pethermead creamery | Pethermead works | Pethermead dairy",
                    "notes | nothing | ring twice | unchanged",
                ]);
            await page.GetByRole(AriaRole.Button, new() { Name = "Use these values" }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Save" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "BRI-PETHER Pethermead dairy" }).WaitForAsync();
            await page.GetByText("ring twice", new() { Exact = true }).First.WaitForAsync();
            // Two versions against each other, and the page as it was before.
            await page.GetByRole(AriaRole.Checkbox, new() { Name = "3" }).CheckAsync();
            await page.GetByRole(AriaRole.Checkbox, new() { Name = "1" }).CheckAsync();
            (await page.Locator(".notice").InnerTextAsync()).ShouldBe(
                "name Pethermead creamery → Pethermead dairy\nnotes nothing → ring twice"
            );
        });

    [Fact]
    public Task A_new_tunnel_asks_for_little_and_a_wrong_value_is_told_where_it_stands() => With("ines", async page =>
        {
            await page.GotoAsync("/new/tunnels");
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^code")).FillAsync("BRI-WHEY");
            var (gatewayA, gatewayB) = (
                page.GetByRole(AriaRole.Combobox, new() { Name = "A gateway" }),
                page.GetByRole(AriaRole.Combobox, new() { Name = "B gateway" })
            );
            await gatewayA.FillAsync("churn-gw1");
            await page.Keyboard.PressAsync("Tab");
            await gatewayB.FillAsync("no-such-gw");
            await page.Keyboard.PressAsync("Tab");
            // The next field opens its choices over the page.
            await page.Keyboard.PressAsync("Escape");
            await page.GetByRole(AriaRole.Alert).Filter(new() { HasText = "no-such-gw" }).First.WaitForAsync();
            // It is found by the name of its site as well.
            await gatewayB.ClickAsync();
            await gatewayB.FillAsync("nettle");
            await page.GetByRole(AriaRole.Option, new() { NameRegex = new("^nettle-gw") }).ClickAsync();
            await page.GetByText("derived: the two sites").WaitForAsync();
            // The drawing grows beside it, with the verdict of what is there so far.
            var drawn = page.GetByRole(AriaRole.Region, new() { Name = "The tunnel as it would be" });
            await drawn.GetByText("B Nettlebank creamery").WaitForAsync();
            await page.GetByLabel("10.61.0.0/24 reaches 10.62.12.0/24").CheckAsync();
            await drawn.GetByText("10.61.0.0/24").First.WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Use the strongest that both support" }).ClickAsync();
            await page.GetByLabel("IKEv2").First.WaitForAsync();
            // What was typed is not lost by a click beside it, nor by a reload.
            await page.GetByRole(AriaRole.Link, new() { Name = "Findings" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "Findings", Level = 1 }).WaitForAsync();
            await page.GotoAsync("/new/tunnels");
            (await gatewayB.InputValueAsync()).ShouldBe("nettle-gw");
            await page.GetByRole(AriaRole.Button, new() { Name = "Add the tunnel" }).ClickAsync();
            await page.GetByRole(AriaRole.Heading, new() { Name = "BRI-WHEY Churn House to Nettlebank creamery" })
                .WaitForAsync();
            // It is the start of the next one.
            await page.GetByRole(AriaRole.Button, new() { Name = "Copy" }).ClickAsync();
            await page.GetByLabel("The code of the new tunnel").FillAsync("BRI-WHEY-2");
            await page.Keyboard.PressAsync("Enter");
            (await gatewayA.InputValueAsync()).ShouldBe("churn-gw1");
            await gatewayB.FillAsync("pether-gw");
            await page.Keyboard.PressAsync("Tab");
            await page.Keyboard.PressAsync("Escape");
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
            await page.GetByLabel("Import the other rows").CheckAsync();
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
            await page.GetByLabel("reader").CheckAsync();
            await page.GetByRole(AriaRole.Combobox, new() { Name = "reader: only for these customers" })
                .FillAsync("brindle");
            await page.GetByRole(AriaRole.Option, new() { NameRegex = new("^BRI") }).ClickAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Add the person" }).ClickAsync();
            await page.GetByText("Has no password yet").WaitForAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Set a new password" }).ClickAsync();
            var password = await page.Locator(".notice code").InnerTextAsync();
            await page.GetByRole(AriaRole.Button, new() { Name = "Sign out" }).ClickAsync();
            // Exactly: until the sign-in stands there, the search field, whose label speaks of names too, would be
            // filled.
            await page.GetByLabel("Name", new() { Exact = true }).FillAsync("wren");
            await page.GetByLabel("Password").FillAsync(password);
            await page.Keyboard.PressAsync("Enter");
            await page.GetByRole(AriaRole.Heading, new() { Name = "Choose your own password" }).WaitForAsync();
            await page.GetByLabel("Current password").FillAsync(password);
            await page.GetByLabel(new System.Text.RegularExpressions.Regex("^New password"))
                .FillAsync("heron-ladle-quartz-eleven");
            await page.GetByLabel("Repeat the new password").FillAsync("heron-ladle-quartz-eleven");
            await page.GetByRole(AriaRole.Button, new() { Name = "Replace the password" }).ClickAsync();
            await page.GetByText("Sign out").WaitForAsync();
            // For one customer only: others are not there, and neither is what belongs to all customers.
            await page.GotoAsync("/customers");
            await page.GetByRole(AriaRole.Link, new() { Name = "BRI", Exact = true }).WaitForAsync();
            (await page.Locator("tbody tr").CountAsync()).ShouldBe(1);
            await page.GotoAsync("/sites/SAL-HARBOUR");
            await page.GetByText("There is no site 'SAL-HARBOUR'").WaitForAsync();
            await page.GotoAsync("/history");
            (await page.GetByText("SAL-").CountAsync()).ShouldBe(0);
        });
}
