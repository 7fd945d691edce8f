namespace Vellumkeep.Contract;

/// <summary>A piece of a sentence: literal text, a value, an end (A or B), a tunnel, or a word.</summary>
public sealed record Phrase(string Kind, string Text);

/// <summary>A sentence: as plain text, and in pieces for a surface that sets values and ends apart.</summary>
public sealed record SentenceLine(string Text, IReadOnlyList<Phrase> Parts);

/// <summary>One sentence of a verdict. Tone: plain, weak or stops.</summary>
public sealed record VerdictSentence([property: Tone] string Tone, SentenceLine Says);

/// <summary>How a relation is drawn (whole, dotted, twoHairlines, thin, flag, gap), with its word.</summary>
public sealed record DrawnForm([property: StrokeForm] string Stroke, string Word);

/// <summary>A page of a list. Cursor: give it back to get the next page; null on the last.</summary>
public sealed record Page<T>(IReadOnlyList<T> Items, string? Cursor);

/// <summary>Somebody signed in: name, how to show it, roles.</summary>
public sealed record Me(
    string Name,
    string Display,
    IReadOnlyList<string> Roles,
    bool AllCustomers,
    string Today,
    bool MustReplacePassword
);

/// <summary>Name and password.</summary>
public sealed record SignIn(string Name, string Password);

/// <summary>Name and password, for a token made without a session.</summary>
public sealed record TokenByPassword(string Name, string Password, string TokenName, int Days);

/// <summary>
/// What a new token is for, how many days it lives (1 to 365), and the role beyond which it lets do nothing (lead when
/// left out).
/// </summary>
public sealed record NewToken(string Name, int Days, string? Most = null);

/// <summary>The old password and the new one.</summary>
public sealed record ReplacePassword(string Old, string New);

/// <summary>A password was replaced: how many sessions and tokens ended with the old one, and what stays.</summary>
public sealed record PasswordReplaced(int SessionsEnded, int TokensEnded, string Stays);

/// <summary>A token, shown this once.</summary>
public sealed record MadeToken(string Id, string Name, string Token, DateTimeOffset ExpiresAt);

/// <summary>One wrong field of an import: where, what is wrong, what would be right.</summary>
public sealed record FieldProblem(string Field, int Line, string Wrong, string Right);

/// <summary>What an import did, or would do: records by kind and code. Left: in the file, and already so.</summary>
public sealed record ImportOutcome(
    bool DryRun,
    IReadOnlyList<RecordName> Added,
    IReadOnlyList<ChangedRecord> Changed,
    int Left,
    IReadOnlyList<ImportFinding> FindingsAdded,
    IReadOnlyList<ImportFinding> FindingsRemoved
);

public sealed record RecordName(string Kind, string Code, string Name);

/// <summary>A record that an import changes, with every path that differs.</summary>
public sealed record ChangedRecord(string Kind, string Code, IReadOnlyList<Difference> Differences);

/// <summary>A finding that an import adds or removes.</summary>
public sealed record ImportFinding(string Tunnel, string Code, [property: Severity] string Severity, SentenceLine What);

/// <summary>A path at which two versions differ; null where there is nothing.</summary>
public sealed record Difference(string Path, string? Before, string? After);
