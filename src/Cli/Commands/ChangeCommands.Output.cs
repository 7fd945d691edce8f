using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

internal sealed partial class ChangeCommands
{
    private void Told(ChangePage c)
    {
        screen.Line($"{screen.In("strong", c.Code)} is {c.State}.");
        screen.Verdict(c.Verdict);
        if (c.State == "under way" && c.Steps.FirstOrDefault(s => s.Outcome is null or "failed") is { } next)
        {
            var device = Printing.Device(c, next) is { } on ? $" on {on}" : "";
            var at = next.Where == "us" ? "" : $" at {next.Where}{device}";
            var ask = next.Asked is null ? "" : $"ask {next.Asked}: ";
            var stops = next.Stops is null ? "" : $" {next.Stops.Text}";
            screen.Wrapped($"Next, step {next.Number}{at}: {ask}{next.Do.Text}{stops}");
            Printing.StepValues(screen, next, 4);
            if (next.Proof is not null)
                screen.Wrapped($"proof: {next.Proof.Text}", 4, "soft");
        }

        if (c.LeftOver.Count > 0)
            screen.Wrapped(
                $"Left over: {string.Join("; ", c.LeftOver)}. Next: vellumkeep change draft free {c.Tunnel} "
                    + $"--left-from {c.Code} --reason \"...\"",
                0,
                "weak"
            );
    }

    private Command Written(string verb, string about, string path) =>
        frame.Verb(
            verb,
            about,
            async (p, c, ct) =>
            {
                var text = await c.TextAsync(
                    $"changes/{Uri.EscapeDataString((await c.ChangeAsync(p.GetValue(name)!, ct)).Code)}/{path}",
                    ct
                );
                if (p.GetValue(output) is { } file)
                {
                    await File.WriteAllTextAsync(frame.Around.Written(file), text, ct);
                    screen.Line($"Written to {file}.");
                }
                else
                    frame.Screen.Write(text);
                return 0;
            },
            name,
            output
        );

    private ProofFileGiven? FileOf(ParseResult p)
    {
        if (p.GetValue(proofFile) is not { } path)
            return null;
        if (!File.Exists(path))
            throw new Refusal(2, $"There is no file {path}. Expected: a file of at most 4 MiB that is there.");
        return new FileInfo(path).Length > 4 << 20
            ? throw new Refusal(
                2,
                $"{path} is larger than 4 MiB. Expected: the part of a large capture that proves it."
            )
            : new(Path.GetFileName(path), Convert.ToBase64String(File.ReadAllBytes(path)));
    }

    private string? ProofOf(ParseResult p)
    {
        if (p.GetValue(proof) is not { } text || !text.StartsWith('@'))
            return p.GetValue(proof);
        return File.Exists(text[1..])
            ? File.ReadAllText(text[1..])
            : throw new Refusal(
                2,
                $"There is no file {text[1..]}. Expected: @ and a file that is there, or the proof itself."
            );
    }
}
