using System.Text;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>The demo with its clock standing at one morning, so that what is told is the same on every day.</summary>
public sealed class StandingDemo : DemoService
{
    protected override Task<RunningService> StartAsync() => RunningService.HereAsync("--clock", "2026-11-24T08:00:00Z");
}

/// <summary>
/// The command, word for word as somebody reads it: the scripts in cases/commands are carried out line by
/// line, and what is told is held against what stands there. With KEEP_COMMANDS=1 the test writes what it found, to be
/// read before it is kept.
/// </summary>
public class CommandTests(StandingDemo demo) : IClassFixture<StandingDemo>
{
    [Fact]
    public async Task Every_script_tells_what_it_told_when_it_was_last_read()
    {
        var wrong = new List<string>();
        foreach (
            var file in Directory
                .GetFiles(Path.Combine(RunningService.Root, "tests/EndToEnd/cases/commands"), "*.txt")
                .Order(StringComparer.Ordinal)
        )
        {
            var kept = (await File.ReadAllTextAsync(file, TestContext.Current.CancellationToken)).ReplaceLineEndings(
                "\n"
            );
            var found = new StringBuilder();
            found.Append(kept.Split('\n')[0]).Append('\n');
            foreach (var line in kept.Split('\n').Where(l => l.StartsWith("$ ", StringComparison.Ordinal)))
            {
                found.Append(line).Append('\n');
                var (who, command) = (line[2..].Split(' ')[0], line[2..][(line.IndexOf(' ', 2) - 1)..]);
                var (status, told, error) =
                    who == "nobody"
                        ? await demo.Service.CommandHereAsync(command, null, "vk_nobody")
                        : await demo.Command(who, command);
                foreach (var text in new[] { told, error })
                    if (text.Length > 0)
                        found.Append(text.ReplaceLineEndings("\n").TrimEnd('\n')).Append('\n');
                found.Append($"[{status}]\n\n");
            }

            if (Environment.GetEnvironmentVariable("KEEP_COMMANDS") == "1")
                await File.WriteAllTextAsync(file, found.ToString(), TestContext.Current.CancellationToken);
            else if (found.ToString() != kept)
                wrong.Add($"{Path.GetFileName(file)}: {First(kept, found.ToString())}");
        }

        wrong.ShouldBeEmpty();
    }

    private static string First(string kept, string found)
    {
        var (a, b) = (kept.Split('\n'), found.Split('\n'));
        var at = Enumerable
            .Range(0, Math.Max(a.Length, b.Length))
            .First(i => a.ElementAtOrDefault(i) != b.ElementAtOrDefault(i));
        return $"line {at + 1} was '{a.ElementAtOrDefault(at)}', is '{b.ElementAtOrDefault(at)}'";
    }
}
