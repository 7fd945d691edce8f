namespace Vellumkeep.Exchange.Sheets;

/// <summary>
/// A cell that could not be read, by row and column, with what would be right. Column is null when the row as a whole
/// is meant.
/// </summary>
public sealed record SheetProblem(int Row, string? Column, string Cell, string Wrong, string Right);

/// <summary>Something that was decided while reading and should be looked at.</summary>
public sealed record SheetNote(int? Row, string? Column, string Text);

/// <summary>What is there already, asked by what a sheet calls it.</summary>
public sealed record SheetKnown(
    Func<string, Customer?> Customer,
    Func<Customer, string, Site?> Site,
    Func<string, Gateway?> Gateway,
    Func<Address, Gateway?> AtOuter,
    Func<string, Platform?> Platform,
    Func<string, bool> HasTunnel,
    Func<RecordKind, string, bool> HasCode
);

/// <summary>
/// What a sheet says: a keepfile of its whole rows, and every row that could not be read, with the reason.
/// </summary>
/// <param name="Root">The keepfile; the line of each item is the row it came from.</param>
/// <param name="Tunnels">Tunnels that were read whole.</param>
/// <param name="LeftOut">Rows of tunnels that were not.</param>
public sealed record SheetRead(
    ImmutableArray<SheetColumn> Columns,
    int HeadingRow,
    MapNode Root,
    ImmutableArray<SheetProblem> Problems,
    ImmutableArray<SheetNote> Notes,
    int Tunnels,
    int LeftOut
);
