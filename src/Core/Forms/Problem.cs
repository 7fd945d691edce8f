namespace Vellumkeep.Core.Forms;

/// <summary>
/// One thing wrong with what was given: the field, the line when it came from a file (else 0), what is wrong, and what
/// would be right.
/// </summary>
public sealed record Problem(string Field, int Line, string Wrong, string Right);
