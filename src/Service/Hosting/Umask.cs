using System.Runtime.InteropServices;

namespace Vellumkeep.Service.Hosting;

/// <summary>The mask of file modes that a process makes files with (POSIX.1-2024, umask()).</summary>
internal static partial class Umask
{
    /// <summary>Every file and folder that this process makes from now on is its owner's alone.</summary>
    public static void Owner()
    {
        if (!OperatingSystem.IsWindows())
            _ = Set(0b000_111_111);
    }

    [LibraryImport("libc", EntryPoint = "umask")]
    private static partial uint Set(uint mask);
}
