namespace Vellumkeep.Core.Findings;

/// <summary>How bad a finding is, worst first.</summary>
public enum Severity
{
    /// <summary>Will not come up, or will stop working.</summary>
    Blocks,

    /// <summary>Works badly or in part.</summary>
    Degrades,

    /// <summary>Works, but unsafe.</summary>
    Risk,

    /// <summary>Worth knowing.</summary>
    Note,
}

/// <summary>A value that a finding rests on: which end, what it is, and its source in words.</summary>
/// <param name="End">The end; null when it concerns both.</param>
/// <param name="Label">What it is.</param>
/// <param name="Value">As it is written.</param>
/// <param name="From">Where it comes from, in words.</param>
public sealed record Evidence(EndName? End, string Label, string Value, string From)
{
    /// <summary>
    /// The id of the customer it belongs to, where it is a value of somebody else's tunnel; null otherwise.
    /// </summary>
    public string? Owner { get; init; }
}

/// <summary>
/// Something wrong, weak or worth knowing about one tunnel. Known by its code and subject; the digest covers the values
/// it rests on, so that acceptance and the day of first appearance end when the values change.
/// </summary>
public sealed record Finding
{
    /// <summary>The code of the check that found it, which gives it.</summary>
    public string Code { get; init; } = "";

    /// <summary>How much it weighs.</summary>
    public required Severity Severity { get; init; }

    /// <summary>What of the tunnel it is about: an end, a pair, a setting; empty for the whole.</summary>
    public string Subject { get; init; } = "";

    /// <summary>The comparison row it belongs to; null when to none.</summary>
    public RowKey? RowKey { get; init; }

    /// <summary>The subnet pairs that it touches; none when it touches all.</summary>
    public ImmutableArray<SubnetPair> Pairs { get; init; } = [];

    /// <summary>Seconds after the tunnel comes up when it bites later; null when at once.</summary>
    public long? After { get; init; }

    /// <summary>What is so.</summary>
    public required Sentence What { get; init; }

    /// <summary>Why it matters.</summary>
    public required Sentence Why { get; init; }

    /// <summary>What to do.</summary>
    public required Sentence Do { get; init; }

    /// <summary>
    /// What an expert would say of it when opening the tunnel; null when it is not worth a sentence there.
    /// </summary>
    public Sentence? Consequence { get; init; }

    /// <summary>The standard with its section, where there is one.</summary>
    public string? Standard { get; init; }

    /// <summary>The values that it rests on.</summary>
    public ImmutableArray<Evidence> Evidence { get; init; } = [];

    /// <summary>The subject of the finding that nobody can tell yet whether the tunnel comes up.</summary>
    internal const string OfOutcome = "outcome";

    /// <summary>Whether it says that nobody can tell yet whether the tunnel comes up.</summary>
    public bool LeavesOpen => Subject == OfOutcome && Code == Pair.LeftUndetermined.Check.Code;

    /// <summary>That it was accepted as it stands; it stays visible, and counts no longer.</summary>
    public Acceptance? Accepted { get; init; }

    /// <summary>SHA-256 over code, subject, severity and the values, in hex.</summary>
    public string Digest =>
        Convert.ToHexStringLower(
            System.Security.Cryptography.SHA256.HashData(
                System.Text.Encoding.UTF8.GetBytes(
                    string.Join(
                        '\u001f',
                        new[] { Code, Subject, Severity.ToString(), What.ToString() }.Concat(
                            Evidence.Select(e => $"{e.End}\u001e{e.Label}\u001e{e.Value}")
                        )
                    )
                )
            )
        );
}

/// <summary>The words of severities.</summary>
public static class Severities
{
    /// <summary>Blocks, degrades, risk, note.</summary>
    public static readonly Words<Severity> Words = new(
        "a severity",
        (Severity.Blocks, "blocks"),
        (Severity.Degrades, "degrades"),
        (Severity.Risk, "risk"),
        (Severity.Note, "note")
    );
}
