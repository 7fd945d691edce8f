using Microsoft.Playwright;
using Vellumkeep.Running;

// Makes every picture in docs/screenshots from the demo data, with the clock standing still, so that they come out the
// same each time. An argument picks the pictures whose name contains it; --to names another folder.
var only = args.Where((a, i) => !a.StartsWith('-') && (i == 0 || !args[i - 1].StartsWith("--"))).FirstOrDefault() ?? "";

// --grey draws without colour, --also PATH takes one more page: for looking, not for keeping.
var grey = args.Contains("--grey");
var to = args.SkipWhile(a => a != "--to").Skip(1).FirstOrDefault()
    ?? Path.Combine(RunningService.Root, "docs/screenshots");
await using var service = await RunningService.StartAsync(demo: true, "--clock", "2026-11-24T08:00:00Z");
using var playwright = await Playwright.CreateAsync();
await using var browser = await RunningService.BrowserAsync(playwright);
var context = await browser.NewContextAsync(
    new()
    {
        ViewportSize = new() { Width = 1280, Height = 800 },
        BaseURL = service.Url.ToString(),
        ReducedMotion = ReducedMotion.Reduce,
        TimezoneId = "UTC",
        Locale = "en-GB",
    }
);

// As on every visit but the very first, the browser has the faces already.
await context.AddInitScriptAsync("localStorage.setItem('vellumkeep.faces', 'true')");
var page = await context.NewPageAsync();
await page.Clock.SetFixedTimeAsync(new DateTime(2026, 11, 24, 8, 0, 0, DateTimeKind.Utc));

async Task Shoot(string name)
{
    await RunningService.SettledAsync(page);
    if (grey)
        await page.AddStyleTagAsync(new() { Content = "html { filter: grayscale(1) }" });
    await page.ScreenshotAsync(
        new()
        {
            Path = Path.Combine(to, name + ".png"),
            Animations = ScreenshotAnimations.Disabled,
            Caret = ScreenshotCaret.Hide,
        }
    );
    Console.WriteLine($"{name}.png");
}

async Task SignIn(string name)
{
    await context.ClearCookiesAsync();
    await page.GotoAsync("/");
    await page.GetByLabel("Name").FillAsync(name);
    await page.GetByLabel("Password").FillAsync(RunningService.Password(name));
    await page.GetByRole(AriaRole.Button, new() { Name = "Sign in" }).ClickAsync();
    try
    {
        await page.GetByText("Sign out").WaitForAsync(new() { Timeout = 5000 });
    }
    catch
    {
        await page.ScreenshotAsync(new() { Path = "/tmp/shots/fail.png" });
        throw;
    }
}

async Task FillTunnelAsync()
{
    foreach (var (end, code) in new[] { ("A", "churn-gw1"), ("B", "nettle-gw") })
    {
        await page.GetByRole(AriaRole.Combobox, new() { Name = $"{end} gateway" }).FillAsync(code);
        await page.Keyboard.PressAsync("Tab");
        await page.Keyboard.PressAsync("Escape");
    }

    await page.GetByLabel("10.61.0.0/24 reaches 10.62.12.0/24").CheckAsync();
    await page.GetByRole(AriaRole.Button, new() { Name = "Use the strongest that both support" }).ClickAsync();
    await page.GetByRole(AriaRole.Region, new() { Name = "The tunnel as it would be" })
        .GetByText("10.62.12.0/24")
        .First.WaitForAsync();
    await page.EvaluateAsync("window.scrollTo(0, 0)");
}

(string Name, string Who, string Path)[] pages =
[
    ("today", "tomas", "/"),
    ("tunnels", "ines", "/tunnels"),
    ("tunnel", "ines", "/tunnels/BRI-ASHLOW"),
    ("tunnel-pairs", "ines", "/tunnels/BRI-ASHLOW?tab=pairs"),
    ("tunnel-rehearsal", "ines", "/tunnels/SAL-WHIMBREL?tab=rehearsal"),
    ("tunnel-timeline", "ines", "/tunnels/BRI-ASHLOW?tab=timeline"),
    ("customer", "ines", "/customers/BRI"),
    ("tunnel-form", "ines", "/new/tunnels"),
    ("gateway-form", "ines", "/edit/gateways/ashlow-gw"),
    ("plan", "ines", "/tunnels/BRI-PETHER/plan"),
    ("calendar", "ines", "/changes?view=calendar"),
    ("calculations", "ines", "/calculations?calc=packet&udp=yes"),
    ("change-review", "tomas", "/changes/THR-0001"),
    ("change-platform", "tomas", "/changes/TID-0002"),
    ("change-run-sheet", "tomas", "/changes/BRI-0002"),
    ("run-sheet-on-a-telephone", "tomas", "/changes/BRI-0002"),
    ("import", "ines", "/import"),
];
var also = args.SkipWhile(a => a != "--also").Skip(1).FirstOrDefault();
if (also is not null)
    pages = [("also", "ines", also)];
