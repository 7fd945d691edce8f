using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Serilog;
using Vellumkeep.Service.Backups;
using Vellumkeep.Service.Changes;
using Vellumkeep.Service.Demo;
using Vellumkeep.Service.Drawings;
using Vellumkeep.Service.Finding;
using Vellumkeep.Service.History;
using Vellumkeep.Service.Hosting;
using Vellumkeep.Service.Imports;
using Vellumkeep.Service.Keys;
using Vellumkeep.Service.Live;
using Vellumkeep.Service.Places;
using Vellumkeep.Service.Platforms;
using Vellumkeep.Service.Records;
using Vellumkeep.Service.Reference;
using Vellumkeep.Service.Rehearsals;
using Vellumkeep.Service.Sums;
using Vellumkeep.Service.Today;
using Vellumkeep.Service.Tunnels;
using Vellumkeep.Storage.Backups;

var (started, status) = ServiceCommand.Read(args);
if (started is null)
    return status;
if (started.What == "schema")
{
    Console.Out.Write(Vellumkeep.Exchange.Keepfiles.KeepfileSchema.Json());
    return 0;
}

try
{
    return await RunAsync(started);
}
catch (Exception e) when (Wrong(e) is { } wrong)
{
    ServiceCommand.Refuse(wrong);
    return 2;
}

// What makes a start impossible, in one line; null for what nobody could have foreseen.
static string? Wrong(Exception e) =>
    e switch
    {
        NewerDatabaseException or BackupException => e.Message,
        UnauthorizedAccessException =>
            $"{e.Message.TrimEnd('.')}. Right would be: --data and --key-folder in a place where this user may write.",
        ArgumentException
            when e.Source?.StartsWith("Npgsql", StringComparison.Ordinal) == true
                || e.StackTrace?.Contains("Npgsql", StringComparison.Ordinal) == true =>
            "--postgres cannot be read. Right would be: Host=...;Database=...;Username=...",
        InvalidOperationException when e.Source == "Microsoft.Extensions.Configuration.Binder" =>
            $"A setting cannot be read: {e.Message.TrimEnd('.')}. Right would be: what --help says of it.",
        _ when Trouble.Of(e) is { } trouble =>
            $"The service cannot start: {trouble}. Right would be: a database that this user may read and write (--data or --postgres).",
        IOException =>
            $"The service cannot start: {e.Message.TrimEnd('.')}. Right would be: --urls with an address of this machine and a port that nothing else uses, and folders that can be written.",
        _ => null,
    };

static async Task<int> RunAsync(Started started)
{
    // Nothing that this process makes is for anybody else on the machine.
    Umask.Owner();
    FileLimit.Survive();
    // A plan or a read of SQLite holds its thread for as long as it takes: a pool of one for each core would have
    // everybody else wait for new ones.
    ThreadPool.SetMinThreads(32, 32);
    var builder = WebApplication.CreateBuilder(
        new WebApplicationOptions { ContentRootPath = AppContext.BaseDirectory }
    );
    builder.Configuration.AddInMemoryCollection(started.Settings);
    var settings = builder.Configuration.GetSection("Vellumkeep").Get<ServiceSettings>() ?? new();
    if (settings.Wrong() is { } wrong)
    {
        ServiceCommand.Refuse(wrong);
        return 2;
    }

    if (settings.Demo is { Length: > 0 })
        settings.House ??= "QUI";
    var databases = settings.Postgres is { Length: > 0 } postgres
        ? Databases.Postgres(postgres)
        : Databases.Sqlite(Path.Combine(settings.Data, "vellumkeep.db"));
    TimeProvider clock = settings.Stands is { } stands ? new StandingClock(stands) : TimeProvider.System;
    Services(builder, settings, databases, clock);
    var app = builder.Build();
    app.UsePipeline();
    Endpoints(app, databases);
    app.UseConsole();

    if (started.What == "openapi")
        return await DescribeAsync(app);
    if (started.What != ServiceCommand.Serve)
        return await Commands.RunAsync(started, databases, app.Services, clock);

    await databases.MigrateAsync(CancellationToken.None);
    TellMissing(app, settings);
    if (
        settings.Demo is { Length: > 0 } demo
        && !await app.Services.GetRequiredService<PeopleStore>().AnybodyAsync(CancellationToken.None)
    )
        await app
            .Services.GetRequiredService<DemoScenario>()
            .LoadAsync(demo, clock.GetUtcNow(), CancellationToken.None);
    try
    {
        await app.StartAsync();
    }
    catch (Exception e) when (e is IOException or FormatException or InvalidOperationException)
    {
        ServiceCommand.Refuse(
            $"The service cannot listen: {e.Message.TrimEnd('.')}. Right would be: --urls with an address of this machine and a port that nothing else uses."
        );
        return 2;
    }

    foreach (var url in app.Urls)
        Console.Out.WriteLine($"Vellumkeep is at {url}");
    Console.Out.Flush();
    await app.WaitForShutdownAsync();
    return 0;
}

// What whoever starts the service has to know before anything goes wrong.
static void TellMissing(WebApplication app, ServiceSettings settings)
{
    var missing = app.Services.GetRequiredService<Sealing>().Missing();
    if (missing.Count > 0)
        ServiceCommand.Refuse(
            $"The key folder {settings.Keys} lacks {string.Join(", ", missing)}: what was encrypted under them cannot be shown. Bring the folder back (--key-folder); until then no key is made."
        );
}

