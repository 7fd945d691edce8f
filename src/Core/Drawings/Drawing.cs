namespace Vellumkeep.Core.Drawings;

/// <summary>
/// What a stroke or text is drawn in: plain and soft ink, hairlines, one of the two ends, or what blocks or is weak.
/// </summary>
public enum Ink
{
    Plain,
    Soft,
    Hair,
    EndA,
    EndB,
    Stops,
    Weak,
}

/// <summary>The face of a text: names in the serif, sentences in the sans, values in the fixed-width one.</summary>
public enum Face
{
    Serif,
    Sans,
    Mono,
}

/// <summary>On which side of its point a text stands.</summary>
public enum Anchor
{
    Start,
    Middle,
    End,
}

/// <summary>A part of a drawing. Lengths in px from the upper left corner.</summary>
public abstract record Shape;

/// <summary>A line through points. Dotted: round dots instead of a line.</summary>
public sealed record Stroked(ImmutableArray<Point> Points, Ink Ink, double Width, bool Dotted = false) : Shape;

/// <summary>A box: filled lightly, or hatched, or with an outline of dashes only.</summary>
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

public readonly record struct Point(double X, double Y);

/// <summary>A finished layout, in px. About: what it shows, for those who do not see it.</summary>
public sealed record Drawing(double Width, double Height, string Title, string About, ImmutableArray<Shape> Shapes);
