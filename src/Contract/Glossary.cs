namespace Vellumkeep.Contract;

/// <summary>A word of ours or a finding code, with its meaning.</summary>
public sealed record GlossaryLine(string Term, string Meaning);

/// <summary>The glossary: our own words, and every finding code.</summary>
public sealed record GlossaryPage(IReadOnlyList<GlossaryLine> Words, IReadOnlyList<GlossaryLine> Codes);
