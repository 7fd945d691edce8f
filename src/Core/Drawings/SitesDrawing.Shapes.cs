using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Drawings;

/// <summary>The shapes that a drawing of sites is made of.</summary>
public static partial class SitesDrawing
{
    private static string Other(DrawnTunnel t, string site) => t.SiteA == site ? t.SiteB : t.SiteA;

    /// <summary>
    /// Sites such that every tunnel ends at one of them: always the one that the most tunnels not yet covered reach.
    /// </summary>
    private static List<string> Hubs(DrawnTunnel[] tunnels)
    {
        var left = tunnels.ToList();
        var hubs = new List<string>();
        while (left.Count > 0)
        {
            var most = left.SelectMany(t => new[] { t.SiteA, t.SiteB }.Distinct())
                .GroupBy(s => s)
                .OrderByDescending(g => g.Count())
                .ThenByDescending(g => tunnels.Count(t => t.SiteA == g.Key || t.SiteB == g.Key))
                .ThenBy(g => g.Key, StringComparer.Ordinal)
                .First()
                .Key;
            hubs.Add(most);
            left.RemoveAll(t => t.SiteA == most || t.SiteB == most);
        }

        return hubs;
    }

    private static void Name(ImmutableArray<Shape>.Builder shapes, double x, double y, DrawnSite site, Anchor anchor)
    {
        shapes.Add(new Written(x, y + 8, site.Name, Ink.Plain, Face.Serif, 14.5, anchor, (RecordKind.Site, site.Code)));
        for (var i = 0; i < site.Lines.Length; i++)
            shapes.Add(new Written(x, y + 22 + (i * 13), site.Lines[i], Ink.Soft, Face.Mono, 11, anchor));
    }

    private static void Label(ImmutableArray<Shape>.Builder shapes, DrawnTunnel tunnel, Point start, bool onRight) =>
        shapes.Add(
            new Written(
                start.X + (onRight ? -8 : 8),
                start.Y - 5,
                tunnel.Code,
                Ink.Plain,
                Face.Mono,
                12,
                onRight ? Anchor.End : Anchor.Start,
                (RecordKind.Tunnel, tunnel.Code)
            )
        );

    private static void Line(
        ImmutableArray<Shape>.Builder shapes,
        DrawnTunnel tunnel,
        bool fromA,
        ImmutableArray<Point> points
    )
    {
        Form(shapes, tunnel.Planned ? null : tunnel.Stroke, points);
        foreach (var (point, end) in new[] { (points[0], fromA), (points[^1], !fromA) })
            shapes.Add(
                new Stroked([new(point.X, point.Y - 6), new(point.X, point.Y + 6)], end ? Ink.EndA : Ink.EndB, 4.5)
            );
    }

    /// <summary>
    /// One of the six forms along a line, or the hairline of what is only planned. What marks it stands in the middle
    /// of the longest level piece.
    /// </summary>
    private static void Form(ImmutableArray<Shape>.Builder shapes, Stroke? stroke, ImmutableArray<Point> points)
    {
        var ink = stroke switch
        {
            Stroke.Gap => Ink.Stops,
            Stroke.Thin or Stroke.Flag => Ink.Weak,
            Stroke.TwoHairlines or null => Ink.Soft,
            _ => Ink.Plain,
        };
        var level = Enumerable
            .Range(0, points.Length - 1)
            .Where(i => points[i].Y == points[i + 1].Y)
            .OrderByDescending(i => Math.Abs(points[i].X - points[i + 1].X))
            .First();
        // Nearer to the end of the piece, away from the label at its beginning.
        var (x, y) = (points[level].X + ((points[level + 1].X - points[level].X) * 0.72), points[level].Y);
        switch (stroke)
        {
            case null:
                shapes.Add(new Stroked(points, ink, 0.8));
                break;
            case Stroke.Dotted:
                shapes.Add(new Stroked(points, ink, 2.2, true));
                break;
            case Stroke.TwoHairlines:
                shapes.Add(new Stroked([.. points.Select(p => new Point(p.X, p.Y - 2))], ink, 0.9));
                shapes.Add(new Stroked([.. points.Select(p => new Point(p.X, p.Y + 2))], ink, 0.9));
                break;
            case Stroke.Thin:
                shapes.Add(new Stroked(points, ink, 1.1));
                break;
            case Stroke.Flag:
                shapes.Add(new Stroked(points, ink, 2.2));
                shapes.Add(
                    new Stroked(
                        [
                            new(x, y),
                            new(x, y - 10),
                            new(x + 11, y - 10),
                            new(x + 8, y - 7),
                            new(x + 11, y - 4),
                            new(x, y - 4),
                        ],
                        ink,
                        1.6
                    )
                );
                break;
            case Stroke.Gap:
                var ahead = Math.Sign(points[level + 1].X - points[level].X) * 9;
                shapes.Add(new Stroked([.. points.Take(level + 1), new(x - ahead, y)], ink, 2.2));
                shapes.Add(new Stroked([new(x + ahead, y), .. points.Skip(level + 1)], ink, 2.2));
                shapes.Add(new Stroked([new(x - ahead, y - 6), new(x - ahead, y + 6)], ink, 2.2));
                shapes.Add(new Stroked([new(x + ahead, y - 6), new(x + ahead, y + 6)], ink, 2.2));
                break;
            default:
                shapes.Add(new Stroked(points, ink, 2.2));
                break;
        }
    }
}
