using System.Text.Json;

namespace Vellumkeep.Contract;

/// <summary>
/// A record in its written form: as fields, and as the text of a keepfile. Fields: what the form of this kind asks for.
/// AsOf: the day it is shown as of, null for now.
/// </summary>
public sealed record RecordForm(
    string Kind,
    string Code,
    int Version,
    JsonElement Form,
    string Text,
    IReadOnlyList<FieldInfo> Fields,
    string? AsOf
);

/// <summary>
/// A field of a form. Shape: text, texts, map, maps or any. Describes: it is edited directly; others alter how tunnels
/// behave and need a reason. Refers: the kind of record that its value names. Control: the kind of value it holds,
/// such as prefix, time zone or day. AskedFirst: a new record is asked for it, although it can be left out. Label: what it
/// is called where it is filled in. One: what one item of a list is called.
/// </summary>
public sealed record FieldInfo(
    string Key,
    string Shape,
    bool Required,
    string About,
    bool Describes,
    string? Refers,
    IReadOnlyList<string> Words,
    IReadOnlyList<FieldInfo> Inside,
    string Control,
    bool AskedFirst,
    string Label,
    string One
);

/// <summary>
/// A record to write: whole as fields (form) or as keepfile text, or only some values by path (set). Reason: needed
/// where it alters how something in service behaves.
/// </summary>
public sealed record WriteRecord(
    JsonElement? Form,
    [property: MostCharacters(1024 * 1024)] string? Text,
    IReadOnlyList<SetValue>? Set,
    string? Reason
);

/// <summary>A value at a path such as <c>name</c> or <c>networks[cold store].purpose</c>; null removes it.</summary>
public sealed record SetValue(string Path, [property: MostCharacters(200_000)] string? Value);

/// <summary>
/// What writing a record did, or (dryRun) would do. As: added, described, corrected, retired, or nothing. Altered: the
/// paths that alter how tunnels behave, for which a reason is needed.
/// </summary>
public sealed record RecordWritten
{
    public required bool DryRun { get; init; }

    public required string Kind { get; init; }

    public required string Code { get; init; }

    public required int Version { get; init; }

    public required string As { get; init; }

    public required IReadOnlyList<Difference> Differences { get; init; }

    public required IReadOnlyList<string> Altered { get; init; }

    public required IReadOnlyList<DerivedValue> Derived { get; init; }

    public required IReadOnlyList<ImportFinding> FindingsAdded { get; init; }

    public required IReadOnlyList<ImportFinding> FindingsRemoved { get; init; }

    /// <summary>
    /// A tunnel as it would be, both ends compared and judged: with a dry run of a tunnel, else null.
    /// </summary>
    public TunnelPage? Tunnel { get; init; }
}

/// <summary>A value that nobody typed, and where it came from.</summary>
public sealed record DerivedValue(string Path, string Value, string From);

/// <summary>Why a record is retired.</summary>
public sealed record RetireRecord(string Reason);

/// <summary>
/// Something found. Field: by what (code, name, outer address, contact, around, network, remote ...); Fits: the word or
/// prefix that fitted.
/// </summary>
public sealed record SearchHit(
    string Kind,
    string Code,
    string Name,
    string Customer,
    string? State,
    string Field,
    string Fits
);

/// <summary>
/// What a search found. Finding: the title of the check, when the text is the code of one. More: there is more than
/// these.
/// </summary>
public sealed record SearchResult(string Asked, string? Finding, IReadOnlyList<SearchHit> Hits, bool More);

/// <summary>
/// A filter on a list, named. List: tunnels or findings. Filter: as the query of an address. Mine: made by the asker.
/// </summary>
public sealed record SavedFilterLine(
    string Id,
    string Name,
    string List,
    string Filter,
    bool Shared,
    string By,
    bool Mine
);

/// <summary>Keeps a filter under a name.</summary>
public sealed record SaveFilter(string Name, string List, string Filter, bool Shared);

/// <summary>
/// A commit of the history, with the first 50 records that it wrote. Wrote: how many there are. Reason is left out
/// where it may speak of somebody else's records too.
/// </summary>
public sealed record CommitLine
{
    public required long Number { get; init; }

    public required DateTimeOffset At { get; init; }

    public required string Who { get; init; }

    public required string What { get; init; }

    public required string? Reason { get; init; }

    public required string? Change { get; init; }

    public required IReadOnlyList<CommitRecordLine> Records { get; init; }

    public required int Wrote { get; init; }

    public required string Digest { get; init; }
}

/// <summary>
/// A commit as it comes, for pages that are open: the number, who, what, and the records of it that the asker may see.
/// </summary>
public sealed record ChangedNow(
    long Number,
    DateTimeOffset At,
    string Who,
    string What,
    IReadOnlyList<CommitRecordLine> Records
);

/// <summary>A record that a commit wrote, and at which version.</summary>
public sealed record CommitRecordLine(string Kind, string Code, int Version);

/// <summary>
/// The outcome of going through the whole chain. Broken: the first commit that does not hold; null when all do.
/// Differs: what stands otherwise than the history says, at most fifty.
/// </summary>
public sealed record Verified(long Commits, long? Broken, string Digest, IReadOnlyList<string> Differs);

/// <summary>What differs between two versions of a record.</summary>
public sealed record VersionsCompared(
    string Kind,
    string Code,
    int From,
    int To,
    DateTimeOffset FromAt,
    DateTimeOffset ToAt,
    IReadOnlyList<Difference> Differences
);

/// <summary>A record as a list shows it, on a day.</summary>
public sealed record RecordLine(string Kind, string Code, string Name, string? State, int Version);
