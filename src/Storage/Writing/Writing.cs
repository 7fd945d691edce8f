namespace Vellumkeep.Storage.Writing;

/// <summary>Who writes, when, as which act, and why.</summary>
public sealed record Act(string Who, DateTimeOffset At, string What, string? Reason = null, string? ChangeId = null);

/// <summary>The record is not at the version the writer saw.</summary>
public sealed class ConflictException(string recordId, int expected, int current)
    : Exception($"Record {recordId} is at version {current}, not {expected}.")
{
    public string RecordId { get; } = recordId;

    public int Expected { get; } = expected;

    public int Current { get; } = current;
}

/// <summary>How far a long write is: what is done at the moment, and how many of how many.</summary>
public sealed record Progressed(string Doing, int Done, int Of);

/// <summary>A finding that a write added or removed; notes are not told.</summary>
public sealed record FindingChange(bool Added, string TunnelId, string Code, Severity Severity, Sentence What);

/// <summary>
/// What a write gave back, the number of its commit (null when nothing differed), and what it did to findings.
/// </summary>
public sealed record Wrote<T>(T Result, long? Commit, IReadOnlyList<FindingChange> FindingChanges);

/// <summary>Looks at what is about to be written, and refuses it by an exception.</summary>
public interface IWriteGuard
{
    /// <param name="act">Who writes and why.</param>
    /// <param name="written">The records that differ, each with its version before; null where it is new.</param>
    Task LookAsync(
        KeepContext context,
        Act act,
        IReadOnlyCollection<(IRecord Record, IRecord? Before)> written,
        CancellationToken ct
    );
}

/// <summary>
/// What a piece of writing is given: a place to put new versions. It reads and puts, and changes nothing itself: it may
/// be run more than once, because it is run before the write and again when somebody else wrote meanwhile what it rests
/// on.
/// </summary>
public sealed class Writing
{
    private readonly Dictionary<string, (IRecord Record, int? Expected)> puts = [];
    private readonly List<Func<KeepContext, Task>> besides = [];
    private readonly string prefix;
    private int made;

    /// <param name="head">The last commit that this writing has seen.</param>
    internal Writing(KeepContext context, long head, string series) =>
        (Read, prefix) = (context, $"{series}{(head + 1).ToString(CultureInfo.InvariantCulture)}-");

    /// <summary>
    /// For reading what <see cref="RecordReader"/> does not give. Nothing is written by it: see <see cref="Beside"/>.
    /// </summary>
    public KeepContext Read { get; }

    internal IReadOnlyDictionary<string, (IRecord Record, int? Expected)> Puts => puts;

    internal IReadOnlyList<Func<KeepContext, Task>> Besides => besides;

    /// <summary>What every id begins with that this writing made.</summary>
    internal string Prefix => prefix;

    internal bool MadeAny => made > 0;

    /// <summary>An id that no record has: ids tell the commit that they were made after and never change.</summary>
    public string NewId() => prefix + (++made).ToString(CultureInfo.InvariantCulture);

    /// <summary>What this writing puts under an id; null when nothing.</summary>
    public IRecord? PutUnder(string id) => puts.TryGetValue(id, out var put) ? put.Record : null;

    /// <summary>Whether an id was made by this writing, so that no record can have it yet.</summary>
    public bool Made(string id) => id.StartsWith(prefix, StringComparison.Ordinal);

    /// <summary>
    /// That a commit is written even when no record changed: something happened that the history has to say.
    /// </summary>
    public bool Noted { get; private set; }

    /// <summary>Writes down that something happened, whatever records change with it.</summary>
    public void Note() => Noted = true;

    /// <summary>Puts a version. With <paramref name="expected"/> the record has to be at that version.</summary>
    public void Put(IRecord record, int? expected = null) => puts[record.Id] = (record, expected);

    /// <summary>Has something written beside the records, in the same transaction.</summary>
    public void Beside(Func<KeepContext, Task> write) => besides.Add(write);
}
