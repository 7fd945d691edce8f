namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-04 and STR-12: what aggressive mode gives away, and where it is not even needed.</summary>
public static class AggressiveMode
{
    /// <summary>Aggressive mode with a pre-shared key (STR-04).</summary>
    public static readonly Check Exposed = new("STR-04", "aggressive mode with a pre-shared key", c => !Used(c)
        || !c.View.Ends.Any(e => e.Get(Settings.Authentication).Value?.Value == Authentication.PreSharedKey)
            ? []
            :
            [
                new Finding
                {
                    Severity = Severity.Risk,
                    RowKey = Settings.ExchangeMode,
                    What = $"The tunnel uses aggressive mode with a pre-shared key.",
                    Why =
                        $"Identities are sent in clear text. Anyone who listens or connects gets a hash and can "
                        + $"guess the PSK offline.",
                    Do = c.View.Ends.All(e => e.Platform.IkeVersions.Contains(IkeVersion.IKEv2))
                        ? Sentence.Of(
                            $"Use IKEv2 {c.WhereNotIkev2():w}: {c.View.A.Platform.Title:w} and "
                                + $"{c.View.B.Platform.Title:w} support it."
                        )
                        : Sentence.Plain("Use certificates, or plan a platform that supports IKEv2."),
                    Consequence = $"Aggressive mode with a pre-shared key lets anyone attack the PSK offline.",
                    Standard = "RFC 2409 section 5.4",
                    Evidence = Checked.Of(c.Row(Settings.ExchangeMode)),
                },
            ]);

    /// <summary>Aggressive mode where both addresses are fixed (STR-12).</summary>
    public static readonly Check NotNeeded = new("STR-12", "aggressive mode where both addresses are fixed", c => !Used(
            c
        ) || c.View.Ends.Any(e => e.Outer is null)
            ? []
            :
            [
                new Finding
                {
                    Severity = Severity.Risk,
                    RowKey = Settings.ExchangeMode,
                    What =
                        $"Aggressive mode is used although both outer addresses are fixed: {c.View.A.OuterText} and "
                        + $"{c.View.B.OuterText}.",
                    Why = $"With fixed addresses main mode works, and it does not send identities in clear text.",
                    Do = $"Set main mode {c.WhereNotMain():w}.",
                    Standard = "RFC 2409 section 5",
                    Evidence = Checked.Of(c.Row(Settings.ExchangeMode)),
                },
            ]);

    /// <summary>Aggressive mode with certificates (STR-14).</summary>
    public static readonly Check Identities = new("STR-14", "aggressive mode with certificates", c => !Used(c)
        || !c.View.Ends.All(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate)
            ? []
            :
            [
                new Finding
                {
                    Severity = Severity.Note,
                    RowKey = Settings.ExchangeMode,
                    What = $"The tunnel uses aggressive mode with certificates.",
                    Why = $"Both identities are sent in clear text, where main mode encrypts them.",
                    Do = $"Set main mode {c.WhereNotMain():w}: with certificates it needs no fixed address.",
                    Standard = "RFC 2409 section 5",
                    Evidence = Checked.Of(c.Row(Settings.ExchangeMode)),
                },
            ]);

    private static bool Used(Checked c) =>
        c.View.Version == IkeVersion.IKEv1
        && c.View.Ends.Any(e => e.Get(Settings.ExchangeMode).Value?.Value == ExchangeMode.Aggressive);
}
