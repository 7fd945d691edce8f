using System.Text.Json;
using Vellumkeep.Client;

namespace Vellumkeep.Cli.Terminal;

/// <summary>
/// Where the service is and with which token: from the environment, or from the file that sign-in leaves (mode 600).
/// </summary>
internal sealed class Session(Surroundings around)
{
    private sealed record Kept(string Url, string Token, string Name);

    private string File =>
        Path.Combine(
            around.Variable("XDG_CONFIG_HOME") is { Length: > 0 } xdg
                ? xdg
                : Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.UserProfile), ".config"),
            "vellumkeep",
            "session.json"
        );

    public KeepClient Open()
    {
        var url = around.Variable("VELLUMKEEP_URL");
        var token = around.Variable("VELLUMKEEP_TOKEN");
        if (url is { Length: > 0 } && token is { Length: > 0 })
            return new(Address(url), token);
        if (!System.IO.File.Exists(File))
            throw new Refusal(
                5,
                "You are not signed in. Next: vellumkeep sign-in --url http://127.0.0.1:5080 --name ines"
            );
        var kept = Read(System.IO.File.ReadAllText(File))
            ?? throw new Refusal(5, $"{File} is not readable. Next: vellumkeep sign-in");
        return new(Address(url is { Length: > 0 } ? url : kept.Url), token is { Length: > 0 } ? token : kept.Token);
    }

    private static Kept? Read(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<Kept>(text) is { Url: not null, Token: not null } kept ? kept : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    public void Keep(string url, string token, string name)
    {
        var folder = Path.GetDirectoryName(File)!;
        Directory.CreateDirectory(folder);
        var options = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        System.IO.File.Delete(File);
        using var stream = new FileStream(File, options);
        JsonSerializer.Serialize(stream, new Kept(url, token, name));
    }

    /// <summary>
    /// Reads a secret from a prompt without showing it, or a line of standard input; never from an argument.
    /// </summary>
    public string Password(string prompt)
    {
        if (around.InRedirected)
            return around.In.ReadLine() ?? "";
        around.Error.Write(prompt);
        var typed = new System.Text.StringBuilder();
        for (var key = Console.ReadKey(true); key.Key != ConsoleKey.Enter; key = Console.ReadKey(true))
            if (key.Key == ConsoleKey.Backspace && typed.Length > 0)
                typed.Length--;
            else if (!char.IsControl(key.KeyChar))
                typed.Append(key.KeyChar);
        around.Error.WriteLine();
        return typed.ToString();
    }

    public void End() => System.IO.File.Delete(File);

    public static Uri Address(string url) =>
        Uri.TryCreate(url, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https" && uri is not null
            ? uri
            : throw new Refusal(2, $"'{url}' is not an address of a service. Expected: http://127.0.0.1:5080");
}

/// <summary>A refusal with its exit status and one or two sentences.</summary>
internal sealed class Refusal(int status, string message) : Exception(message)
{
    public int Status { get; } = status;
}
