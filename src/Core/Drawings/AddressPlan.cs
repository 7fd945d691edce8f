namespace Vellumkeep.Core.Drawings;

/// <summary>A network in an address plan.</summary>
/// <param name="Prefix">As it is at the site.</param>
/// <param name="PresentedAs">As it is seen inside tunnels, where that is another.</param>
/// <param name="Name">What people call it.</param>
/// <param name="SiteCode">The site by its code.</param>
/// <param name="SiteName">The site as people call it.</param>
public sealed record PlannedNetwork(Prefix Prefix, Prefix? PresentedAs, string Name, string SiteCode, string SiteName);

/// <summary>
/// A piece of address space with what lies in it. Free: maximal prefixes in which nothing lies, in order.
/// </summary>
/// <param name="Space">The piece that is drawn.</param>
/// <param name="Items">What lies in it, by address.</param>
/// <param name="Free">Maximal prefixes in which nothing lies, in order.</param>
public sealed record PlanArea(Prefix Space, ImmutableArray<PlanItem> Items, ImmutableArray<Prefix> Free);

/// <summary>
/// A prefix in an area. Real: as it is at the site; otherwise as it is seen inside tunnels. Overlaps: codes of the
/// first sites whose prefixes of the same sort overlap it, at most <see cref="AddressPlan.MostNamed"/>; More: how many
/// other sites do. Harmless: all of them are separated by NAT.
/// </summary>
/// <param name="Prefix">Where it lies.</param>
/// <param name="Real">As it is at the site; otherwise as it is seen inside tunnels.</param>
/// <param name="Network">The network that it is of.</param>
/// <param name="Overlaps">Codes of the first sites whose prefixes of the same sort overlap it.</param>
/// <param name="More">How many other sites do.</param>
/// <param name="Harmless">Whether no tunnel could bring those together.</param>
public sealed record PlanItem(
    Prefix Prefix,
    bool Real,
    PlannedNetwork Network,
    ImmutableArray<string> Overlaps,
    int More,
    bool Harmless
);

/// <summary>
/// The addresses of a customer to scale: what is where, what overlaps, what has NAT, what is free.
/// </summary>
public static class AddressPlan
{
    /// <summary>Sites that are named beside one prefix.</summary>
    public const int MostNamed = 12;

    private const double Column = 580,
        Lanes = 150,
        LaneWidth = 15,
        Label = 16;

    /// <summary>
    /// Splits the space into areas in which at least a 64th is used (RFC 1918 leaves room for plans that lie far
    /// apart), each as the smallest prefix around its networks, so that a drawing to scale of it can be read.
    /// </summary>
    public static ImmutableArray<PlanArea> Areas(IEnumerable<PlannedNetwork> networks)
    {
        PlannedNetwork[] all = [.. networks.OrderBy(n => n.Prefix).ThenBy(n => n.SiteCode, StringComparer.Ordinal)];
        var items = all.SelectMany(n =>
                n.PresentedAs is { } shown
                    ? new[] { (Prefix: n.Prefix, Real: true, Network: n), (Prefix: shown, Real: false, Network: n) }
                    : [(n.Prefix, true, n)]
            )
            .ToArray();
        // Networks overlap at their sites; what is seen inside tunnels overlaps with what others show there.
        var made = items
            .Select(i =>
            {
                var others = items
                    .Where(o =>
                        o.Network != i.Network
                        && o.Prefix.Overlaps(i.Prefix)
                        && (o.Real == i.Real || MaySee(o) || MaySee(i))
                    )
                    .ToArray();
                string[] codes = [.. others.Select(o => o.Network.SiteCode).Distinct().Order(StringComparer.Ordinal)];
                return new PlanItem(
                    i.Prefix,
                    i.Real,
                    i.Network,
                    [.. codes.Take(MostNamed)],
                    Math.Max(0, codes.Length - MostNamed),
                    others.All(o => !(MaySee(i) && MaySee(o)))
                );
            })
            .ToArray();
        return
        [
            .. made.GroupBy(i => i.Prefix.Family)
                .OrderBy(g => g.Key)
                .SelectMany(g => Split([.. g]))
                .OrderBy(a => a.Space),
        ];

        static bool MaySee((Prefix Prefix, bool Real, PlannedNetwork Network) i) =>
            !i.Real || i.Network.PresentedAs is null;
    }

    private static IEnumerable<PlanArea> Split(PlanItem[] items)
    {
        if (items.Length == 0)
            yield break;
        var space = Around(items);
        var taken = Prefixes.Merge(items.Select(i => i.Prefix));
        var used = taken.Sum(p => Math.Pow(2, space.Length - p.Length));
        if (used * 64 >= 1 || taken.Length == 1)
        {
            yield return new(
                space,
                [
                    .. items
                        .OrderBy(i => i.Prefix)
                        .ThenBy(i => i.Network.SiteCode, StringComparer.Ordinal)
                        .ThenByDescending(i => i.Real),
                ],
                [.. Prefixes.Subtract([space], taken).Order()]
            );
            yield break;
        }

        var half = Prefix.Around(space.First, space.Length + 1);
        foreach (
            var area in Split([.. items.Where(i => half.Contains(i.Prefix))])
                .Concat(Split([.. items.Where(i => !half.Contains(i.Prefix))]))
        )
            yield return area;
    }

