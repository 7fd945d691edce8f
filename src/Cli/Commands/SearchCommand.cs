using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Anything by a beginning of one of its words, an address or a prefix.</summary>
internal static class SearchCommand
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var words = new Argument<string[]>("text")
        {
            Description = "a code, name, contact, identity, address, prefix or finding",
        };
        return f.Verb(
            "find",
            "find records by the beginning of a word; an address finds the prefixes that contain it",
            async (p, c, ct) =>
            {
                var found = await c.SearchAsync(string.Join(' ', p.GetValue(words)!), ct);
                f.Shows(p, found, () =>
                {
                    if (found.Finding is { } title)
                        s.Line(
                            $"{found.Asked.ToUpperInvariant()} is a finding: {title}. Next: vellumkeep findings "
                                + $"--code {found.Asked.ToUpperInvariant()}"
                        );
                    else if (found.Hits.Count == 0)
                        s.Line(
                            $"No record has a word that begins with {found.Asked}. Addresses are found by a whole "
                                + $"address or prefix, such as 10.61.8.0/22."
                        );
                    s.Table(
                        ["kind", "code", "customer", "by", "fits", "state", "name"],
                        found.Hits.Select(h =>
                            (IReadOnlyList<string>)
                                [h.Kind, s.In("strong", h.Code), h.Customer, h.Field, h.Fits, h.State ?? "", h.Name]
                        )
                    );
                    if (found.More)
                        s.Line(
                            $"These are the first {found.Hits.Count}. Enter more letters, another word, or a longer prefix."
                        );
                });
                return found.Hits.Count == 0 && found.Finding is null ? 3 : 0;
            },
            words
        );
    }
}
