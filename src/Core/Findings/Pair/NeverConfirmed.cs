using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Pair;

/// <summary>
/// PAIR-20: agreed on paper, not confirmed on an end. A risk once in service when nobody ever looked at that end at
/// all.
/// </summary>
public static class NeverConfirmed
{
    /// <summary>Agreed on paper, not confirmed on an end (PAIR-20).</summary>
    public static readonly Check Check = new("PAIR-20", "agreed on paper, not confirmed on an end", c =>
        Enum.GetValues<EndName>()
            .SelectMany(end =>
            {
                // The platform's own default is not a thing that was agreed, and an own address is known by the
                // gateway's record.
                var counted = c
                    .Rows.Where(r =>
                        r.Cell(end).Source is Source.Agreed or Source.Set
                        && r.Cell(end).Text is not null
                        && r.Key != RowKey.AddressOf(end)
                    )
                    .ToArray();
                var unseen = counted.Where(r => r.Cell(end).Confirmed is null).ToArray();
                if (unseen.Length == 0)
                    return Enumerable.Empty<Finding>();
                var none = unseen.Length == counted.Length;
                Sentence what = none
                    ? Sentence.Of($"No value at {end} is confirmed.")
                    : Sentence.Of($"{unseen.Length} of {counted.Length} values at {end} are not confirmed.");
                return
                [
                    new Finding
                    {
                        Severity = none && c.View.Tunnel.State == TunnelState.InService ? Severity.Risk : Severity.Note,
                        Subject = end.ToString(),
                        What = what,
                        Why = $"They were agreed or typed in. No check of {c.View.End(end).Gateway.Code} is recorded.",
                        Do =
                            $"Check these at {end} and confirm them: "
                            + $"{Say.And(unseen.Take(3).Select(r => r.Label)):w}{(unseen.Length > 3 ? " first" : ""):w}.",
                        Evidence =
                        [
                            .. unseen.Select(r => new Evidence(
                                end,
                                r.Label,
                                r.Cell(end).Text!,
                                Checked.From(r.Cell(end))
                            )),
                        ],
                    },
                ];
            })
    );
}
