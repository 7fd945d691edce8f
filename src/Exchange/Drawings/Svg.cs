using System.Globalization;
using System.Text;
using System.Xml;
using Vellumkeep.Core.Drawings;

namespace Vellumkeep.Exchange.Drawings;

/// <summary>A drawing as SVG 1.1 (W3C): one self-contained file, with its colours and faces inside.</summary>
public static class Svg
{
    /// <param name="drawing">The finished layout.</param>
    /// <param name="linkTo">Where the record that a text names can be opened; without it the file has no links.</param>
    public static string Write(Drawing drawing, Func<RecordKind, string, string>? linkTo = null)
    {
        var text = new StringBuilder();
        using (
            var xml = XmlWriter.Create(
                text,
                new()
                {
                    OmitXmlDeclaration = true,
                    Indent = true,
                    IndentChars = " ",
                    NewLineChars = "\n",
                }
            )
        )
        {
            xml.WriteStartElement("svg", "http://www.w3.org/2000/svg");
            xml.WriteAttributeString("viewBox", $"0 0 {Number(drawing.Width)} {Number(drawing.Height)}");
            xml.WriteAttributeString("width", Number(drawing.Width));
            xml.WriteAttributeString("height", Number(drawing.Height));
            xml.WriteAttributeString("role", linkTo is null ? "img" : "group");
            xml.WriteElementString("title", drawing.Title);
            xml.WriteElementString("desc", drawing.About);
            xml.WriteStartElement("defs");
            foreach (var ink in new[] { Ink.Stops, Ink.Weak })
            {
                xml.WriteStartElement("pattern");
                foreach (
                    var (name, value) in new[]
                    {
                        ("id", $"hatch-{ink}"),
                        ("width", "5"),
                        ("height", "5"),
                        ("patternUnits", "userSpaceOnUse"),
                        ("patternTransform", "rotate(45)"),
                    }
                )
                    xml.WriteAttributeString(name, value);
                Path(xml, "M0 0V5", ink, 2);
                xml.WriteEndElement();
            }

            xml.WriteEndElement();
            xml.WriteStartElement("rect");
            foreach (var (name, value) in new[] { ("width", "100%"), ("height", "100%"), ("fill", "#faf7f0") })
                xml.WriteAttributeString(name, value);
            xml.WriteEndElement();
            foreach (var shape in drawing.Shapes)
                Write(xml, shape, linkTo);
            xml.WriteEndElement();
        }

        return text.Append('\n').ToString();
    }

    private static void Write(XmlWriter xml, Shape shape, Func<RecordKind, string, string>? linkTo)
    {
        switch (shape)
        {
            case Stroked s:
                Path(
                    xml,
                    string.Concat(s.Points.Select((p, i) => $"{(i == 0 ? 'M' : 'L')}{Number(p.X)} {Number(p.Y)}")),
                    s.Ink,
                    s.Width,
                    s.Dotted
                );
                break;
            case Box b:
                xml.WriteStartElement("rect");
                foreach (
                    var (name, value) in new[]
                    {
                        ("x", Number(b.X)),
                        ("y", Number(b.Y)),
                        ("width", Number(b.Width)),
                        ("height", Number(b.Height)),
                        ("stroke", Colour(b.Ink)),
                        ("stroke-width", "1"),
                    }
                )
                    xml.WriteAttributeString(name, value);
                xml.WriteAttributeString(
                    "fill",
                    b.Hatched ? $"url(#hatch-{b.Ink})"
                        : b.Dashed ? "none"
                        : "#d9d1c0"
                );
                if (b.Dashed)
                    xml.WriteAttributeString("stroke-dasharray", "3 2");
                xml.WriteEndElement();
                break;
            case Written w:
                if (linkTo is not null && w.Link is { } link)
                {
                    xml.WriteStartElement("a");
                    xml.WriteAttributeString("href", linkTo(link.Kind, link.Code));
                }

                xml.WriteStartElement("text");
                foreach (
                    var (name, value) in new[]
                    {
                        ("x", Number(w.X)),
                        ("y", Number(w.Y)),
                        ("fill", Colour(w.Ink)),
                        ("font-size", Number(w.Size)),
                    }
                )
                    xml.WriteAttributeString(name, value);
                xml.WriteAttributeString(
                    "font-family",
                    w.Face switch
                    {
                        Face.Serif => "'Source Serif 4 Variable', Georgia, serif",
                        Face.Mono => "'JetBrains Mono Variable', 'DejaVu Sans Mono', monospace",
                        _ => "'Inter Variable', 'DejaVu Sans', sans-serif",
                    }
                );
                if (w.Face == Face.Serif)
                    xml.WriteAttributeString("font-weight", "600");
                if (w.Anchor != Anchor.Start)
                    xml.WriteAttributeString("text-anchor", w.Anchor == Anchor.Middle ? "middle" : "end");
                xml.WriteString(w.Text);
                xml.WriteEndElement();
                if (linkTo is not null && w.Link is not null)
                    xml.WriteEndElement();
                break;
            default:
                throw new ArgumentOutOfRangeException(nameof(shape), shape, "not a shape that SVG is written for");
        }
    }

    private static void Path(XmlWriter xml, string d, Ink ink, double width, bool dotted = false)
    {
        xml.WriteStartElement("path");
        foreach (
            var (name, value) in new[]
            {
                ("d", d),
                ("fill", "none"),
                ("stroke", Colour(ink)),
                ("stroke-width", Number(width)),
            }
        )
            xml.WriteAttributeString(name, value);
        if (dotted)
        {
            xml.WriteAttributeString("stroke-dasharray", "0.1 5.4");
            xml.WriteAttributeString("stroke-linecap", "round");
        }

        xml.WriteEndElement();
    }

    /// <summary>The console's colours: a drawing looks alike on the page and in a file.</summary>
    private static string Colour(Ink ink) =>
        ink switch
        {
            Ink.Soft => "#55606b",
            Ink.Hair => "#857a5f",
            Ink.EndA => "#2f527f",
            Ink.EndB => "#7d3a63",
            Ink.Stops => "#a8321a",
            Ink.Weak => "#855600",
            _ => "#1b2530",
        };

    private static string Number(double n) => Math.Round(n, 2).ToString(CultureInfo.InvariantCulture);
}
