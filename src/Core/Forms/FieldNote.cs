namespace Vellumkeep.Core.Forms;

/// <summary>
/// What a form asks for under one key; the published schema of the keepfile is made of these, so that it cannot drift
/// from the reader.
/// </summary>
/// <param name="Key">What it is written under.</param>
/// <param name="Shape">Which shape the value has.</param>
/// <param name="Required">Whether it may not be left out.</param>
/// <param name="About">What is expected there.</param>
/// <param name="Inside">The fields of a map, or of each map of a list.</param>
/// <param name="Words">The words of a closed set; empty when it is not one.</param>
public sealed record FieldNote(
    string Key,
    FieldShape Shape,
    bool Required,
    string About,
    ImmutableArray<FieldNote> Inside,
    ImmutableArray<string> Words
)
{
    /// <summary>
    /// The type of the value, or of one item of a list: which control it is filled in with follows from it.
    /// </summary>
    public Type? Holds { get; init; }

    /// <summary>
    /// Reads the one line that somebody types for the whole value, or for one item of a list of texts, as it is
    /// written; null when the value is not one line.
    /// </summary>
    public Func<string, Parsed<Node>>? OneLine { get; init; }

    /// <summary>Whether a new record is asked for it, although it can be left out.</summary>
    public bool AskedFirst { get; init; }

    /// <summary>What it is called where it is filled in: its key as words, where it was given no other name.</summary>
    public string Label { get; init; } = WordsOf(Key);

    /// <summary>What one item of a list is called.</summary>
    public string One { get; init; } = "item";

    /// <summary>The most characters of a text; null when it is not free text.</summary>
    public int? Most { get; init; }

    /// <summary>The kind of record that the value names; null when it names none.</summary>
    public RecordKind? Refers { get; init; }

    private static string WordsOf(string key) =>
        string.Concat(key.Select(c => char.IsAsciiLetterUpper(c) ? $" {char.ToLowerInvariant(c)}" : $"{c}"));
}

/// <summary>The shapes a field can have.</summary>
public enum FieldShape
{
    /// <summary>One text.</summary>
    Text,

    /// <summary>A list of texts.</summary>
    Texts,

    /// <summary>A map.</summary>
    Map,

    /// <summary>A list of maps.</summary>
    Maps,

    /// <summary>Several of these.</summary>
    Any,
}

/// <summary>
/// What is shared while one file or record is read: the problems found so far and how references are understood.
/// </summary>
/// <param name="names">How references are understood.</param>
/// <param name="describing">Whether forms are only asked for their fields.</param>
public sealed class Reading(INames names, bool describing = false)
{
    /// <summary>What codes refer to.</summary>
    public INames Names { get; } = names;

    /// <summary>True when forms are only asked which fields they have; nothing is built then.</summary>
    public bool Describing { get; } = describing;

    /// <summary>What was wrong so far.</summary>
    public List<Problem> Problems { get; } = [];
}
