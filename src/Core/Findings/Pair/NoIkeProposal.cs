using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-03, with the nearest miss.</summary>
public static class NoIkeProposal
{
    /// <summary>No IKE proposal in common (PAIR-03).</summary>
    public static readonly Check Check = new("PAIR-03", "no IKE proposal in common", c =>
        c.Differences<NoProposal>()
            .Where(d => d.Row.Key == RowKey.Of(Settings.IkeProposals))
            .Select(d => Of(c, "IKE", d.Row, d.Difference))
    )
    {
        Meets = cause => cause is NothingChosen { OfEsp: false },
    };

    /// <summary>Shared by IKE and ESP, which differ in what follows from it.</summary>
    internal static Finding Of(Checked c, string layer, Row row, NoProposal none)
    {
        var initiator = none.Initiator is { } s ? Sentence.Of($" when {s} initiates") : Sentence.Plain("");
        var differs = none.Miss is { } miss ? Say.And(miss.DiffersIn) : "";
        Sentence near = none.Miss is { } m
            ? $" Nearest: {m.Offered} against {m.Accepted} (differs in {differs:w})."
            : Sentence.Plain("");
        Sentence follows =
            layer == "IKE"
                ? Sentence.Plain("no IKE SA comes up")
                : Sentence.Plain("the IKE SA comes up but no child SA does");
        // Where an end can do none of its own there is no nearest miss: the platform is what stands in the way.
        var unable = c
            .View.Ends.Where(e =>
                layer == "IKE" ? Usable.Ike(e, c.View.Version).IsEmpty : Usable.Esp(e, c.View.Version).IsEmpty
            )
            .ToArray();
        if (unable.Length > 0)
        {
            var who = Say.And(unable.Select(e => $"{e.Platform.Title} at {e.Name}"));
            Sentence cannot =
                $"{who:w} supports none of its {layer:w} proposals in {(c.View.Version?.ToString() ?? "that version"):w}";
            return new()
            {
                Severity = Severity.Blocks,
                RowKey = row.Key,
                Pairs = layer == "ESP" ? c.View.Tunnel.Agreed.Pairs : [],
                What = $"{cannot}.",
                Why = $"A platform neither offers nor accepts what it does not support, so {follows}.",
                Do = $"Agree a proposal that {BothPlatforms(c):w} support in that version.",
                Consequence = $"{cannot}: {follows}.",
                Standard = "RFC 7296 section 2.7",
                Evidence = Checked.Of(row),
            };
        }

        return new()
        {
            Severity = none.Initiator is null ? Severity.Blocks : Severity.Degrades,
            RowKey = row.Key,
            Pairs = layer == "ESP" ? c.View.Tunnel.Agreed.Pairs : [],
            What = $"No {layer:w} proposal in common{initiator}.{near}",
            Why = $"A proposal is accepted whole or refused with NO_PROPOSAL_CHOSEN, so {follows}.",
            Do = none.Miss is { } to
                ? Sentence.Of(
                    $"Add {to.Offered} where it is missing, or agree a proposal that {BothPlatforms(c):w} can do."
                )
                : Sentence.Of($"Agree a proposal for both ends."),
            Consequence = $"No {layer:w} proposal in common{initiator}, {differs:w} differ: {follows}.",
            Standard = "RFC 7296 section 2.7",
            Evidence = Checked.Of(row),
        };
    }

    private static string BothPlatforms(Checked c) =>
        c.View.A.Platform == c.View.B.Platform
            ? c.View.A.Platform.Title
            : $"both {c.View.A.Platform.Title} and {c.View.B.Platform.Title}";
}
