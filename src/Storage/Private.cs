namespace Vellumkeep.Storage;

/// <summary>
/// Files and folders that their owner alone reads and writes, whatever the umask (POSIX.1-2024, section 4.5 of the base
/// definitions).
/// </summary>
public static class Private
{
    private const UnixFileMode OwnersFile = UnixFileMode.UserRead | UnixFileMode.UserWrite;
    private const UnixFileMode OwnersFolder = OwnersFile | UnixFileMode.UserExecute;

    /// <summary>Makes a folder with mode 0700; one that is there is brought to it.</summary>
    public static void Folder(string path)
    {
        if (OperatingSystem.IsWindows())
        {
            Directory.CreateDirectory(path);
            return;
        }

        // What is there and is not a folder of ours alone, such as the current one, is left as it is.
        if (!Directory.Exists(path))
            Directory.CreateDirectory(path, OwnersFolder);
        else if (IsOurs(path))
            System.IO.File.SetUnixFileMode(path, OwnersFolder);
    }

    /// <summary>
    /// Makes an empty file with mode 0600 when there is none; one that is there is brought to it. SQLite gives the
    /// files beside it the same.
    /// </summary>
    public static void File(string path)
    {
        if (OperatingSystem.IsWindows())
            return;
        if (System.IO.File.Exists(path))
            System.IO.File.SetUnixFileMode(path, OwnersFile);
        else
            Create(path).Dispose();
    }

    /// <summary>Opens a file for writing, anew, with mode 0600.</summary>
    public static FileStream Create(string path)
    {
        // An older file of that name would keep its mode.
        System.IO.File.Delete(path);
        var options = new FileStreamOptions
        {
            Mode = FileMode.CreateNew,
            Access = FileAccess.ReadWrite,
            Share = FileShare.Read,
        };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = OwnersFile;
        return new(path, options);
    }

    /// <summary>A folder that holds a database of ours, or nothing.</summary>
    private static bool IsOurs(string path) =>
        Directory.EnumerateFiles(path, "*.key").Any()
        || System.IO.File.Exists(Path.Combine(path, "vellumkeep.db"))
        || !Directory.EnumerateFileSystemEntries(path).Any();
}

/// <summary>The line of writers did not move for so long that waiting on makes no sense.</summary>
public sealed class BusyException() : Exception("The line of writers does not move.");
