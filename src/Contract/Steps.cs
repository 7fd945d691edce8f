namespace Vellumkeep.Contract;

/// <summary>A value of a step. Before: what stands there until then. Waits: it is pending.</summary>
public sealed record StepValueLine(string Label, string Text, string? Before = null, bool Waits = false)
{
    /// <summary>That it is there only for now: what it must become, and by when.</summary>
    public string? OnlyUntil { get; init; }
}

/// <summary>One step. Where: A, B or us. Outcome: done, skipped, failed, or null.</summary>
public sealed record StepPage
{
    public required int Number { get; init; }

    public required string Key { get; init; }

    [RunSheetPart]
    public required string Part { get; init; }

    [StepPlace]
    public required string Where { get; init; }

    public required string? Asked { get; init; }

    public required SentenceLine Do { get; init; }

    public required IReadOnlyList<StepValueLine> Enter { get; init; }

    public required IReadOnlyList<StepValueLine> Expect { get; init; }

    public required SentenceLine? Proof { get; init; }

    /// <summary>Whether it cannot be done without proof, or the reason why there is none.</summary>
    public required bool NeedsProof { get; init; }

    /// <summary>What it waits for, while it cannot be done; null when it can.</summary>
    public required SentenceLine? Waits { get; init; }

    public required int Minutes { get; init; }

    public required SentenceLine? Stops { get; init; }

    public required SentenceLine? Undo { get; init; }

    [StepOutcome]
    public required string? Outcome { get; init; }

    public required IReadOnlyList<AttemptLine> Attempts { get; init; }

    /// <summary>Until when the last attempt can be taken back; null when it cannot.</summary>
    public required DateTimeOffset? TakeBackUntil { get; init; }

    /// <summary>
    /// Which steps enter, remove and expect the same at the same place, so that one record serves them all: equal for
    /// those that are alike, null for a step that is like no other.
    /// </summary>
    public required string? Alike { get; init; }

    public string? Tunnel { get; init; }

    public string? Gateway { get; init; }

    public required IReadOnlyList<StepValueLine> Remove { get; init; }
}

/// <summary>One attempt at a step.</summary>
public sealed record AttemptLine
{
    [StepOutcome]
    public required string Outcome { get; init; }

    public required string By { get; init; }

    public required DateTimeOffset At { get; init; }

    public required string? Remark { get; init; }

    public required string? Planned { get; init; }

    public required string? Set { get; init; }

    public required string? Reason { get; init; }

    public string? Proof { get; init; }

    /// <summary>Why it was done without proof.</summary>
    public string? WithoutProof { get; init; }

    public ProofFileLine? File { get; init; }

    /// <summary>Who took it back and when: it no longer counts.</summary>
    public TakenBackLine? TakenBack { get; init; }
}

/// <summary>That an attempt was recorded by mistake.</summary>
public sealed record TakenBackLine(string By, DateTimeOffset At);
