namespace Vellumkeep.Storage.Writing;

/// <summary>
/// A call that is to be carried out once: its commit is noted beside it in the same transaction, so that a service that
/// dies afterwards knows that it was done.
/// </summary>
/// <param name="Status">What the call ends with when it succeeds.</param>
public sealed record IdempotentCall(string Person, string Key, int Status)
{
    private static readonly AsyncLocal<IdempotentCall?> Here = new();

    /// <summary>The call that is being carried out here; null when it carries no key.</summary>
    public static IdempotentCall? Current
    {
        get => Here.Value;
        set => Here.Value = value;
    }

    internal Task NoteAsync(KeepContext context, long commit, CancellationToken ct) =>
        context
            .Answered.Where(a => a.Person == Person && a.Key == Key)
            .ExecuteUpdateAsync(u => u.SetProperty(a => a.Status, Status).SetProperty(a => a.CommitNumber, commit), ct);
}
