using System.CommandLine;
using System.Diagnostics;
using Microsoft.Playwright;
using Vellumkeep.Cli;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Client;

namespace Vellumkeep.Running;

/// <summary>The real service as a process on a real port of loopback, with data of its own.</summary>
public sealed class RunningService : IAsyncDisposable
{
    private readonly string[] more;
    private readonly bool demo;
    private Process? process;
    private HostHere? host;

    private RunningService(bool demo, string[] more, string? data = null)
    {
        this.demo = demo;
        this.more = more;
        Data = data ?? Directory.CreateTempSubdirectory("vellumkeep-").FullName;
    }

    /// <summary>The database server of this service alone; null when it keeps everything in a file.</summary>
    public ShortPostgres? Postgres { get; private init; }

    /// <summary>The project's folder, in which the command runs: the demo's files are named from here.</summary>
    public static string Root { get; } = FindRoot();

    public string Data { get; }

    public int ProcessId => process!.Id;

    /// <summary>The key folder, beside the data.</summary>
    public string Keys => Data + "-keys";

    public Uri Url { get; private set; } = new("http://127.0.0.1");

    public string Log { get; private set; } = "";

    /// <summary>A service with the demo, or an empty one.</summary>
    public static async Task<RunningService> StartAsync(bool demo = true, params string[] more)
    {
        var service = new RunningService(demo, more);
        if (demo && more.Length == 0)
            await LoadedDemo.CopyAsync(service.Data);
        await service.StartAgainAsync();
        return service;
    }

    /// <summary>
    /// The same service with the demo on a port of its own within this process: what is asked of it is no different,
    /// and nothing waits for a program to start. It cannot be killed or started again.
    /// </summary>
    public static async Task<RunningService> HereAsync(params string[] more)
    {
        var service = new RunningService(true, more);
        if (more.Length == 0)
            await LoadedDemo.CopyAsync(service.Data);
        await service.BeginHereAsync();
        return service;
    }

    /// <summary>The same on a PostgreSQL of its own, which ends with it.</summary>
    public static async Task<RunningService> HereOnPostgresAsync()
    {
        var service = await OnPostgresAsync("");
        await service.BeginHereAsync();
        return service;
    }

    private async Task BeginHereAsync() => (host, Url) = await HostHere.StartAsync(Arguments, line => Log += line);

    /// <summary>A service with the demo in a PostgreSQL of its own, which ends with it.</summary>
    /// <param name="connection">What is added to the connection string.</param>
    public static async Task<RunningService> StartOnPostgresAsync(string connection = "")
    {
        var service = await OnPostgresAsync(connection);
        await service.StartAgainAsync();
        return service;
    }

    private static async Task<RunningService> OnPostgresAsync(string connection)
    {
        var data = Directory.CreateTempSubdirectory("vellumkeep-").FullName;
        var server = await LoadedDemo.CopyOnPostgresAsync(data);
        return new RunningService(true, ["--postgres", server.Connection + connection], data) { Postgres = server };
    }

    /// <summary>A service that lives through the demo, instead of taking it as it was loaded before.</summary>
    public static async Task<RunningService> LoadAsync(params string[] more)
    {
        var service = new RunningService(true, more);
        await service.StartAgainAsync();
        return service;
    }

    private string[] Arguments =>
        [
            .. more.Contains("--data") ? [] : new[] { "--data", Data },
            "--urls",
            "http://127.0.0.1:0",
            .. demo ? new[] { "--demo", Path.Combine(Root, "demo") } : [],
            .. more,
        ];

