namespace Vellumkeep.Contract;

/// <summary>
/// The answer to a call that was carried out before under the same <c>Idempotency-Key</c>: nothing was done again.
/// Commit: what the first call wrote; null when it wrote nothing. The records are those of the commit that the asker
/// may see; read them for how they are now.
/// </summary>
public sealed record Repeated(DateTimeOffset At, long? Commit, IReadOnlyList<CommitRecordLine> Records);
