namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-06.</summary>
public static class NoForwardSecrecy
{
    /// <summary>No PFS (STR-06).</summary>
    public static readonly Check Check = new("STR-06", "no PFS", Run);

    private static IEnumerable<Finding> Run(Checked c)
    {
        if (c.View.A.Get(Settings.Pfs).Value is not { } a || c.View.B.Get(Settings.Pfs).Value is not { } b)
            yield break;
        var (bareA, bareB) = (Bare(a, b), Bare(b, a));
        if (!bareA && !bareB)
            yield break;
        yield return new()
        {
            Severity = Severity.Risk,
            RowKey = Settings.Pfs,
            What = (a.Stance, b.Stance, bareA, bareB) switch
            {
                (PfsStance.Refused, PfsStance.Refused, _, _) => Sentence.Of($"PFS is off at both ends."),
                (_, _, false, _) => Sentence.Of($"No PFS when {EndName.B} asks for a child SA: {Both(c)}."),
                (_, _, _, false) => Sentence.Of($"No PFS when {EndName.A} asks for a child SA: {Both(c)}."),
                _ => Sentence.Of($"No PFS, whichever end asks for a child SA: {Both(c)}."),
            },
            Why = $"Anyone who gets the keys of the IKE SA can decrypt every child SA made under it.",
            Do =
                $"Require a DH group that both platforms support, "
                + $"{c.WhereNot(e => e.Get(Settings.Pfs).Value?.Stance == PfsStance.Required):w}.",
            Standard = "RFC 7296 section 2.12",
            Evidence = Checked.Of(c.Row(Settings.Pfs)),
        };
    }

    /// <summary>
    /// Whether a child SA that <paramref name="initiator"/> asks for is made without a fresh exchange.
    /// </summary>
    private static bool Bare(Pfs initiator, Pfs responder) =>
        !initiator.Sends && responder.Stance != PfsStance.Required;

    private static Sentence Both(Checked c)
    {
        var row = c.Row(Settings.Pfs)!;
        return $"{EndName.A} has {row.A.Text}, {EndName.B} has {row.B.Text}";
    }
}
