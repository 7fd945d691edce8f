using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;
using Vellumkeep.Views;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Our own words and the finding codes; it needs no service.</summary>
internal static class GlossaryCommand
{
    public static Command Make(Frame frame)
    {
        var word = new Argument<string?>("word")
        {
            Description = "a word or a code, such as fix or PAIR-05; all when left out",
            Arity = ArgumentArity.ZeroOrOne,
        };
        return Alone(
            "glossary",
            "our own words and every finding code, with their meaning",
            (p, _) =>
            {
                var lines = Found(p.GetValue(word));
                frame.Shows(p, lines, () =>
                {
                    foreach (var line in lines)
                        frame.Screen.Wrapped($"{line.Term}: {line.Meaning}");
                });
                return Task.FromResult(0);
            },
            word
        );
    }

    private static IReadOnlyList<GlossaryLine> Found(string? word)
    {
        var all = Glossary.Words.Concat(Glossary.Codes).ToArray();
        if (word is null)
            return all;
        var found = all.Where(l => l.Term.StartsWith(word, StringComparison.OrdinalIgnoreCase)).ToArray();
        return found.Length > 0
            ? found
            : throw new Refusal(
                3,
                $"The glossary has no '{Typed.Short(word)}'. Nearest: "
                    + $"{string.Join(", ", Core.Parsing.Typed.Nearest(word, all.Select(l => l.Term)))}."
            );
    }
}
