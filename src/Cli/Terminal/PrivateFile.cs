namespace Vellumkeep.Cli.Terminal;

/// <summary>Files that hold an inventory are their owner's alone, whatever the umask.</summary>
internal static class PrivateFile
{
    public static FileStream Create(string path)
    {
        File.Delete(path);
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        return new(path, options);
    }

    public static async Task WriteAsync(string path, string text, CancellationToken ct)
    {
        await using var writer = new StreamWriter(Create(path));
        await writer.WriteAsync(text.AsMemory(), ct);
    }
}
