using System.CommandLine;
using System.CommandLine.Parsing;
using Vellumkeep.Core.Parsing;

namespace Vellumkeep.Cli.Terminal;

/// <summary>What is wrong with a command line, each with what there is instead.</summary>
internal static class Misuse
{
    /// <summary>One sentence or two for each thing that is wrong; none when the line can be run.</summary>
    public static IReadOnlyList<string> Of(ParseResult parsed)
    {
        string[] unknown = [.. UnknownOptions(parsed).Distinct()];
        if (unknown.Length > 0)
            return [.. unknown.Select(o => NoOption(parsed, o))];
        if (parsed.Errors.Count == 0)
            return [];
        var command = parsed.CommandResult.Command;
        if (command.Subcommands.Any() && (command.Action is null || parsed.UnmatchedTokens.Count > 0))
            return [NoCommand(parsed)];
        string[] missing = [.. Missing(parsed)];
        if (missing.Length > 0)
            return missing;
        if (parsed.UnmatchedTokens.Count > 0)
            return
            [
                .. parsed.UnmatchedTokens.Select(v =>
                    $"{PathOf(parsed)} takes no further value, and '{Typed.Short(v)}' is one."
                ),
            ];
        return [.. parsed.Errors.Select(OfValue).Distinct()];
    }

    /// <summary>The words of a command from the first: vellumkeep tunnel show.</summary>
    public static string PathOf(ParseResult parsed) => string.Join(' ', Commands(parsed.CommandResult).Reverse());

    private static IEnumerable<string> Commands(SymbolResult? result)
    {
        for (; result is CommandResult command; result = result.Parent)
            yield return command.Command is RootCommand ? "vellumkeep" : command.Command.Name;
    }

    /// <summary>
    /// What looks like an option and is none, also where it stands in the place of a value: no code begins with two
    /// hyphens.
    /// </summary>
    private static IEnumerable<string> UnknownOptions(ParseResult parsed) =>
        parsed
            .CommandResult.Children.OfType<ArgumentResult>()
            .SelectMany(a => a.Tokens)
            .Select(t => t.Value)
            .Concat(parsed.UnmatchedTokens)
            .Where(t => t.StartsWith("--", StringComparison.Ordinal));

    private static string NoOption(ParseResult parsed, string option)
    {
        var options = parsed
            .CommandResult.Command.Options.Where(o => !o.Hidden && o is not System.CommandLine.Help.HelpOption)
            .Select(o => o.Name)
            .ToArray();
        var known = options.Length > 0 ? string.Join(", ", options) : "none";
        return $"{PathOf(parsed)} has no option '{Typed.Short(option)}'. Expected: {known}.";
    }

    private static string NoCommand(ParseResult parsed)
    {
        var verbs = string.Join(
            ", ",
            parsed.CommandResult.Command.Subcommands.Where(c => !c.Hidden).Select(c => c.Name)
        );
        return parsed.UnmatchedTokens is [var word, ..]
            ? $"'{Typed.Short(word)}' is not a command of {PathOf(parsed)}. Expected: {verbs}."
            : $"{PathOf(parsed)} needs a command. Expected: {verbs}.";
    }

    private static IEnumerable<string> Missing(ParseResult parsed)
    {
        var command = parsed.CommandResult.Command;
        foreach (var argument in command.Arguments.Where(a => a.Arity.MinimumNumberOfValues > 0))
            if (parsed.GetResult(argument) is not { Tokens.Count: > 0 })
                yield return $"{PathOf(parsed)} needs <{argument.Name}>: {argument.Description}.";
        foreach (var option in command.Options.Where(o => o.Required))
            if (parsed.GetResult(option) is null or { Implicit: true })
                yield return $"{PathOf(parsed)} needs {option.Name}: {option.Description}.";
    }

    /// <summary>A value that cannot be read as what the option or argument takes.</summary>
    private static string OfValue(ParseError error) =>
        error.SymbolResult switch
        {
            OptionResult { Tokens: [] } o => $"{o.Option.Name} needs a value: {o.Option.Description}.",
            OptionResult o => $"{o.Option.Name}: {Unread(o.Tokens[^1].Value, o.Option.ValueType)}",
            ArgumentResult { Tokens.Count: > 0 } a =>
                $"<{a.Argument.Name}>: {Unread(a.Tokens[^1].Value, a.Argument.ValueType)}",
            _ => error.Message,
        };

    private static string Unread(string value, Type type) =>
        $"'{Typed.Short(value)}' cannot be read. Expected: {TypeOf(type)}.";

    private static string TypeOf(Type type) =>
        (Nullable.GetUnderlyingType(type) ?? type) switch
        {
            var t when t == typeof(int) || t == typeof(long) => "a whole number",
            var t when t == typeof(decimal) || t == typeof(double) => "a number",
            var t when t == typeof(bool) => "true or false",
            _ => "one value",
        };
}
