namespace Vellumkeep.Service.Edge;

/// <summary>Reasons that have to be given.</summary>
internal static class Reasons
{
    /// <summary>A reason, trimmed.</summary>
    /// <param name="most">Characters that it can have.</param>
    /// <param name="right">What it says, such as "what the change is for".</param>
    /// <exception cref="ProblemException">It is missing, or too long.</exception>
    public static string Need(string? given, int most, string right)
    {
        var reason = given?.Trim() ?? "";
        if (reason.Length == 0)
            throw ProblemException.Field("reason", "the reason is missing", right);
        return reason.Length <= most
            ? reason
            : throw ProblemException.Field(
                "reason",
                $"the reason has {reason.Length:N0} characters",
                $"{right}, in at most {most:N0} characters"
            );
    }
}
