namespace Vellumkeep.Contract;

/// <summary>
/// A column of a sheet with the field it was taken for. Sure: its heading says so, or somebody did; otherwise a guess
/// to look at. Samples: the first cells below the heading.
/// </summary>
public sealed record SheetColumnLine(
    string Column,
    string Heading,
    string Field,
    bool Sure,
    IReadOnlyList<string> Samples
);

/// <summary>What a column can hold.</summary>
public sealed record SheetFieldLine(string Field, string About);

/// <summary>A cell that could not be read, by row and column; a row with one is left out whole.</summary>
public sealed record SheetProblemLine(int Row, string? Column, string Cell, string Wrong, string Right);

/// <summary>Something that was decided while reading, to be looked at.</summary>
public sealed record SheetNoteLine(int? Row, string? Column, string Text);

/// <summary>
/// What a sheet says and what importing it did or would do. LeftOut: tunnels with a cell that could not be read.
/// Outcome: null when nothing could be imported.
/// </summary>
public sealed record SheetOutcome
{
    public required string Name { get; init; }

    public required int HeadingRow { get; init; }

    public required IReadOnlyList<SheetColumnLine> Columns { get; init; }

    public required IReadOnlyList<SheetFieldLine> Fields { get; init; }

    public required int Tunnels { get; init; }

    public required int LeftOut { get; init; }

    public required IReadOnlyList<SheetProblemLine> Problems { get; init; }

    public required IReadOnlyList<SheetNoteLine> Notes { get; init; }

    public required ImportOutcome? Outcome { get; init; }
}
