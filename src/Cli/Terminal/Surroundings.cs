namespace Vellumkeep.Cli.Terminal;

/// <summary>What a run of the command has around it: what it reads and writes, and its environment.</summary>
public sealed record Surroundings
{
    public required TextReader In { get; init; }

    public required TextWriter Out { get; init; }

    public required TextWriter Error { get; init; }

    /// <summary>A variable of the environment by its name; null when it is not set.</summary>
    public required Func<string, string?> Variable { get; init; }

    /// <summary>What is read comes from a file or another program, so that nobody can be asked.</summary>
    public bool InRedirected { get; init; } = true;

    /// <summary>What is written goes to a file or another program, so that colour and width are nobody's.</summary>
    public bool OutRedirected { get; init; } = true;

    public bool ErrorRedirected { get; init; } = true;

    /// <summary>The folder that the names of files which are written begin from.</summary>
    public string Folder { get; init; } = "";

    /// <summary>Where a file of a name that was typed is written.</summary>
    public string Written(string name) => Path.Combine(Folder, name);

    /// <summary>Those of this process.</summary>
    public static Surroundings OfProcess =>
        new()
        {
            In = Console.In,
            Out = Console.Out,
            Error = Console.Error,
            Variable = Environment.GetEnvironmentVariable,
            InRedirected = Console.IsInputRedirected,
            OutRedirected = Console.IsOutputRedirected,
            ErrorRedirected = Console.IsErrorRedirected,
        };
}