    /// <summary>Starts the process on the same data; the port may be another one.</summary>
    public async Task StartAgainAsync()
    {
        string[] args = [Path.Combine(HostHere.Home, "Vellumkeep.Service.dll"), .. Arguments];
        process = new()
        {
            StartInfo = new("dotnet", args) { RedirectStandardOutput = true, RedirectStandardError = true },
        };
        // Continued elsewhere than on the reader of the output, which Kill waits for.
        var at = new TaskCompletionSource<Uri>(TaskCreationOptions.RunContinuationsAsynchronously);
        process.OutputDataReceived += (_, e) =>
        {
            if (e.Data?.StartsWith("Vellumkeep is at ", StringComparison.Ordinal) == true)
                at.TrySetResult(new(e.Data["Vellumkeep is at ".Length..]));
        };
        process.ErrorDataReceived += (_, e) => Log += e.Data + "\n";
        process.EnableRaisingEvents = true;
        process.Exited += (_, _) => at.TrySetException(new InvalidOperationException("The service ended: " + Log));
        process.Start();
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        Url = await at.Task.WaitAsync(TimeSpan.FromSeconds(90));
    }

    /// <summary>Ends the process as a power cut would: no signal that it could answer.</summary>
    public void Kill()
    {
        process!.Kill(entireProcessTree: true);
        process.WaitForExit();
    }

    /// <summary>Ends the process as its operator does.</summary>
    public async Task StopAsync()
    {
        using var stop = Process.Start("kill", ["-TERM", $"{ProcessId}"]);
        await stop.WaitForExitAsync();
        await process!.WaitForExitAsync();
    }

    /// <summary>A client signed in by token, as one of the demo's people.</summary>
    public async Task<KeepClient> ClientAsync(string name) => new(Url, await ClientTokenAsync(name));

    public async Task<string> ClientTokenAsync(string name)
    {
        using var open = new KeepClient(Url, null);
        return (await open.TokenByPasswordAsync(new(name, Password(name), "test", 1), default)).Token;
    }

    /// <summary>
    /// A client of somebody whom a lead has just added: the password they are given is replaced first, as they have to.
    /// </summary>
    public async Task<KeepClient> NewcomerAsync(KeepClient lead, string name, string password)
    {
        var given = await lead.GivePasswordAsync(name, default);
        using var open = new KeepClient(Url, null);
        var client = new KeepClient(
            Url,
            (await open.TokenByPasswordAsync(new(name, given.Password, "test", 1), default)).Token
        );
        await client.ReplacePasswordAsync(new(given.Password, password), default);
        return client;
    }

    public static string Password(string name) =>
        "cold-store-" + (Array.IndexOf(["ines", "tomas", "odile", "bram", "maud-audit"], name) + 1);

