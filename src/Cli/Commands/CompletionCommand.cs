using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>
/// What a shell needs to complete verbs and options: it asks the command itself at each press of Tab.
/// </summary>
internal static class CompletionCommand
{
    private static readonly Dictionary<string, string> Scripts = new()
    {
        ["bash"] = """
            _vellumkeep() {
              local IFS=$'\n'
              COMPREPLY=($(vellumkeep "[suggest:$COMP_POINT]" "$COMP_LINE" 2> /dev/null))
            }
            complete -o default -F _vellumkeep vellumkeep
            """,
        ["zsh"] = """
            _vellumkeep() {
              local -a words_that_fit
              words_that_fit=("${(@f)$(vellumkeep "[suggest:$CURSOR]" "$BUFFER" 2> /dev/null)}")
              compadd -- $words_that_fit
            }
            compdef _vellumkeep vellumkeep
            """,
        ["fish"] = """
            complete -c vellumkeep -f -a '(vellumkeep "[suggest:"(commandline -C)"]" (commandline -p) 2> /dev/null)'
            """,
    };

    public static Command Make(Frame frame)
    {
        var shell = new Argument<string>("shell") { Description = string.Join(", ", Scripts.Keys) };
        return Alone(
            "completion",
            "a script that completes verbs and options; for bash: source <(vellumkeep completion bash)",
            (p, _) =>
            {
                frame.Screen.Line(
                    Scripts.TryGetValue(p.GetValue(shell)!, out var script)
                        ? script
                        : throw new Refusal(
                            2,
                            $"'{p.GetValue(shell)}' is not a supported shell. Expected: {string.Join(", ", Scripts.Keys)}"
                        )
                );
                return Task.FromResult(0);
            },
            shell
        );
    }
}
