using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Drawings;

/// <summary>A site as it is drawn. Lines: its gateways with their outer addresses.</summary>
/// <param name="Code">The site by its code.</param>
/// <param name="Name">The site as people call it.</param>
/// <param name="Lines">Its gateways with their outer addresses.</param>
public sealed record DrawnSite(string Code, string Name, ImmutableArray<string> Lines);

/// <summary>A tunnel as it is drawn, between two sites by code.</summary>
/// <param name="Code">The tunnel by its code.</param>
/// <param name="SiteA">The code of the site at A.</param>
/// <param name="SiteB">The code of the site at B.</param>
/// <param name="Stroke">In which form its line is drawn.</param>
/// <param name="Word">What that form means.</param>
/// <param name="Planned">Whether it does not exist yet.</param>
public sealed record DrawnTunnel(string Code, string SiteA, string SiteB, Stroke Stroke, string Word, bool Planned);

/// <summary>
/// Sites and the tunnels between them. The sites with the most tunnels stand in the middle as bars, one below the
/// other; every other site stands once at the side, level with the bar that it reaches, so that lines run level and a
/// label on a line is crossed by none. Deterministic: the order of what is given does not matter.
/// </summary>
public static partial class SitesDrawing
{
    private const double Width = 1180,
        LeftBar = 556,
        RightBar = 624,
        LeftEnd = 262,
        RightEnd = 918,
        Row = 34,
        More = 20,
        Visit = 15,
        Gap = 46;

    /// <summary>Draws sites and the tunnels between them. The same input gives the same drawing.</summary>
    public static Drawing Of(string title, IEnumerable<DrawnSite> sites, IEnumerable<DrawnTunnel> tunnels)
    {
        var made = new Making(
            sites.ToDictionary(s => s.Code),
            [.. tunnels.OrderBy(t => t.Code, StringComparer.Ordinal)]
        );
        return made.Drawn(title);
    }

    /// <summary>A line that waits for the bar further down that it runs to. Bend: where it turns down.</summary>
    private sealed record Waiting(DrawnTunnel Tunnel, string From, Point At, bool Left, double Bend);

    /// <summary>The drawing as it grows from the top down, bar by bar.</summary>
    private sealed class Making
    {
        private readonly Dictionary<string, DrawnSite> known;
        private readonly DrawnTunnel[] all;
        private readonly List<string> hubs;
        private readonly Dictionary<string, int> place;
        private readonly Spoke[] spokes;
        private readonly DrawnTunnel[] between;
        private readonly ImmutableArray<Shape>.Builder shapes = ImmutableArray.CreateBuilder<Shape>();
        private readonly List<Shape> bars = [];
        private readonly List<Waiting> waiting = [];
        private double left;
        private double right;

        public Making(Dictionary<string, DrawnSite> known, DrawnTunnel[] all)
        {
            (this.known, this.all) = (known, all);
            hubs = Hubs(all);
            place = hubs.Select((h, i) => (h, i)).ToDictionary(p => p.h, p => p.i);
            spokes = Spokes();
            between = [.. all.Where(t => place.ContainsKey(t.SiteA) && place.ContainsKey(t.SiteB))];
        }

        public Drawing Drawn(string title)
        {
            var y = 20.0;
            foreach (var hub in hubs)
                y = Bar(hub, y);
            y = Legend(shapes, all, Alone(y));
            var told = all.Take(80)
                .Select(t => $"{t.Code} from {known[t.SiteA].Name} to {known[t.SiteB].Name}, {t.Word}");
            return new(
                Width,
                y,
                title,
                $"{known.Count} sites and {all.Length} tunnels: {string.Join("; ", told)}",
                [.. bars, .. shapes]
            );
        }

        /// <summary>
        /// Each site at the side belongs to the first bar that it reaches; what it has to later bars runs down to them.
        /// What runs furthest down stands lowest, so that lines to later bars do not cross.
        /// </summary>
        private Spoke[] Spokes() =>
            [
                .. all.Where(t => t.SiteA != t.SiteB)
                    .SelectMany(t =>
                        new[] { t.SiteA, t.SiteB }.Where(s => !place.ContainsKey(s)).Select(s => (Site: s, Tunnel: t))
                    )
                    .GroupBy(p => p.Site)
                    .Select(g => new Spoke(
                        g.Key,
                        [
                            .. g.Select(p => p.Tunnel)
                                .OrderBy(t => place[Other(t, g.Key)])
                                .ThenBy(t => t.Code, StringComparer.Ordinal),
                        ],
                        g.Min(p => place[Other(p.Tunnel, g.Key)])
                    ))
                    .OrderBy(s => s.Tunnels.Max(t => place[Other(t, s.Site)]))
                    .ThenBy(s => known[s.Site].Name, StringComparer.Ordinal)
                    .ThenBy(s => s.Site, StringComparer.Ordinal),
            ];

