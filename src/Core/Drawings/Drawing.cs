namespace Vellumkeep.Core.Drawings;

/// <summary>
/// What a stroke or text is drawn in: plain and soft ink, hairlines, one of the two ends, or what blocks or is weak.
/// </summary>
public enum Ink
{
    /// <summary>Text and frames.</summary>
    Plain,

    /// <summary>What stands back.</summary>
    Soft,

    /// <summary>Fine lines.</summary>
    Hair,

    /// <summary>End A.</summary>
    EndA,

    /// <summary>End B.</summary>
    EndB,

    /// <summary>What stops it.</summary>
    Stops,

    /// <summary>What is weak.</summary>
    Weak,
}

/// <summary>The face of a text: names in the serif, sentences in the sans, values in the fixed-width one.</summary>
public enum Face
{
    /// <summary>Names.</summary>
    Serif,

    /// <summary>Words.</summary>
    Sans,

    /// <summary>Values.</summary>
    Mono,
}

/// <summary>On which side of its point a text stands.</summary>
public enum Anchor
{
    /// <summary>The text begins at its point.</summary>
    Start,

    /// <summary>The text stands around its point.</summary>
    Middle,

    /// <summary>The text ends at its point.</summary>
    End,
}

/// <summary>A part of a drawing. Lengths in px from the upper left corner.</summary>
public abstract record Shape;

/// <summary>A line through points. Dotted: round dots instead of a line.</summary>
/// <param name="Points">Through which it goes, in that order.</param>
/// <param name="Ink">In which of the few colours of the surface.</param>
/// <param name="Width">In pixels.</param>
/// <param name="Dotted">Round dots instead of a line.</param>
public sealed record Stroked(ImmutableArray<Point> Points, Ink Ink, double Width, bool Dotted = false) : Shape;

/// <summary>A box: filled lightly, or hatched, or with an outline of dashes only.</summary>
/// <param name="X">From the left, in pixels.</param>
/// <param name="Y">From the top, in pixels.</param>
/// <param name="Width">In pixels.</param>
/// <param name="Height">In pixels.</param>
/// <param name="Ink">In which of the few colours of the surface.</param>
/// <param name="Hatched">Whether it is filled with lines.</param>
/// <param name="Dashed">Whether it is an outline of dashes only.</param>
public sealed record Box(
    double X,
    double Y,
    double Width,
    double Height,
    Ink Ink,
    bool Hatched = false,
    bool Dashed = false
) : Shape;

/// <summary>A text. Link: the kind and code of the record it names, for a surface that can open it.</summary>
/// <param name="X">From the left, in pixels.</param>
/// <param name="Y">From the top, in pixels.</param>
/// <param name="Text">What is written, on one line.</param>
/// <param name="Ink">In which of the few colours of the surface.</param>
/// <param name="Face">In which of the two typefaces.</param>
/// <param name="Size">The height of the letters, in pixels.</param>
/// <param name="Anchor">Which side of it stands at X.</param>
/// <param name="Link">The record it names, for a surface that can open it; null when it names none.</param>
public sealed record Written(
    double X,
    double Y,
    string Text,
    Ink Ink,
    Face Face,
    double Size,
    Anchor Anchor = Anchor.Start,
    (RecordKind Kind, string Code)? Link = null
) : Shape;

/// <summary>A point of a drawing, in pixels from its upper left corner.</summary>
/// <param name="X">From the left, in pixels.</param>
/// <param name="Y">From the top, in pixels.</param>
public readonly record struct Point(double X, double Y);

/// <summary>A finished layout, in px. About: what it shows, for those who do not see it.</summary>
/// <param name="Width">In pixels.</param>
/// <param name="Height">In pixels.</param>
/// <param name="Title">What it is of.</param>
/// <param name="About">What it shows, for those who do not see it.</param>
/// <param name="Shapes">What is drawn, from the back to the front.</param>
public sealed record Drawing(double Width, double Height, string Title, string About, ImmutableArray<Shape> Shapes);
