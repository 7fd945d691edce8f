using System.Runtime.InteropServices;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// The largest file that a process may write (POSIX.1-2024, RLIMIT_FSIZE): beyond it a write fails as on a full disk,
/// and the service goes on.
/// </summary>
internal static class FileLimit
{
    // SIGXFSZ on Linux: unanswered it ends the process.
    private const PosixSignal BeyondFileSize = (PosixSignal)25;

    private static PosixSignalRegistration? registration;

    public static void Survive() =>
        registration ??= PosixSignalRegistration.Create(BeyondFileSize, signal => signal.Cancel = true);
}
