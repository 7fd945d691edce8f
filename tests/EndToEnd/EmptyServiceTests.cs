using Microsoft.Playwright;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// A service in which nothing is recorded, used for the first time, following only what its pages say.
/// </summary>
public sealed class EmptyServiceTests : IAsyncLifetime
{
    private const string Password = "otter lantern seven quilts";
    private RunningService service = null!;

    public async ValueTask InitializeAsync()
    {
        var data = Directory.CreateTempSubdirectory("vellumkeep-").FullName;
        var (status, _, error) = await RunningService.ServiceAsync(["add-lead", "vera", "--data", data], Password);
        status.ShouldBe(0, error);
        service = await RunningService.StartAsync(demo: false, "--data", data);
    }

    public ValueTask DisposeAsync() => service.DisposeAsync();

    [Fact]
    public async Task Today_leads_from_nothing_to_a_tunnel_that_is_reviewed()
    {
        using var playwright = await Playwright.CreateAsync();
        await using var browser = await RunningService.BrowserAsync(playwright);
        var page = await browser.NewPageAsync(new() { BaseURL = service.Url.ToString() });
        page.SetDefaultTimeout(45_000);
        await page.GotoAsync("/");
        await page.GetByLabel("Name").FillAsync("vera");
        await page.GetByLabel("Password").FillAsync(Password);
        await page.Keyboard.PressAsync("Enter");

        await FromTodayAsync(page, "a platform profile");
        await FillAsync(page, "name", "Thornbury Minor");
        foreach (
            var can in new[] { "IKEv2", "AES-256-GCM-16", "HMAC-SHA2-256-128", "DH 19", "PRF-HMAC-SHA2-256", "PSK" }
        )
            await page.GetByLabel(can, new() { Exact = true }).First.CheckAsync();
        await AddAsync(page, "platform profile", "/platforms/thornbury-minor@1");

        await FromTodayAsync(page, "a customer");
        await FillAsync(page, "name", "Wexcombe Grain");
        await AddAsync(page, "customer", "/customers/WEX");

        foreach (
            var (name, prefix, code) in new[]
            {
                ("Granary", "10.71.0.0/24", "WEX-GRANARY"),
                ("Silo Yard", "10.72.0.0/24", "WEX-SILO"),
            }
        )
        {
            await FromTodayAsync(page, "its sites");
            await PickAsync(page, "customer", "wex");
            await FillAsync(page, "name", name);
            var network = page.GetByRole(AriaRole.Group, new() { Name = "networks" });
            await network.GetByLabel("prefix", new() { Exact = true }).FillAsync(prefix);
            await network.GetByRole(AriaRole.Textbox, new() { Name = "name" }).FillAsync("floor");
            await AddAsync(page, "site", $"/sites/{code}");
        }

        foreach (
            var (site, address, code) in new[]
            {
                ("gran", "198.51.100.71", "granary-gw"),
                ("silo", "198.51.100.72", "silo-gw"),
            }
        )
        {
            await FromTodayAsync(page, "their gateways");
            await PickAsync(page, "site", site);
            await PickAsync(page, "platform", "thorn");
            await page.Locator("main").GetByRole(AriaRole.Textbox, new() { Name = "address" }).FillAsync(address);
            await AddAsync(page, "gateway", $"/gateways/{code}");
        }

        await FromTodayAsync(page, "the plan of a tunnel");
        await PickAsync(page, "A gateway", "gran");
        await PickAsync(page, "B gateway", "silo");
        await page.GetByRole(AriaRole.Button, new() { Name = "All", Exact = true }).ClickAsync();
        await page.GetByLabel("Reason").FillAsync("the scales report to the office");
        await page.GetByText("Comes up when A initiates").WaitForAsync();
        await page.GetByRole(AriaRole.Button, new() { Name = "Send for review" }).ClickAsync();
        await page.WaitForURLAsync("**/changes/WEX-0001");
        await page.GetByText("Enter the pre-shared key of WEX-YARD on granary-gw").First.WaitForAsync();
        // The tunnel is recorded as planned now: Today shows what waits, and no longer where to begin.
        await page.GetByRole(AriaRole.Link, new() { Name = "Today", Exact = true }).ClickAsync();
        await page.GetByRole(AriaRole.Link, new() { Name = "WEX-0001" }).First.WaitForAsync();
        (await page.GetByText("No tunnel is recorded yet").CountAsync()).ShouldBe(0);
    }

    private static async Task FromTodayAsync(IPage page, string what)
    {
        await page.GetByRole(AriaRole.Link, new() { Name = "Today", Exact = true }).ClickAsync();
        await page.GetByRole(AriaRole.Region, new() { Name = "Where to begin" })
            .GetByRole(AriaRole.Link, new() { Name = what })
            .ClickAsync();
    }

    private static Task FillAsync(IPage page, string field, string text) =>
        page.GetByRole(AriaRole.Textbox, new() { Name = field, Exact = true }).First.FillAsync(text);

    /// <summary>Types the beginning of what is meant, and takes the one choice that stands out.</summary>
    private static async Task PickAsync(IPage page, string field, string begins)
    {
        var picker = page.GetByRole(AriaRole.Combobox, new() { Name = field });
        await picker.FillAsync(begins);
        await page.Locator("[role=option][data-focused]").WaitForAsync();
        await page.Keyboard.PressAsync("Enter");
        await page.GetByRole(AriaRole.Listbox).WaitForAsync(new() { State = WaitForSelectorState.Hidden });
    }

    /// <summary>Adds the record, and sees that it opens: its code was suggested.</summary>
    private static async Task AddAsync(IPage page, string kind, string opens)
    {
        var code = opens[(opens.LastIndexOf('/') + 1)..].Split('@')[0];
        await Assertions
            .Expect(page.GetByRole(AriaRole.Textbox, new() { Name = "code", Exact = true }))
            .ToHaveValueAsync(code);
        await page.GetByRole(AriaRole.Button, new() { Name = $"Add the {kind}" }).ClickAsync();
        await page.WaitForURLAsync($"**{opens}");
    }
}
