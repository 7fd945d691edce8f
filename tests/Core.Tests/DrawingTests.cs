using CsCheck;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Drawings;
using Vellumkeep.Exchange.Drawings;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class DrawingTests
{
    private static readonly Gen<(DrawnSite[] Sites, DrawnTunnel[] Tunnels)> Customers =
        from n in Gen.Int[2, 40]
        from hub in Gen.Bool
        from ends in Gen.Select(Gen.Int[0, n - 1], Gen.Int[0, n - 1], Gen.Int[0, 5], Gen.Bool).Array[1, 60]
        select (
            Enumerable
                .Range(0, n)
                .Select(i => new DrawnSite($"S{i}", $"Site number {i}", [$"gw{i} 192.0.2.{i}"]))
                .ToArray(),
            ends.Select(
                    (e, i) =>
                        new DrawnTunnel(
                            $"T-{i:000}",
                            $"S{(hub ? 0 : e.Item1)}",
                            $"S{e.Item2}",
                            (Stroke)e.Item3,
                            "word",
                            e.Item4
                        )
                )
                .ToArray()
        );

    /// <summary>
    /// Every form that a line of the demo or of somebody's records can have, with the word that goes with it.
    /// </summary>
    private static readonly (Stroke Stroke, string Word)[] Meant =
    [
        (Stroke.Whole, "agrees"),
        (Stroke.Whole, "harmless difference"),
        (Stroke.Dotted, "agrees, not confirmed"),
        (Stroke.TwoHairlines, "undetermined"),
        (Stroke.Thin, "degrades"),
        (Stroke.Flag, "risk"),
        (Stroke.Gap, "blocks"),
    ];

    [Fact]
    public void The_legend_has_every_form_once_and_none_of_its_words_runs_into_a_line()
    {
        DrawnSite[] sites = [new("A", "Ashlow", []), new("B", "Bracken", [])];
        foreach (var count in Enumerable.Range(1, Meant.Length))
        {
            var tunnels = Meant
                .Take(count)
                .Select((m, i) => new DrawnTunnel($"T-{i}", "A", "B", m.Stroke, m.Word, false))
                .Append(new DrawnTunnel("T-P", "A", "B", Stroke.Whole, "agrees", true));
            var drawing = SitesDrawing.Of("x", sites, tunnels);
            var words = drawing
                .Shapes.OfType<Written>()
                .Where(w => w.Face == Face.Sans && w.Size == 12 && w.Y > drawing.Height - 60)
                .ToArray();
            words
                .Select(w => w.Text)
                .Order()
                .ShouldBe(Meant.Take(count).Select(m => m.Word).Concat(["planned", "end A", "end B"]).Order());
            foreach (var word in words)
            {
                (word.X + Width(word)).ShouldBeLessThanOrEqualTo(drawing.Width, word.Text);
                drawing
                    .Shapes.OfType<Stroked>()
                    .SelectMany(s => s.Points)
                    .Where(p => Math.Abs(p.Y - word.Y + 4) < 8 && p.X >= word.X)
                    .ShouldAllBe(p => p.X > word.X + (0.5 * word.Size * word.Text.Length), word.Text);
            }
        }
    }

    [Fact]
    public void Every_site_and_tunnel_is_named_and_no_two_texts_stand_on_each_other() =>
        Customers.Sample(
            c =>
            {
                var drawing = SitesDrawing.Of("x", c.Sites, c.Tunnels);
                var texts = drawing.Shapes.OfType<Written>().ToArray();
                foreach (var tunnel in c.Tunnels)
                    texts.Count(t => t.Text == tunnel.Code).ShouldBe(1, tunnel.Code);
                foreach (var site in c.Sites)
                    texts
                        .Count(t => t.Link is (Records.RecordKind.Site, var code) && code == site.Code)
                        .ShouldBe(1, site.Code);
                // Widths as the faces have them at most: 0.62 of the size for a letter.
                var boxes = texts
                    .Select(t =>
                        (
                            t.Text,
                            Left: t.Anchor switch
                            {
                                Anchor.End => t.X - Width(t),
                                Anchor.Middle => t.X - (Width(t) / 2),
                                _ => t.X,
                            },
                            Right: t.Anchor switch
                            {
                                Anchor.End => t.X,
                                Anchor.Middle => t.X + (Width(t) / 2),
                                _ => t.X + Width(t),
                            },
                            t.Y
                        )
                    )
                    .ToArray();
                foreach (var (x, i) in boxes.Select((b, i) => (b, i)))
                {
                    x.Left.ShouldBeGreaterThanOrEqualTo(0, x.Text);
                    x.Right.ShouldBeLessThanOrEqualTo(drawing.Width, x.Text);
                    x.Y.ShouldBeLessThanOrEqualTo(drawing.Height, x.Text);
                    foreach (var y in boxes.Skip(i + 1))
                        (x.Left < y.Right && y.Left < x.Right && Math.Abs(x.Y - y.Y) < 9).ShouldBeFalse(
                            $"{x.Text} on {y.Text}"
                        );
                }
            },
            iter: 300
        );

    [Fact]
    public void The_order_of_what_is_given_does_not_matter_and_every_line_ends_at_an_A_and_a_B() =>
        Customers.Sample(
            c =>
            {
                var drawing = SitesDrawing.Of("x", c.Sites, c.Tunnels);
                Svg.Write(SitesDrawing.Of("x", c.Sites.Reverse(), c.Tunnels.Reverse())).ShouldBe(Svg.Write(drawing));
                // One more of each for the legend.
                drawing.Shapes.OfType<Stroked>().Count(s => s.Ink == Ink.EndA).ShouldBe(c.Tunnels.Length + 1);
                drawing.Shapes.OfType<Stroked>().Count(s => s.Ink == Ink.EndB).ShouldBe(c.Tunnels.Length + 1);
            },
            iter: 100
        );

    [Fact]
    public void Text_that_would_be_markup_is_text()
    {
        var svg = Svg.Write(
            SitesDrawing.Of(
                "<x>",
                [new("A", "R&D <script>", []), new("B", "B", [])],
                [new("T", "A", "B", Stroke.Gap, "blocks", false)]
            ),
            (kind, code) => $"/{kind}/{code}"
        );
        System.Xml.Linq.XDocument.Parse(svg).Descendants().ShouldNotContain(e => e.Name.LocalName == "script");
        svg.ShouldContain("R&amp;D &lt;script&gt;");
        svg.ShouldContain("href=\"/Tunnel/T\"");
    }

    private static PlannedNetwork Network(string prefix, string site, string? shown = null) =>
        new(Prefix.Parse(prefix).Value, shown is null ? null : Prefix.Parse(shown).Value, "lan", site, site);

    [Fact]
    public void Plans_that_lie_far_apart_are_areas_of_their_own()
    {
        var areas = AddressPlan.Areas([
            Network("10.61.0.0/24", "A"),
            Network("10.61.8.0/22", "A"),
            Network("192.168.1.0/24", "B"),
            Network("2001:db8:1::/64", "A"),
            Network("2001:db8:1:1::/64", "B"),
        ]);
        areas.Select(a => a.Space.ToString()).ShouldBe(["10.61.0.0/20", "192.168.1.0/24", "2001:db8:1::/63"]);
        areas[0]
            .Free.Select(f => f.ToString())
            .ShouldBe(["10.61.1.0/24", "10.61.2.0/23", "10.61.4.0/22", "10.61.12.0/22"]);
    }

    [Fact]
    public void Overlaps_are_told_apart_by_translation_or_not()
    {
        var items = AddressPlan
            .Areas([
                Network("192.168.1.0/24", "SHOP1", "10.99.1.0/24"),
                Network("192.168.1.0/25", "SHOP2", "10.99.2.0/25"),
                Network("10.99.2.0/24", "SHOP3"),
            ])
            .SelectMany(a => a.Items)
            .ToArray();
        items
            .Select(i =>
                (
                    $"{i.Prefix} {(i.Real ? "real" : "presented")} {string.Join('+', i.Overlaps)} "
                    + (
                        i.Overlaps.IsEmpty ? ""
                        : i.Harmless ? "harmless"
                        : "clash"
                    )
                ).Trim()
            )
            .Order()
            .ShouldBe([
                "10.99.1.0/24 presented",
                "10.99.2.0/24 real SHOP2 clash",
                "10.99.2.0/25 presented SHOP3 clash",
                "192.168.1.0/24 real SHOP2 harmless",
                "192.168.1.0/25 real SHOP1 harmless",
            ]);
    }

    [Fact]
    public void Areas_hold_all_that_was_given_within_their_space_and_count_what_is_free() =>
        Gen.Select(Gen.UInt, Gen.Int[16, 30])
            .Array[1, 40]
            .Sample(
                list =>
                {
                    PlannedNetwork[] networks =
                    [
                        .. list.Select(
                            (x, i) =>
                                new PlannedNetwork(
                                    Prefix.Around(Address.Of(Family.IPv4, x.Item1 & 0x0A0FFFFF), x.Item2),
                                    null,
                                    "n",
                                    $"S{i}",
                                    $"S{i}"
                                )
                        ),
                    ];
                    var areas = AddressPlan.Areas(networks);
                    areas.Sum(a => a.Items.Length).ShouldBe(networks.Length);
                    foreach (var area in areas)
                    {
                        area.Items.ShouldAllBe(i => area.Space.Contains(i.Prefix));
                        area.Free.ShouldAllBe(f =>
                            area.Space.Contains(f) && area.Items.All(i => !i.Prefix.Overlaps(f))
                        );
                        var taken = Prefixes.Merge(area.Items.Select(i => i.Prefix));
                        (taken.Concat(area.Free).Sum(p => Math.Pow(2, 32 - p.Length))).ShouldBe(
                            Math.Pow(2, 32 - area.Space.Length)
                        );
                    }

                    // Drawn to scale: a box is as much of its ruler as its prefix is of the area.
                    var drawing = AddressPlan.Draw("x", [areas[0]]);
                    var ruler = drawing.Shapes.OfType<Stroked>().First();
                    var height = ruler.Points[1].Y - ruler.Points[0].Y;
                    foreach (var (item, box) in areas[0].Items.Zip(drawing.Shapes.OfType<Box>()))
                    {
                        box.Height.ShouldBe(
                            Math.Max(2, height * Math.Pow(2, areas[0].Space.Length - item.Prefix.Length)),
                            0.001
                        );
                        (box.Y - ruler.Points[0].Y).ShouldBe(
                            height
                                * (double)(item.Prefix.First.Bits - areas[0].Space.First.Bits)
                                / Math.Pow(2, 32 - areas[0].Space.Length),
                            0.001
                        );
                    }
                },
                iter: 200
            );

    private static double Width(Written t) => t.Text.Length * t.Size * 0.62;
}
