using Serilog;
using Vellumkeep.Service;
using Vellumkeep.Service.Backups;
using Vellumkeep.Service.Hosting;
using Vellumkeep.Storage.Backups;

var (started, status) = ServiceCommand.Read(args);
if (started is null)
    return status;
if (started.What == "schema")
{
    Console.Out.Write(Vellumkeep.Exchange.Keepfiles.KeepfileSchema.Json());
    return 0;
}

if (started.What == "glossary")
{
    Console.Out.Write(Vellumkeep.Views.Glossary.Markdown());
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
            $"{e.Message.TrimEnd('.')}. Expected: --data and --key-folder in a folder that this user can write to.",
        ArgumentException
            when e.Source?.StartsWith("Npgsql", StringComparison.Ordinal) == true
                || e.StackTrace?.Contains("Npgsql", StringComparison.Ordinal) == true =>
            "--postgres cannot be read. Expected: Host=...;Database=...;Username=...",
        InvalidOperationException when e.Source == "Microsoft.Extensions.Configuration.Binder" =>
            $"A setting cannot be read: {e.Message.TrimEnd('.')}. Expected: what --help says of it.",
        _ when TransientFaults.Of(e) is { } trouble =>
            $"The service cannot start: {trouble}. Expected: a database that this user can read and write (--data "
                + $"or --postgres).",
        IOException =>
            $"The service cannot start: {e.Message.TrimEnd('.')}. Expected: --urls with an address of this machine "
                + $"and a port that nothing else uses, and folders that can be written.",
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
    if (started.What is not (ServiceCommand.Serve or "openapi"))
        Commands.NeedDatabase(started);
    var (host, wrong) = ServiceHost.Make(started.Settings, AppContext.BaseDirectory, ToStandardError);
    if (host is null)
    {
        ServiceCommand.Refuse(wrong!);
        return 2;
    }

    var app = host.App;
    if (started.What == "openapi")
        return await DescribeAsync(app);
    if (started.What != ServiceCommand.Serve)
        return await Commands.RunAsync(started, host.Databases, app.Services, host.Clock);

    await host.PrepareAsync(CancellationToken.None);
    try
    {
        await app.StartAsync();
    }
    catch (Exception e) when (e is IOException or FormatException or InvalidOperationException)
    {
        ServiceCommand.Refuse(
            $"The service cannot listen: {e.Message.TrimEnd('.')}. Expected: --urls with an address of this machine "
                + $"and a port that nothing else uses."
        );
        return 2;
    }

    foreach (var url in app.Urls)
        Console.Out.WriteLine($"Vellumkeep is at {url}");
    Console.Out.Flush();
    await app.WaitForShutdownAsync();
    return 0;
}

static void ToStandardError(LoggerConfiguration log) =>
    log.WriteTo.Console(
        new Serilog.Formatting.Compact.RenderedCompactJsonFormatter(),
        standardErrorFromLevel: Serilog.Events.LogEventLevel.Verbose
    );

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
