using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.FileProviders;
using Scalar.AspNetCore;
using Serilog;
using Vellumkeep.Service.Backups;
using Vellumkeep.Service.Changes;
using Vellumkeep.Service.Demo;
using Vellumkeep.Service.Drawings;
using Vellumkeep.Service.Finding;
using Vellumkeep.Service.History;
using Vellumkeep.Service.Imports;
using Vellumkeep.Service.Keys;
using Vellumkeep.Service.Live;
using Vellumkeep.Service.Places;
using Vellumkeep.Service.Platforms;
using Vellumkeep.Service.Records;
using Vellumkeep.Service.Rehearsals;
using Vellumkeep.Service.Sums;
using Vellumkeep.Service.Today;
using Vellumkeep.Service.Tunnels;

// A command and its file come first: a path such as /tmp/x would be read as the name of a setting.
string[] given = [.. args.SkipWhile(a => !a.StartsWith("--", StringComparison.Ordinal))];
var builder = WebApplication.CreateBuilder(new WebApplicationOptions { Args = given, ContentRootPath = AppContext.BaseDirectory });
builder.Configuration.AddCommandLine(given, new Dictionary<string, string>
{
    ["--data"] = "Vellumkeep:Data",
    ["--sealing"] = "Vellumkeep:Sealing",
    ["--postgres"] = "Vellumkeep:Postgres",
    ["--demo"] = "Vellumkeep:Demo",
    ["--house"] = "Vellumkeep:House",
    ["--review-within-hours"] = "Vellumkeep:ReviewWithinHours",
    ["--clock"] = "Vellumkeep:Clock",
});
var settings = builder.Configuration.GetSection("Vellumkeep").Get<ServiceSettings>() ?? new();
if (settings.ReviewWithinHours is < 1 or > 720)
{
    Refuse($"--review-within-hours is {settings.ReviewWithinHours}. Right would be: 1 to 720, within which urgent work has to be reviewed.");
    return;
}

DateTimeOffset? standing = null;
if (settings.Clock is { Length: > 0 } clockText)
{
    if (settings.Demo is not { Length: > 0 } || !DateTimeOffset.TryParse(clockText, CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment))
    {
        Refuse(settings.Demo is not { Length: > 0 } ? "A standing clock is only for the demo. Right would be: --demo with --clock, or neither." : $"--clock is '{Typed.Short(clockText)}'. Right would be: a moment such as 2026-11-24T08:00:00Z.");
        return;
    }

    standing = moment;
}

if (settings.Demo is { Length: > 0 })
    settings.House ??= "QUI";
var describing = args.Contains("openapi");
if (args is ["schema", ..])
{
    Console.Out.Write(Vellumkeep.Exchange.Keepfiles.KeepfileSchema.Json());
    return;
}

// Structured logs to standard error; request paths are logged without their query, bodies never.
builder.Host.UseSerilog((_, log) => log.MinimumLevel.Information()
    .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
    // A start that fails is told below, in one line.
    .MinimumLevel.Override("Microsoft.Extensions.Hosting.Internal.Host", Serilog.Events.LogEventLevel.Fatal)
    .WriteTo.Console(new Serilog.Formatting.Compact.RenderedCompactJsonFormatter(), standardErrorFromLevel: Serilog.Events.LogEventLevel.Verbose));

var databases = settings.Postgres is { Length: > 0 } postgres ? Databases.Postgres(postgres) : Databases.Sqlite(Path.Combine(settings.Data, "vellumkeep.db"));
TimeProvider clock = standing is { } stands ? new StandingClock(stands) : TimeProvider.System;
builder.Services.AddSingleton(databases).AddSingleton(settings).AddSingleton(clock).AddSingleton<Keeper>().AddSingleton<PeopleStore>()
    .AddSingleton<Importing>().AddSingleton<SheetImport>().AddSingleton<TunnelWork>().AddSingleton<ChangeWork>().AddSingleton<KeyWork>().AddSingleton(new Sealing(settings.Sealing is { Length: > 0 } sealing ? sealing : Path.Combine(settings.Data, "sealing"))).AddSingleton<DemoScenario>().AddSingleton<RecordWork>()
    .AddSingleton<Commits>().AddHostedService(s => s.GetRequiredService<Commits>()).AddHostedService<DailyCheck>();
builder.Services.AddDataProtection().SetApplicationName("vellumkeep");
builder.Services.AddOptions<Microsoft.AspNetCore.DataProtection.KeyManagement.KeyManagementOptions>().Configure(o => o.XmlRepository = new CookieKeys(databases));
builder.Services.AddAuthentication("either")
    .AddPolicyScheme("either", null, o => o.ForwardDefaultSelector = http => http.Request.Headers.Authorization.Count > 0 ? TokenHandler.SchemeName : CookieAuthenticationDefaults.AuthenticationScheme)
    .AddScheme<AuthenticationSchemeOptions, TokenHandler>(TokenHandler.SchemeName, null)
    .AddCookie(o =>
    {
        o.Cookie.Name = "vellumkeep";
        o.Cookie.HttpOnly = true;
        o.Cookie.SameSite = SameSiteMode.Strict;
        o.ExpireTimeSpan = TimeSpan.FromHours(12);
        o.SlidingExpiration = true;
    });
