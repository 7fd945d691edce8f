using System.IO.Compression;
using System.Net;
using System.Text;
using System.Text.RegularExpressions;

namespace Vellumkeep.Service.Keys;

/// <summary>What a text or a file says once it is decoded, as somebody would read it who looks for a key.</summary>
public static partial class Readings
{
    /// <summary>How often a text is encoded, or a file compressed, one within the other.</summary>
    private const int Deep = 3;

    private const int MostOctets = 64 * 1024 * 1024;

    private const int MostFiles = 1000;

    /// <summary>
    /// The text, and what it becomes as it is decoded: URL (RFC 3986) and HTML entities, escapes of JSON and of shells,
    /// hexadecimal without its <c>0x</c>.
    /// </summary>
    public static IEnumerable<string> Of(string text)
    {
        yield return text;
        for (var deep = 0; deep < Deep; deep++)
        {
            var decoded = Decoded(text);
            if (decoded == text)
                break;
            yield return text = decoded;
        }

        if (text.Contains("0x", StringComparison.OrdinalIgnoreCase))
            yield return text.Replace("0x", "", StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>The octets of a file as the texts that they may be, of what is compressed in it as well.</summary>
    /// <returns>The texts; null among them where it holds more than can be looked through.</returns>
    public static IEnumerable<string?> Of(byte[] file) => Of(file, Deep, new());

    private sealed class Looked
    {
        public long Octets { get; set; }
    }

    private static IEnumerable<string?> Of(byte[] file, int deep, Looked looked)
    {
        looked.Octets += file.Length;
        if (looked.Octets > MostOctets || deep < 0)
        {
            yield return null;
            yield break;
        }

        foreach (var text in Of(Encoding.Latin1.GetString(file)))
            yield return text;
        foreach (var from in new[] { 0, 1 })
        {
            var rest = file.AsMemory(Math.Min(from, file.Length));
            yield return Encoding.Unicode.GetString(rest.Span);
            yield return Encoding.BigEndianUnicode.GetString(rest.Span);
        }

        foreach (var within in Opened(file, looked))
            if (within is null)
                yield return null;
            else
                foreach (var text in Of(within, deep - 1, looked))
                    yield return text;
    }

    private static string Decoded(string text)
    {
        if (text.Contains('%') || text.Contains('+'))
            text = WebUtility.UrlDecode(text);
        if (text.Contains('&'))
            text = WebUtility.HtmlDecode(text);
        if (text.Contains('\\'))
            text = Escape()
                .Replace(text, m =>
                    (
                        (char)int.Parse(m.Groups[1].Value, NumberStyles.HexNumber, CultureInfo.InvariantCulture)
                    ).ToString()
                );
        return text;
    }

    /// <summary>\x41 and \u0041.</summary>
    [GeneratedRegex(@"\\[xu]\{?0{0,2}([0-9A-Fa-f]{2})\}?")]
    private static partial Regex Escape();

    /// <summary>
    /// What is compressed in a file, by what its first octets say that it is; null for what is too much.
    /// </summary>
    private static List<byte[]?> Opened(byte[] file, Looked looked)
    {
        try
        {
            return file switch
            {
                [0x1f, 0x8b, ..] =>
                [
                    Unpacked(new GZipStream(new MemoryStream(file), CompressionMode.Decompress), looked),
                ],
                [0x78, 0x01 or 0x5e or 0x9c or 0xda, ..] =>
                [
                    Unpacked(new ZLibStream(new MemoryStream(file), CompressionMode.Decompress), looked),
                ],
                [(byte)'P', (byte)'K', 3, 4, ..] => Files(file, looked),
                // Brotli (RFC 7932) has no mark: it is what it opens as.
                _ => [Unpacked(new BrotliStream(new MemoryStream(file), CompressionMode.Decompress), looked)],
            };
        }
        catch (Exception e)
            when (e is InvalidDataException or InvalidOperationException or IOException or NotSupportedException)
        {
            // It is not what it seems to be; its octets were read as they are.
            return [];
        }
    }

    private static List<byte[]?> Files(byte[] file, Looked looked)
    {
        using var zip = new ZipArchive(new MemoryStream(file));
        if (zip.Entries.Count > MostFiles)
            return [null];
        return
        [
            .. zip.Entries.Select(e => Unpacked(e.Open(), looked)),
            .. zip.Entries.Select(e => Encoding.UTF8.GetBytes(e.FullName)),
        ];
    }

    private static byte[]? Unpacked(Stream packed, Looked looked)
    {
        using (packed)
        {
            var (whole, buffer) = (new MemoryStream(), new byte[64 * 1024]);
            while (packed.Read(buffer) is > 0 and var read)
            {
                whole.Write(buffer, 0, read);
                if (looked.Octets + whole.Length > MostOctets)
                    return null;
            }

            return whole.ToArray();
        }
    }
}
