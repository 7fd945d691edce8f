using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.AspNetCore.HttpOverrides;
using Serilog;
using Vellumkeep.Service.Addresses;
using Vellumkeep.Service.Backups;
using Vellumkeep.Service.Calculations;
using Vellumkeep.Service.Changes;
using Vellumkeep.Service.Choices;
using Vellumkeep.Service.Customers;
using Vellumkeep.Service.Demo;
using Vellumkeep.Service.Drawings;
using Vellumkeep.Service.Findings;
using Vellumkeep.Service.Gateways;
using Vellumkeep.Service.Hosting;
using Vellumkeep.Service.Imports;
using Vellumkeep.Service.Keys;
using Vellumkeep.Service.Live;
using Vellumkeep.Service.Offers;
using Vellumkeep.Service.Platforms;
using Vellumkeep.Service.Records;
using Vellumkeep.Service.Reference;
using Vellumkeep.Service.Rehearsals;
using Vellumkeep.Service.Search;
using Vellumkeep.Service.Sites;
using Vellumkeep.Service.Suites;
using Vellumkeep.Service.Today;
using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service;

/// <summary>The service composed: its parts, its pipeline and its calls, on the data that the settings name.</summary>
public sealed record ServiceHost(WebApplication App, ServiceSettings Settings, Databases Databases, TimeProvider Clock)
{
    /// <summary>Puts the service together; nothing is opened or started yet.</summary>
    /// <param name="given">The settings as the command line has them.</param>
    /// <param name="home">The folder that holds the console, and a file of settings where there is one.</param>
    /// <param name="log">Where structured logs go: paths are logged without their query, bodies never.</param>
    /// <returns>The service; or what is wrong with the settings, in one line with what would be right.</returns>
    public static (ServiceHost? Host, string? Wrong) Make(
        IReadOnlyDictionary<string, string?> given,
        string home,
        Action<LoggerConfiguration> log
    )
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = home });
        builder.Configuration.AddInMemoryCollection(given);
        var settings = builder.Configuration.GetSection("Vellumkeep").Get<ServiceSettings>() ?? new();
        if (settings.Wrong() is { } wrong)
            return (null, wrong);
        if (settings.Demo is { Length: > 0 })
            settings.House ??= "QUI";
        var databases = settings.Postgres is { Length: > 0 } postgres
            ? Databases.Postgres(postgres)
            : Databases.Sqlite(Path.Combine(settings.Data, "vellumkeep.db"));
        TimeProvider clock = settings.Stands is { } stands ? new StandingClock(stands) : TimeProvider.System;
        Services(builder, settings, databases, clock, log);
        var app = builder.Build();
        app.UsePipeline();
        Endpoints(app, databases);
        app.UseConsole();
        return (new(app, settings, databases, clock), null);
    }

    /// <summary>
    /// Brings the database to this version, and loads the demo into an empty one where it is asked for.
    /// </summary>
    public async Task PrepareAsync(CancellationToken ct)
    {
        await Databases.MigrateAsync(ct);
        TellMissing();
        if (
            Settings.Demo is { Length: > 0 } demo
            && !await App.Services.GetRequiredService<PeopleStore>().AnybodyAsync(ct)
        )
            await App.Services.GetRequiredService<DemoScenario>().LoadAsync(demo, Clock.GetUtcNow(), ct);
    }

    /// <summary>What whoever starts the service has to know before anything goes wrong.</summary>
    private void TellMissing()
    {
        var missing = App.Services.GetRequiredService<AtRest>().Missing();
        if (missing.Count > 0)
            ServiceCommand.Refuse(
                $"The key folder {Settings.Keys} lacks {string.Join(", ", missing)}: keys encrypted with them "
                    + $"cannot be shown. Restore the folder (--key-folder). Until then no key can be made. What is lost "
                    + $"for good is given up by name: give-up KEY."
            );
    }

    private static void Services(
        WebApplicationBuilder builder,
        ServiceSettings settings,
        Databases databases,
        TimeProvider clock,
        Action<LoggerConfiguration> log
    )
    {
        builder.Services.AddSerilog((_, written) => log(Levels(written)));
        var services = builder.Services;
        services.AddSingleton(databases).AddSingleton(settings).AddSingleton(clock);
        services
            .AddSingleton(new AtRest(settings.Keys, databases))
            .AddSingleton<KeyIndex>()
            .AddSingleton<KeyGuard>()
            .AddSingleton<ITextGuard>(s => s.GetRequiredService<KeyGuard>())
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
        services.AddSingleton<LastActive>().AddHostedService(s => s.GetRequiredService<LastActive>());
        services.AddSingleton<Commits>().AddHostedService(s => s.GetRequiredService<Commits>());
        services.AddHostedService<DailyCheck>();

        Authentication(services, databases);
        services.AddRateLimits(databases);
        services.Configure<ForwardedHeadersOptions>(o =>
        {
            o.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto;
            // Read from the nearest proxy outwards, up to the first address that is not trusted.
            o.ForwardLimit = null;
            o.KnownProxies.Clear();
            o.KnownIPNetworks.Clear();
            foreach (var proxy in settings.Proxies)
                o.KnownIPNetworks.Add(proxy);
            if (o.KnownIPNetworks.Count == 0)
                o.ForwardedHeaders = ForwardedHeaders.None;
        });
        Interface(services);
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

    /// <summary>How the interface is described, and how bodies are read.</summary>
    private static void Interface(IServiceCollection services)
    {
        services.AddOpenApi("v1", o => o.AddSchemaTransformer(Vocabularies.Describe)
                .AddSchemaTransformer(Vocabularies.DescribeKinds)
                .AddDocumentTransformer(
                    (document, _, _) =>
                    {
                        document.Info.Title = "Vellumkeep";
                        document.Info.Version = "v1";
                        document.Info.Description =
                            "Both ends of site-to-site IPsec tunnels: recorded, compared, and changed with a plan.";
                        document.Servers?.Clear();
                        return Task.CompletedTask;
                    }
                ));
        services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.Strict;
            o.SerializerOptions.MaxDepth = 40;
            // A field that nobody reads would look as though it had counted.
            o.SerializerOptions.UnmappedMemberHandling = System
                .Text
                .Json
                .Serialization
                .JsonUnmappedMemberHandling
                .Disallow;
        });
    }

    /// <summary>Who asks is told by a token or by a cookie.</summary>
    private static void Authentication(IServiceCollection services, Databases databases)
    {
        services.AddDataProtection().SetApplicationName("vellumkeep");
        services
            .AddOptions<KeyManagementOptions>()
            .Configure<AtRest>((o, atRest) => o.XmlRepository = new CookieKeys(databases, atRest));
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
    }

    private static void Endpoints(WebApplication app, Databases databases)
    {
        var open = app.MapGroup("/api/v1").FittingOnly();
        var api = app.MapGroup("/api/v1").Guarded().FittingOnly();
        api.AddEndpointFilter(new ConflictFilter(databases));
        api.AddEndpointFilter(new ListFiles());
        open.MapSignIn(api);
        open.MapImports(api);
        api.MapTunnels();
        api.MapFindings();
        api.MapFindingsOverTime();
        api.MapRehearsals();
        api.MapPlatforms();
        api.MapSuites();
        api.MapOffers();
        api.MapCustomers();
        api.MapSites();
        api.MapGateways();
        api.MapAddresses();
        api.MapDrawings();
        api.MapCalculations();
        api.MapGlossary();
        api.MapChanges();
        api.MapKeys();
        api.MapKeyList();
        api.MapToday();
        api.MapDue();
        api.MapPeople();
        api.MapAudit();
        api.MapRecords();
        api.MapHistory();
        api.MapSearch();
        api.MapChoices();
        api.MapNewTunnelChoices();
        api.MapProposalChoices();
        api.MapEvents();
        api.MapBackups();
        app.MapOpenApi("/api/{documentName}/openapi.json");
        app.MapReference();
        app.MapReadiness();
    }

    private static LoggerConfiguration Levels(LoggerConfiguration log) =>
        log
            .MinimumLevel.Information()
            .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
            // A start that fails is told in one line; so is a database that does not answer.
            .MinimumLevel.Override("Microsoft.Extensions.Hosting.Internal.Host", Serilog.Events.LogEventLevel.Fatal)
            .MinimumLevel.Override("Microsoft.EntityFrameworkCore", Serilog.Events.LogEventLevel.Fatal)
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", Serilog.Events.LogEventLevel.Error)
            .MinimumLevel.Override("Microsoft.AspNetCore.Diagnostics", Serilog.Events.LogEventLevel.Fatal);
}
