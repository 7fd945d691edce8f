namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-16.</summary>
public static class NotEncrypted
{
    /// <summary>ESP without encryption (STR-16).</summary>
    public static readonly Check Check = new("STR-16", "ESP without encryption", c =>
    {
        var ends = c
            .View.Ends.Where(e => e.Get(Settings.EspProposals).Value?.Items.Any(p => p.Encryption.IsNull) == true)
            .Select(e => e.Name.ToString())
            .ToArray();
        return ends.Length == 0
            ? []
            :
            [
                new Finding
                {
                    Severity = Severity.Risk,
                    RowKey = Settings.EspProposals,
                    What = $"{Say.And(ends):w} {(ends.Length == 1 ? "has" : "have"):w} NULL as ESP encryption.",
                    Why = $"NULL protects integrity alone: everybody on the way can read the traffic.",
                    Do = $"Use a cipher that both platforms support, at both ends at the same time.",
                    Consequence = $"The traffic can be sent unencrypted: NULL is acceptable.",
                    Standard = "RFC 2410; RFC 8221 section 5",
                    Evidence = Checked.Of(c.Row(Settings.EspProposals)),
                },
            ];
    });
}