foreach (var group in pages.Where(p => also is not null || p.Name.Contains(only)).GroupBy(p => p.Who))
{
    await SignIn(group.Key);
    foreach (var (name, _, path) in group)
    {
        await page.GotoAsync(path);
        await page.Locator(path.StartsWith("/search") ? "a.hit" : "h1").First.WaitForAsync();
        if (name == "import")
        {
            await page.Locator("input[type=file]")
                .SetInputFilesAsync(Path.Combine(RunningService.Root, "demo/sheet/pennyroyal.xlsx"));
            await page.GetByText("cells that cannot be read.").WaitForAsync();
        }

        if (name == "change-platform")
            await page.GetByRole(AriaRole.Heading, new() { Name = "Carried over" })
                .EvaluateAsync("h => window.scrollTo(0, h.getBoundingClientRect().top + scrollY - 330)");

        if (name == "tunnel-form")
            await FillTunnelAsync();
        if (name == "plan")
        {
            await page.GetByLabel("Prefixes to add", new() { Exact = true }).FillAsync("10.61.40.0/24 ");
            await page.GetByLabel("What it would do").GetByText("10.61.40.0/24").First.WaitForAsync();
        }

        var telephone = name.EndsWith("telephone", StringComparison.Ordinal);
        if (telephone)
            await page.SetViewportSizeAsync(390, 844);
        await Shoot(name);
        if (telephone)
            await page.SetViewportSizeAsync(1280, 800);
    }
}

// Terminal views: the command's own bytes, drawn by a terminal emulator in the browser.
var ines = (await service.ClientTokenAsync("ines"))!;
(string Name, string Line)[] commands =
[
    ("command-tunnel-show", "tunnel show BRI-ASHLOW"),
    ("command-rehearse", "tunnel rehearse SAL-WHIMBREL"),
];
var modules = Path.Combine(RunningService.Root, "src/console/node_modules");
foreach (var (name, line) in commands.Where(c => also is null && c.Name.Contains(only)))
{
    var (_, output, error) = await service.CommandAsync(
        line,
        token: ines,
        environment: new Dictionary<string, string> { ["VELLUMKEEP_FORCE_TERMINAL"] = "1", ["COLUMNS"] = "120" }
    );
    var terminal = await context.NewPageAsync();
    var font = Convert.ToBase64String(
        await File.ReadAllBytesAsync(
            Path.Combine(modules, "@fontsource-variable/jetbrains-mono/files/jetbrains-mono-latin-wght-normal.woff2")
        )
    );
    await terminal.SetContentAsync(
        $"<style>@font-face{{font-family:M;src:url(data:font/woff2;base64,{font});font-weight:100 "
            + $"800}}body{{margin:0;background:#16202b;padding:14px}}</style><div id=t "
            + $"style='font-family:M'>M</div>"
    );
    await terminal.AddStyleTagAsync(new() { Path = Path.Combine(modules, "@xterm/xterm/css/xterm.css") });
    await terminal.AddScriptTagAsync(new() { Path = Path.Combine(modules, "@xterm/xterm/lib/xterm.js") });
    await terminal.EvaluateAsync("document.fonts.load('13px M')");
    await terminal.EvaluateAsync(
        """
        text => new Promise(done => {
          document.getElementById("t").textContent = "";
          const t = new Terminal({ cols: 124, rows: 44, fontFamily: "M, DejaVu Sans Mono", fontSize: 13, lineHeight: 1.2,
            convertEol: true, cursorInactiveStyle: "none", theme: { background: "#16202b", foreground: "#e9e4d8" } });
          t.open(document.getElementById("t"));
          t.write(text, () => setTimeout(() => { t.scrollToTop(); requestAnimationFrame(done); }, 150));
        })
        """,
        $"\u001b[1m$\u001b[22m vellumkeep {line}\n{output}{error}"
    );
    await terminal.ScreenshotAsync(
        new() { Path = Path.Combine(to, name + ".png"), Animations = ScreenshotAnimations.Disabled }
    );
    Console.WriteLine($"{name}.png");
    await terminal.CloseAsync();
}
