using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>The whole database as one file.</summary>
internal static class BackupCommand
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var backup = new Argument<string>("file") { Description = "the file to write" };
        return f.Verb(
            "backup",
            "the whole database as one file, while the service runs; restored with: vellumkeep service restore "
                + "FILE --data FOLDER",
            async (p, c, ct) =>
            {
                var file = f.Around.Written(p.GetValue(backup)!);
                var part = file + ".part";
                await using (var to = PrivateFile.Create(part))
                    await c.BackupAsync(to, ct);
                File.Move(part, file, true);
                s.Line(
                    $"Written: {file}, {new FileInfo(file).Length:N0} octets. It contains digests of passwords and "
                        + $"tokens. Store it safely."
                );
                return 0;
            },
            backup
        );
    }
}
