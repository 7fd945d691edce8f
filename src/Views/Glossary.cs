using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Views;

/// <summary>
/// The words that are ours because the trade has none, and every finding code: made from the code, for the service, the
/// command and docs/glossary.md alike.
/// </summary>
public static class Glossary
{
    private static readonly (string Term, string Meaning)[] Terms =
    [
        ("agreed", "the value that both parties agreed for both ends, in a suite or on the tunnel"),
        ("approval lapses", "an approval ends when a record behind the plan changes; the change goes back to review"),
        ("assumed", "what a rehearsal takes to be so because neither a standard nor the platform profile decides it"),
        ("blocks", "severity of a finding: the tunnel does not come up, or will stop working"),
        ("change", "a reviewed piece of work with steps, window, proof, way back and record"),
        ("check code", "the short value that two people compare to know that they have the same key"),
        ("compare", "both ends of a tunnel row by row"),
        ("confirmed", "somebody checked the value on the device; recorded with how, when and by whom"),
        ("default", "the value that the platform uses when nothing is set, from its profile"),
        ("degrades", "severity of a finding: the tunnel works badly or in part"),
        ("deviation", "a value that was set otherwise than planned, with the reason"),
        ("end", "one side of a tunnel, A or B: a gateway, its outer address, and every setting as that side has it"),
        ("exchange sheet", "the values sent to and received from the other party"),
        ("exposure", "who has viewed or been handed which key"),
        ("fallback order", "tunnels that carry the same traffic, in the order in which they should"),
        ("finding", "something wrong, weak or worth knowing, with a code, a severity and evidence"),
        ("fix", "the smallest alteration that makes a failing rehearsal pass, tried before it is shown"),
        ("free change", "a change whose steps the author writes, for work that no other kind covers"),
        ("hand-over", "the one-time delivery of a key"),
        ("keepfile", "the product's own file of records, in YAML or JSON, with a published JSON Schema"),
        ("note", "severity of a finding: worth knowing"),
        ("pair grid", "the table of subnet pairs, A down, B across"),
        ("pending", "a value that is not known yet, with who supplies it and by when"),
        ("platform profile", "what one make, model and version supports, and its defaults"),
        ("presented as", "the prefix that a network has in tunnels, by 1:1 NAT at its own end"),
        ("proof", "what shows that a step had its result: output, counters, a file"),
        ("rehearsal", "the computed negotiation of a tunnel, with either end as the initiator"),
        ("risk", "severity of a finding: the tunnel works, but is unsafe"),
        ("run sheet", "the ordered steps of a change as they are worked through"),
        ("saved filter", "a filter on a list, named and shared"),
        ("set", "the value that is recorded as set on the device of that end"),
        (
            "shared entry",
            "something named on a gateway that several of its tunnels use: proposals, a subnet list, a key"
        ),
        ("standing offer", "what another party (a cloud, a supplier) asks of everyone, stored for reuse"),
        ("subnet pair", "one A-side prefix with one B-side prefix that should reach each other"),
        ("suite", "a named, reusable set of IKE and ESP proposals with lifetimes and PFS, with a version"),
        ("temporary", "a value that stands in for the final one, with a deadline and a reason"),
        ("test point", "a host inside a protected subnet that proof is taken from or to"),
        ("today", "the start page: what waits for you"),
        ("undetermined", "what cannot be told because a value is unknown or the platform profile does not say"),
        ("unknown", "nobody recorded the value, and the platform profile has no default for it"),
        ("verdict", "the one or two sentences that open a page: what an expert would say, computed"),
        ("way back", "the steps that undo a change, from the last to the first"),
    ];

    /// <summary>Our own words, in their order.</summary>
    public static IReadOnlyList<GlossaryLine> Words { get; } =
    [.. Terms.Select(t => new GlossaryLine(t.Term, t.Meaning))];

    /// <summary>Every finding code with its meaning, in the order of the catalogue.</summary>
    public static IReadOnlyList<GlossaryLine> Codes { get; } =
    [
        .. Checks.All.Select(c => new GlossaryLine(c.Code, c.Title)),
        .. PlanCheck.All.Select(p => new GlossaryLine(p.Code, p.Title)),
    ];

    /// <summary>The whole as Markdown, as docs/glossary.md has it.</summary>
    public static string Markdown()
    {
        var text = new StringBuilder();
        text.Append("# Glossary\n\n");
        text.Append("Every other word is the trade's, or an RFC's. Made by `make glossary`; a test holds it.\n");
        Table("Our own words", "word", Words);
        Table("Finding codes", "code", Codes);
        return text.ToString();

        void Table(string title, string head, IReadOnlyList<GlossaryLine> lines)
        {
            text.Append($"\n## {title}\n\n| {head} | meaning |\n|---|---|\n");
            foreach (var line in lines)
                text.Append($"| {line.Term} | {line.Meaning} |\n");
        }
    }
}