    private static Prefix Around(PlanItem[] items)
    {
        var length = items.Min(i => i.Prefix.Length);
        while (!items.All(i => Prefix.Around(items[0].Prefix.First, length).Contains(i.Prefix)))
            length--;
        return Prefix.Around(items[0].Prefix.First, length);
    }

    /// <summary>The areas as rulers beside each other, each to a scale of its own that is written above it.</summary>
    public static Drawing Draw(string title, ImmutableArray<PlanArea> areas)
    {
        var shapes = ImmutableArray.CreateBuilder<Shape>();
        double[] bottoms = [10, 10];
        foreach (var area in areas)
        {
            var column = bottoms[1] < bottoms[0] ? 1 : 0;
            bottoms[column] = Ruler(shapes, area, column * (Column + 20), bottoms[column]) + 34;
        }

        var height = bottoms.Max();
        double x = 0;
        foreach (
            var (text, ink, hatched, dashed) in new[]
            {
                ("at the site", Ink.Soft, false, false),
                ("as seen inside tunnels", Ink.Soft, false, true),
                ("overlap, separated by NAT", Ink.Weak, true, false),
                ("overlap, not separated", Ink.Stops, true, false),
            }
        )
        {
            shapes.Add(new Box(x, height, 15, 14, ink, hatched, dashed));
            shapes.Add(new Written(x + 22, height + 11, text, Ink.Soft, Face.Sans, 12));
            x += 50 + (text.Length * 6.4);
        }

        return new(
            (Column * 2) + 20,
            height + 24,
            title,
            string.Join(
                ". ",
                areas.Select(a => $"{a.Space}: {string.Join(", ", a.Items.Where(i => i.Real).Select(Described))}")
            ),
            shapes.ToImmutable()
        );
    }

    private static string Described(PlanItem item) =>
        $"{item.Prefix} {item.Network.Name} at {item.Network.SiteName}"
        + (item.Overlaps.IsEmpty ? "" : $", overlaps {Others(item)}");

    private static string Others(PlanItem item) =>
        Say.And(item.More == 0 ? item.Overlaps : item.Overlaps.Add($"{item.More} more"));

    private static double Ruler(ImmutableArray<Shape>.Builder shapes, PlanArea area, double x, double y) =>
        new AreaRuler(shapes, area, x, y).Draw();

    /// <summary>One area as a ruler: its prefixes to scale, free space named, each prefix with a label.</summary>
    private sealed class AreaRuler(ImmutableArray<Shape>.Builder shapes, PlanArea area, double x, double top)
    {
        private readonly double y = top + 24;
        private readonly double height = Math.Max(area.Items.Length * Label, area.Items.Length == 1 ? 26 : 90);
        private readonly List<(PlanItem Item, double Right)> placed = [];
        private int lanes;

        /// <summary>Draws it; where it ends.</summary>
        public double Draw()
        {
            Head();
            shapes.Add(new Stroked([new(x + Lanes - 8, y), new(x + Lanes - 8, y + height)], Ink.Plain, 1.2));
            foreach (var free in area.Free.Where(f => Tall(f) >= 13))
                Free(free);
            Boxes();
            var labels = x + Lanes + (Math.Min(lanes, 8) * LaneWidth) + 62;
            var at = Spread([.. placed.Select(p => Middle(p.Item))], y + (Label / 2), y + height - (Label / 2));
            for (var i = 0; i < placed.Count; i++)
                Labelled(placed[i].Item, placed[i].Right, labels, at[i]);
            return y + height;
        }

        private double Top(Prefix p) =>
            y
            + (
                height
                * (double)(p.First.Bits - area.Space.First.Bits)
                / Math.Pow(2, area.Space.Network.Width - area.Space.Length)
            );

        private double Tall(Prefix p) => Math.Max(2, height * Math.Pow(2, area.Space.Length - p.Length));

        private double Middle(PlanItem item) => Top(item.Prefix) + (Tall(item.Prefix) / 2);

        private static Ink InkOf(PlanItem item, Ink apart) =>
            item.Overlaps.IsEmpty ? apart
            : item.Harmless ? Ink.Weak
            : Ink.Stops;

        private void Head()
        {
            var space = area.Space.ToString();
            shapes.Add(new Written(x, top + 12, space, Ink.Plain, Face.Mono, 13.5));
            shapes.Add(new Written(x + (space.Length * 8.2) + 14, top + 12, Used(), Ink.Soft, Face.Sans, 12));
        }