builder.Services.AddOpenApi("v1", o => o.AddDocumentTransformer((document, _, _) =>
{
    document.Info.Title = "Vellumkeep";
    document.Info.Version = "v1";
    document.Info.Description = "Both ends of site-to-site IPsec tunnels: kept, compared, and changed with a plan.";
    document.Servers?.Clear();
    return Task.CompletedTask;
}));
builder.Services.ConfigureHttpJsonOptions(o => o.SerializerOptions.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.Strict);
builder.Services.AddExceptionHandler<ProblemHandler>().AddProblemDetails();
builder.Services.AddResponseCompression();
builder.Services.Configure<HostOptions>(o => o.ShutdownTimeout = TimeSpan.FromSeconds(10));
builder.WebHost.ConfigureKestrel(o => o.AddServerHeader = false);

var app = builder.Build();
app.UseExceptionHandler();
app.UseStatusCodePages();
app.UseResponseCompression();
app.Use(async (http, next) =>
{
    http.Response.Headers.ContentSecurityPolicy = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'";
    http.Response.Headers.XContentTypeOptions = "nosniff";
    http.Response.Headers["Referrer-Policy"] = "same-origin";
    await next();
});
app.UseAuthentication();
app.UseIdempotencyKeys();

var open = app.MapGroup("/api/v1");
var api = app.MapGroup("/api/v1").Guarded();
api.AddEndpointFilter(new ConflictFilter(databases));
api.AddEndpointFilter(new ListFiles());
open.MapSignIn(api);
open.MapImports(api);
api.MapTunnels();
api.MapRehearsals();
api.MapPlatforms();
api.MapPlaces();
api.MapDrawings();
api.MapSums();
api.MapChanges();
api.MapKeys();
api.MapToday();
api.MapPeople();
api.MapRecords();
api.MapHistory();
api.MapSearch();
api.MapEvents();
api.MapBackups();
app.MapOpenApi("/api/{documentName}/openapi.json");
app.MapScalarApiReference("/api/reference", o => o.WithOpenApiRoutePattern("/api/{documentName}/openapi.json").WithTitle("Vellumkeep").DisableDefaultFonts());
app.MapGet("/health", () => "alive").ExcludeFromDescription();
// What the measurements of docs/performance.md hold every page against.
app.MapGet("/empty", () => new { }).ExcludeFromDescription();
app.MapGet("/ready", async (Databases d, CancellationToken ct) =>
{
    await using var context = d.Open();
    return await context.Database.CanConnectAsync(ct) ? Results.Text("ready") : Results.StatusCode(503);
}).ExcludeFromDescription();
app.Map("/api/{**rest}", (string? rest) => { throw ProblemException.NotFound("call", "/api/" + rest); }).ExcludeFromDescription();

var wwwroot = Path.Combine(AppContext.BaseDirectory, "wwwroot");
if (Directory.Exists(wwwroot))
{
    var files = new PhysicalFileProvider(wwwroot);
    app.UseStaticFiles(new StaticFileOptions { FileProvider = files });
    app.MapFallbackToFile("index.html", new StaticFileOptions { FileProvider = files });
}

if (describing)
{
    // Prints the description of the interface, for generating the console's types; nothing is opened or kept.
    await app.StartAsync();
    using var http = new HttpClient();
    Console.Out.Write(await http.GetStringAsync(app.Urls.First() + "/api/v1/openapi.json"));
    await app.StopAsync();
    return;
}

if (await Vellumkeep.Service.Backups.Commands.RunAsync(args, databases, app.Services, clock) is { } status)
{
    Environment.ExitCode = status;
    return;
}

try
{
    await Reprojecting.PrepareAsync(databases, app.Services.GetRequiredService<Keeper>(), clock.GetUtcNow(), CancellationToken.None);
}
catch (NewerDatabaseException newer)
{
    Refuse(newer.Message);
    return;
}

if (settings.Demo is { Length: > 0 } demo && !await app.Services.GetRequiredService<PeopleStore>().AnybodyAsync(CancellationToken.None))
    await app.Services.GetRequiredService<DemoScenario>().LoadAsync(demo, clock.GetUtcNow(), CancellationToken.None);
try
{
    await app.StartAsync();
}
catch (Exception e) when (e is IOException or FormatException or InvalidOperationException)
{
    Refuse($"The service cannot listen: {e.Message.TrimEnd('.')}. Right would be: --urls with an address of this machine and a port that nothing else uses.");
    return;
}

foreach (var url in app.Urls)
    Console.Out.WriteLine($"Vellumkeep is at {url}");
Console.Out.Flush();
await app.WaitForShutdownAsync();

// A start that cannot be: one line, and no more.
static void Refuse(string what)
{
    Console.Error.WriteLine(what);
    // Whoever keeps the log elsewhere is told on the screen as well.
    if (Console.IsErrorRedirected)
        Console.Out.WriteLine(what);
    Environment.ExitCode = 2;
}
