namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-03.</summary>
public static class OldKeyExchange
{
    /// <summary>IKEv1 (STR-03).</summary>
    public static readonly Check Check = new("STR-03", "IKEv1", c =>
    {
        if (c.View.Version != IkeVersion.IKEv1)
            return [];
        var stuck = c.View.Ends.Where(e => !e.Platform.IkeVersions.Contains(IkeVersion.IKEv2)).ToArray();
        Sentence fix =
            stuck.Length == 0
                ? Sentence.Of(
                    $"Use IKEv2 {c.WhereNotIkev2():w}: {c.View.A.Platform.Title} and {c.View.B.Platform.Title} support it."
                )
                : Sentence.Of(
                    $"{Say.And(stuck.Select(e => e.Platform.Title).Distinct())} cannot do IKEv2. Plan another "
                        + $"platform for {Say.And(stuck.Select(e => e.Gateway.Code))}."
                );
        return
        [
            new Finding
            {
                Severity = Severity.Risk,
                RowKey = Settings.IkeVersions,
                What = $"The tunnel uses IKEv1.",
                Why = $"IKEv1 is deprecated (RFC 9395): no longer maintained, without the newer ciphers and groups.",
                Do = fix,
                Standard = "RFC 9395 section 3",
                Evidence = Checked.Of(c.Row(Settings.IkeVersions)),
            },
        ];
    });
}