static void Services(WebApplicationBuilder builder, ServiceSettings settings, Databases databases, TimeProvider clock)
{
    // Structured logs to standard error; request paths are logged without their query, bodies never.
    builder.Host.UseSerilog(
        (_, log) =>
            log
                .MinimumLevel.Information()
                .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
                // A start that fails is told in one line; so is a database that does not answer.
                .MinimumLevel.Override("Microsoft.Extensions.Hosting.Internal.Host", Serilog.Events.LogEventLevel.Fatal)
                .MinimumLevel.Override("Microsoft.EntityFrameworkCore", Serilog.Events.LogEventLevel.Fatal)
                .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", Serilog.Events.LogEventLevel.Error)
                .MinimumLevel.Override("Microsoft.AspNetCore.Diagnostics", Serilog.Events.LogEventLevel.Fatal)
                .WriteTo.Console(
                    new Serilog.Formatting.Compact.RenderedCompactJsonFormatter(),
                    standardErrorFromLevel: Serilog.Events.LogEventLevel.Verbose
                )
    );

    var services = builder.Services;
    services.AddSingleton(databases).AddSingleton(settings).AddSingleton(clock);
    services
        .AddSingleton(new Sealing(settings.Keys, databases))
        .AddSingleton<KeyGuard>()
        .AddSingleton<IWriteGuard>(s => s.GetRequiredService<KeyGuard>())
        .AddSingleton<Keeper>();
    services.AddSingleton<Passwords>().AddSingleton<SignIns>().AddSingleton<Access>().AddSingleton<PeopleStore>();
    services
        .AddSingleton<Importing>()
        .AddSingleton<SheetImport>()
        .AddSingleton<TunnelWork>()
        .AddSingleton<ChangeDrafting>()
        .AddSingleton<ChangeWork>()
        .AddSingleton<KeyWork>()
        .AddSingleton<RecordWork>()
        .AddSingleton<DemoScenario>();
    services.AddSingleton<AuditLog>().AddHostedService(s => s.GetRequiredService<AuditLog>());
    services.AddSingleton<LastSeen>().AddHostedService(s => s.GetRequiredService<LastSeen>());
    services.AddSingleton<Commits>().AddHostedService(s => s.GetRequiredService<Commits>());
    services.AddHostedService<DailyCheck>();

    services.AddDataProtection().SetApplicationName("vellumkeep");
    services
        .AddOptions<KeyManagementOptions>()
        .Configure<Sealing>((o, sealing) => o.XmlRepository = new CookieKeys(databases, sealing));
    services
        .AddAuthentication("either")
        .AddPolicyScheme("either", null, o =>
            o.ForwardDefaultSelector = http =>
                http.Request.Headers.Authorization.Count > 0
                    ? TokenHandler.SchemeName
                    : CookieAuthenticationDefaults.AuthenticationScheme
        )
        .AddScheme<AuthenticationSchemeOptions, TokenHandler>(TokenHandler.SchemeName, null)
        .AddCookie(o =>
        {
            o.Cookie.Name = "vellumkeep";
            o.Cookie.HttpOnly = true;
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.ExpireTimeSpan = TimeSpan.FromHours(12);
            o.SlidingExpiration = true;
        });
    services.AddRateLimits(databases);
    services.AddOpenApi("v1", o => o.AddSchemaTransformer(Vocabularies.Describe)
            .AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info.Title = "Vellumkeep";
                    document.Info.Version = "v1";
                    document.Info.Description =
                        "Both ends of site-to-site IPsec tunnels: kept, compared, and changed with a plan.";
                    document.Servers?.Clear();
                    return Task.CompletedTask;
                }
            ));
    services.ConfigureHttpJsonOptions(o =>
    {
        o.SerializerOptions.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.Strict;
        o.SerializerOptions.MaxDepth = 40;
    });
    services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
    services.AddExceptionHandler<ProblemHandler>().AddProblemDetails();
    services.AddResponseCompression();
    services.Configure<HostOptions>(o =>
    {
        o.ShutdownTimeout = TimeSpan.FromSeconds(10);
        // A list that is not written for a while is no reason to stop serving.
        o.BackgroundServiceExceptionBehavior = BackgroundServiceExceptionBehavior.Ignore;
    });
    builder.WebHost.ConfigureKestrel(o => o.AddServerHeader = false);
}

static void Endpoints(WebApplication app, Databases databases)
{
    var open = app.MapGroup("/api/v1").FittingOnly();
    var api = app.MapGroup("/api/v1").Guarded().FittingOnly();
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
    api.MapAudit();
    api.MapRecords();
    api.MapHistory();
    api.MapSearch();
    api.MapEvents();
    api.MapBackups();
    app.MapOpenApi("/api/{documentName}/openapi.json");
    app.MapReference();
    app.MapReadiness();
}

// Prints the description of the interface, for generating the console's types; nothing is opened or kept.
static async Task<int> DescribeAsync(WebApplication app)
{
    app.Urls.Clear();
    app.Urls.Add("http://127.0.0.1:0");
    await app.StartAsync();
    using var http = new HttpClient();
    Console.Out.Write(await http.GetStringAsync(app.Urls.First() + "/api/v1/openapi.json"));
    await app.StopAsync();
    return 0;
}