    /// <summary>Runs the command as a process and gives its exit status, output and error.</summary>
    public async Task<(int Status, string Out, string Error)> CommandAsync(
        string line,
        string? input = null,
        string? token = null,
        IReadOnlyDictionary<string, string>? environment = null
    )
    {
        using var command = new Process
        {
            StartInfo = new(
                "dotnet",
                [Path.Combine(Root, "src/Cli/bin/Release/net10.0/vellumkeep.dll"), .. Words(line)]
            )
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
                RedirectStandardInput = true,
                WorkingDirectory = Root,
            },
        };
        foreach (var (key, value) in Around(token, environment))
            command.StartInfo.Environment[key] = value;
        command.Start();
        if (input is not null)
            await command.StandardInput.WriteAsync(input);
        command.StandardInput.Close();
        var error = command.StandardError.ReadToEndAsync();
        var output = await command.StandardOutput.ReadToEndAsync();
        await command.WaitForExitAsync();
        return (command.ExitCode, output, await error);
    }

    /// <summary>The same within this process: for what the command says, not for how it starts.</summary>
    public async Task<(int Status, string Out, string Error)> CommandHereAsync(
        string line,
        string? input = null,
        string? token = null,
        IReadOnlyDictionary<string, string>? environment = null
    )
    {
        var variables = Around(token, environment);
        var around = new Surroundings
        {
            In = new StringReader(input ?? ""),
            Out = new StringWriter(),
            Error = new StringWriter(),
            Variable = variables.GetValueOrDefault,
            // What a test writes is its own.
            Folder = Data,
        };
        var status = await CommandLine.RunAsync([.. Words(line)], around);
        // Help calls the command by the name of the program that it runs in.
        var told = around.Out.ToString()!.Replace(RootCommand.ExecutableName, "vellumkeep");
        return (status, told, around.Error.ToString()!);
    }

    // Words are parted by blanks; what stands between apostrophes is one of them.
    private static IEnumerable<string> Words(string line) =>
        line.Split('\'')
            .SelectMany((part, i) => i % 2 == 1 ? [part] : part.Split(' ', StringSplitOptions.RemoveEmptyEntries));

    private Dictionary<string, string> Around(string? token, IReadOnlyDictionary<string, string>? more)
    {
        var around = new Dictionary<string, string>(more ?? new Dictionary<string, string>());
        around.TryAdd("XDG_CONFIG_HOME", Path.Combine(Data, "config"));
        around.TryAdd("VELLUMKEEP_URL", Url.ToString());
        if (token is not null)
            around.TryAdd("VELLUMKEEP_TOKEN", token);
        return around;
    }

    /// <summary>
    /// Runs the service's own program to its end: backup, restore, add-lead, or a start that is refused.
    /// </summary>
    public static async Task<(int Status, string Out, string Error)> ServiceAsync(
        IEnumerable<string> args,
        string? input = null
    )
    {
        using var process = new Process
        {
            StartInfo = new("dotnet", [Path.Combine(HostHere.Home, "Vellumkeep.Service.dll"), .. args])
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
                RedirectStandardInput = true,
            },
        };
        process.Start();
        if (input is not null)
            await process.StandardInput.WriteAsync(input);
        process.StandardInput.Close();
        var error = process.StandardError.ReadToEndAsync();
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, output, await error);
    }

    /// <summary>Debian's Chromium without a network of its own.</summary>
    public static Task<IBrowser> BrowserAsync(IPlaywright playwright) =>
        playwright.Chromium.LaunchAsync(
            new()
            {
                ExecutablePath = "/usr/bin/chromium",
                Args =
                [
                    "--no-sandbox",
                    "--disable-gpu",
                    "--disable-background-networking",
                    "--disable-component-update",
                    "--disable-sync",
                    "--no-first-run",
                    "--disable-quic",
                    "--force-color-profile=srgb",
                    "--font-render-hinting=none",
                ],
            }
        );

    /// <summary>
    /// A page has read what it shows. The line of events stays open, so that the network is never idle.
    /// </summary>
    public static async Task SettledAsync(IPage page)
    {
        await page.Locator("main, .signin").First.WaitForAsync();
        for (var i = 0; i < 2; i++)
        {
            await page.Locator("[role=status].empty").First.WaitForAsync(new() { State = WaitForSelectorState.Hidden });
            await page.EvaluateAsync("document.fonts.ready.then(() => new Promise(r => setTimeout(r, 150)))");
        }
    }

    public async ValueTask DisposeAsync()
    {
        if (host is not null)
            await host.DisposeAsync();
        if (process is { HasExited: false })
            Kill();
        process?.Dispose();
        if (Postgres is not null)
            await Postgres.DisposeAsync();
        for (var i = 0; i < 5; i++)
            try
            {
                Directory.Delete(Data, true);
                if (Directory.Exists(Keys))
                    Directory.Delete(Keys, true);
                break;
            }
            catch (IOException)
            {
                await Task.Yield();
            }
    }

    /// <summary>The octets of a file that a service beside this process holds open.</summary>
    public static async Task<byte[]> ReadSharedAsync(string file, CancellationToken ct)
    {
        await using var from = new FileStream(
            file,
            FileMode.Open,
            FileAccess.Read,
            FileShare.ReadWrite | FileShare.Delete
        );
        using var to = new MemoryStream();
        await from.CopyToAsync(to, ct);
        return to.ToArray();
    }

    private static string FindRoot()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
            if (File.Exists(Path.Combine(at.FullName, "Vellumkeep.slnx")))
            {
                Directory.SetCurrentDirectory(at.FullName);
                return at.FullName;
            }

        throw new InvalidOperationException("The project's root was not found.");
    }
}
