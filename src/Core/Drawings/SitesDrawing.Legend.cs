using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Drawings;

/// <summary>What the lines of the drawing mean, below it.</summary>
public static partial class SitesDrawing
{
    /// <summary>About how wide a letter of the legend is, in the units of the drawing.</summary>
    private const double WideLetter = 6.4;

    private static double Legend(ImmutableArray<Shape>.Builder shapes, DrawnTunnel[] tunnels, double y)
    {
        var forms = tunnels
            .Select(t => (Stroke: t.Planned ? (Stroke?)null : t.Stroke, Word: t.Planned ? "planned" : t.Word))
            .Distinct()
            .OrderBy(f => f.Stroke is { } s ? (int)s : 99)
            .ThenBy(f => f.Word, StringComparer.Ordinal)
            .ToArray();
        var x = 20.0;
        // The next place for a sign and its word; a new line where the word would not fit.
        Point Next(double sign, string word)
        {
            var wide = sign + 8 + (word.Length * WideLetter) + 24;
            if (x > 20 && x + wide > Width)
                (x, y) = (20, y + 24);
            x += wide;
            return new(x - wide, y);
        }

        foreach (var (stroke, word) in forms)
        {
            var at = Next(60, word);
            Form(shapes, stroke, [at, new(at.X + 60, at.Y)]);
            shapes.Add(new Written(at.X + 68, at.Y + 4, word, Ink.Soft, Face.Sans, 12));
        }

        foreach (var (word, ink) in new[] { ("end A", Ink.EndA), ("end B", Ink.EndB) })
        {
            var at = Next(0, word);
            shapes.Add(new Stroked([new(at.X, at.Y - 6), new(at.X, at.Y + 6)], ink, 4.5));
            shapes.Add(new Written(at.X + 8, at.Y + 4, word, Ink.Soft, Face.Sans, 12));
        }

        return y + 20;
    }
}