        /// <summary>One bar with everything that reaches it; where the next one begins.</summary>
        private double Bar(string hub, double y)
        {
            var site = known[hub];
            Name(shapes, (LeftBar + RightBar) / 2, y, site, Anchor.Middle);
            var top = y + 18 + (14 * site.Lines.Length) + 4;
            (left, right) = (top, top);
            Come(hub);
            foreach (var spoke in spokes.Where(s => place[hub] == s.Home))
                Side(hub, spoke);
            var down = between
                .Where(t => place[hub] == Math.Min(place[t.SiteA], place[t.SiteB]))
                .OrderBy(t => Math.Max(place[t.SiteA], place[t.SiteB]));
            foreach (var tunnel in down)
                Down(hub, tunnel);
            var end = Math.Max(Math.Max(left, right), top + Row) + 4;
            bars.Add(new Stroked([new(LeftBar, top), new(LeftBar, end)], Ink.Plain, 2));
            bars.Add(new Stroked([new(RightBar, top), new(RightBar, end)], Ink.Plain, 2));
            return end + Gap;
        }

        /// <summary>What comes down from bars above has its places at the top.</summary>
        private void Come(string hub)
        {
            var comes = waiting
                .Where(w => Other(w.Tunnel, w.From) == hub || (w.From == hub && w.Tunnel.SiteA == w.Tunnel.SiteB))
                .ToArray();
            foreach (var w in comes)
            {
                ref var slot = ref w.Left ? ref left : ref right;
                slot += Visit;
                var end = new Point(w.Left ? LeftBar : RightBar, slot - 4);
                var bend = w.Left ? w.Bend : RightBar + 150;
                Line(
                    shapes,
                    w.Tunnel,
                    w.From == w.Tunnel.SiteA,
                    w.Left
                        ? [w.At, new(bend, w.At.Y), new(bend, end.Y), end]
                        : [w.At, new(bend, w.At.Y), new(RightBar + 40, end.Y), end]
                );
                waiting.Remove(w);
            }
        }

        /// <summary>
        /// A site at the side that is shorter, level with the bar; on the right when it reaches several.
        /// </summary>
        private void Side(string hub, Spoke spoke)
        {
            var several = spoke.Tunnels.Any(t => Other(t, spoke.Site) != hub);
            var onRight = several || right < left;
            ref var at = ref onRight ? ref right : ref left;
            var site = known[spoke.Site];
            Name(shapes, onRight ? RightEnd + 14 : LeftEnd - 14, at + 6, site, onRight ? Anchor.Start : Anchor.End);
            for (var i = 0; i < spoke.Tunnels.Length; i++)
            {
                var tunnel = spoke.Tunnels[i];
                var start = new Point(onRight ? RightEnd : LeftEnd, at + 16 + (i * More));
                Label(shapes, tunnel, start, onRight);
                if (Other(tunnel, spoke.Site) == hub)
                    Line(
                        shapes,
                        tunnel,
                        tunnel.SiteA == spoke.Site,
                        [start, new(onRight ? RightBar : LeftBar, start.Y)]
                    );
                else
                    waiting.Add(new(tunnel, spoke.Site, start, false, 0));
            }

            at += Math.Max(Row, ((spoke.Tunnels.Length - 1) * More) + 26 + Math.Max(0, (site.Lines.Length - 1) * 13));
        }

        /// <summary>A tunnel to a bar further down, or back to this one.</summary>
        private void Down(string hub, DrawnTunnel tunnel)
        {
            left += More + 4;
            var start = new Point(LeftBar, left - 4);
            shapes.Add(
                new Written(
                    LeftBar - 8,
                    left - 9,
                    tunnel.Code,
                    Ink.Plain,
                    Face.Mono,
                    12,
                    Anchor.End,
                    (RecordKind.Tunnel, tunnel.Code)
                )
            );
            if (tunnel.SiteA != tunnel.SiteB)
            {
                var bend = LeftBar - 170 - (9 * (waiting.Count(w => w.Left) % 12));
                waiting.Add(new(tunnel, hub, start, true, bend));
                return;
            }

            Line(
                shapes,
                tunnel,
                true,
                [start, new(LeftBar - 60, start.Y), new(LeftBar - 60, start.Y + 12), new(LeftBar, start.Y + 12)]
            );
            left += 14;
        }

        /// <summary>Sites that no tunnel reaches are named, so that none is missing.</summary>
        private double Alone(double y)
        {
            var alone = known
                .Values.Where(s => all.All(t => t.SiteA != s.Code && t.SiteB != s.Code))
                .OrderBy(s => s.Code, StringComparer.Ordinal)
                .ToArray();
            if (alone.Length == 0)
                return y;
            shapes.Add(new Written(20, y, "No tunnel reaches", Ink.Soft, Face.Sans, 12.5));
            foreach (var (site, i) in alone.Select((s, i) => (s, i)))
                shapes.Add(
                    new Written(
                        20 + (i % 3 * 380),
                        y + 22 + (i / 3 * 20),
                        $"{site.Name}, {site.Code}",
                        Ink.Plain,
                        Face.Sans,
                        13,
                        Anchor.Start,
                        (RecordKind.Site, site.Code)
                    )
                );
            return y + 30 + ((alone.Length + 2) / 3 * 20);
        }
    }

    private sealed record Spoke(string Site, ImmutableArray<DrawnTunnel> Tunnels, int Home);
}
