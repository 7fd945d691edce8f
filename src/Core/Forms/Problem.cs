namespace Vellumkeep.Core.Forms;

/// <summary>
/// One thing wrong with what was given: the field, the line when it came from a file (else 0), what is wrong, and what
/// would be right.
/// </summary>
/// <param name="Field">Its path, such as <c>b.subnets</c>.</param>
/// <param name="Line">Of the file, from 1; 0 when it came from none.</param>
/// <param name="Wrong">What is wrong with it, naming what was given.</param>
/// <param name="Right">What would be right, as it can be typed.</param>
public sealed record Problem(string Field, int Line, string Wrong, string Right)
{
    /// <summary>In which way it is wrong, where something is told by it; null otherwise.</summary>
    public Slip? Slip { get; init; }

    /// <summary>What could not be read.</summary>
    public static Problem Of<T>(string field, int line, Parsed<T> unread) =>
        new(field, line, unread.Wrong!, unread.Right!) { Slip = unread.Slip };
}
