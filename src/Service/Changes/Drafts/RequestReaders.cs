namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>The kinds of change by their words, each with its reader.</summary>
internal static class RequestReaders
{
    /// <summary>The kind that is meant when none is named.</summary>
    private const string Unnamed = "subnets";

    private static readonly Dictionary<string, Func<Draft, Task<Drafted>>> All = new()
    {
        ["subnets"] = SubnetsDraft.ReadAsync,
        ["new tunnel"] = NewTunnelDraft.ReadAsync,
        ["rekey"] = RekeyDraft.ReadAsync,
        ["strengthen"] = StrengthenDraft.ReadAsync,
        ["replace platform"] = PlatformDraft.ReadAsync,
        ["address move"] = AddressDraft.ReadAsync,
        ["retire"] = RetireDraft.ReadAsync,
        ["free"] = FreeDraft.ReadAsync,
    };

    /// <summary>Reads a draft by the reader of its kind.</summary>
    /// <exception cref="ProblemException">There is no such kind, or something that was given cannot be read.</exception>
    public static Task<Drafted> ReadAsync(Draft draft)
    {
        var kind = string.IsNullOrWhiteSpace(draft.Given.Kind)
            ? Unnamed
            : draft.Given.Kind.Trim().ToLowerInvariant().Replace('-', ' ');
        return All.TryGetValue(kind, out var read)
            ? read(draft)
            : throw ProblemException.Field(
                "kind",
                $"'{Typed.Short(kind)}' is not a kind of change",
                $"{string.Join(", ", All.Keys.SkipLast(1))} or {All.Keys.Last()}"
            );
    }
}