        private string Used()
        {
            var real = area.Items.Where(i => i.Real).ToArray();
            var free = area.Free.IsEmpty ? "" : $", largest free /{area.Free.Min(f => f.Length)}";
            if (real.Length == 0)
                return $"only as seen inside tunnels{free}";
            var share = real.Sum(i => Math.Pow(2, area.Space.Length - i.Prefix.Length));
            var of = share >= 1 ? "full" : string.Create(CultureInfo.InvariantCulture, $"{share * 100:0.#} % of it");
            return $"{Say.Count(real.Length, "network")}, {of}{free}";
        }

        /// <summary>Free space is named where there is room for its name.</summary>
        private void Free(Prefix free)
        {
            shapes.Add(
                new Written(
                    x + Lanes - 20,
                    Top(free) + (Tall(free) / 2) + 4,
                    $"{free} free",
                    Ink.Soft,
                    Face.Mono,
                    11,
                    Anchor.End
                )
            );
            shapes.Add(
                new Stroked(
                    [new(x + Lanes - 14, Top(free) + 1), new(x + Lanes - 14, Top(free) + Tall(free) - 1)],
                    Ink.Hair,
                    2
                )
            );
        }

        private void Boxes()
        {
            var ends = new List<double>();
            foreach (var item in area.Items)
            {
                var lane = ends.FindIndex(l => l <= Top(item.Prefix) + 0.01);
                if (lane < 0)
                {
                    lane = ends.Count;
                    ends.Add(0);
                }

                ends[lane] = Top(item.Prefix) + Tall(item.Prefix);
                // Lanes beyond the eighth stand on one another: the labels still tell them apart.
                var left = x + Lanes + (Math.Min(lane, 7) * LaneWidth);
                shapes.Add(
                    new Box(
                        left,
                        Top(item.Prefix),
                        LaneWidth - 3,
                        Tall(item.Prefix),
                        InkOf(item, Ink.Soft),
                        !item.Overlaps.IsEmpty,
                        !item.Real
                    )
                );
                placed.Add((item, left + LaneWidth - 3));
            }

            lanes = ends.Count;
        }

        private void Labelled(PlanItem item, double right, double labels, double at)
        {
            var middle = Middle(item);
            shapes.Add(
                new Stroked(
                    [new(right, middle), new(right + 6, middle), new(labels - 10, at), new(labels - 4, at)],
                    Ink.Hair,
                    0.6
                )
            );
            var prefix = item.Prefix.ToString();
            shapes.Add(new Written(labels, at + 4, prefix, InkOf(item, Ink.Plain), Face.Mono, 11.5));
            var room = (int)((x + Column - labels - (prefix.Length * 7.1) - 8) / 6.1);
            var text = Told(item);
            shapes.Add(
                new Written(
                    labels + (prefix.Length * 7.1) + 8,
                    at + 4,
                    text.Length > room ? text[..Math.Max(1, room - 1)] + "…" : text,
                    Ink.Soft,
                    Face.Sans,
                    11.5,
                    Anchor.Start,
                    (RecordKind.Site, item.Network.SiteCode)
                )
            );
        }

        private static string Told(PlanItem item)
        {
            var network = item.Network;
            var overlaps = item.Overlaps.IsEmpty || item.Harmless ? "" : $", overlaps {Others(item)}";
            if (!item.Real)
                return $"{network.Prefix} of {network.SiteName}{overlaps}";
            var seen = network.PresentedAs is { } shown ? $", seen as {shown}" : "";
            return $"{network.SiteName}{seen}{overlaps}, {network.Name}";
        }
    }

    /// <summary>
    /// Moves requested positions apart to at least a label's height, each as little as possible, within the bounds.
    /// </summary>
    internal static double[] Spread(double[] requested, double from, double to)
    {
        var order = Enumerable.Range(0, requested.Length).OrderBy(i => requested[i]).ThenBy(i => i).ToArray();
        // Labels that would touch form a group around the mean of what they request; groups that then touch become one.
        var groups = new List<(double Sum, int Count)>();
        double Start((double Sum, int Count) g) =>
            Math.Clamp(
                (g.Sum / g.Count) - ((g.Count - 1) * Label / 2),
                from,
                Math.Max(from, to - ((g.Count - 1) * Label))
            );
        foreach (var i in order)
        {
            groups.Add((requested[i], 1));
            while (groups.Count > 1 && Start(groups[^2]) + (groups[^2].Count * Label) > Start(groups[^1]) + 0.001)
            {
                groups[^2] = (groups[^2].Sum + groups[^1].Sum, groups[^2].Count + groups[^1].Count);
                groups.RemoveAt(groups.Count - 1);
            }
        }

        var placed = new double[requested.Length];
        var next = 0;
        foreach (var g in groups)
            for (var i = 0; i < g.Count; i++)
                placed[order[next++]] = Start(g) + (i * Label);
        return placed;
    }
}
