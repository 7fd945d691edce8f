namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>
/// A kind of change as it is asked for: its reader, and the fields that it takes beside those of every kind.
/// </summary>
internal sealed record DraftReader(Func<Draft, Task<Drafted>> Read, params string[] Takes);

/// <summary>The kinds of change by their words, each with its reader.</summary>
internal static class RequestReaders
{
    /// <summary>The kind that is meant when none is named.</summary>
    private const string Unnamed = "subnets";

    private static readonly Dictionary<string, DraftReader> All = new()
    {
        ["subnets"] = new(
            SubnetsDraft.ReadAsync,
            "tunnel",
            "end",
            "add",
            "reach",
            "remove",
            "addOther",
            "removeOther",
            "also"
        ),
        ["new tunnel"] = new(NewTunnelDraft.ReadAsync, "tunnel", "also", "suite", "new"),
        ["rekey"] = new(RekeyDraft.ReadAsync, "tunnel", "also"),
        ["strengthen"] = new(StrengthenDraft.ReadAsync, "tunnel", "suite"),
        ["replace platform"] = new(PlatformDraft.ReadAsync, "gateway", "platform", "beside"),
        ["address move"] = new(AddressDraft.ReadAsync, "gateway", "uplink", "address"),
        ["retire"] = new(RetireDraft.ReadAsync, "tunnel"),
        ["free"] = new(FreeDraft.ReadAsync, "tunnel", "steps"),
    };

    /// <summary>Every field that only some kinds take, and whether something is given there.</summary>
    private static readonly (string Field, Func<DraftChange, bool> IsGiven)[] OfSomeKinds =
    [
        ("tunnel", g => IsText(g.Tunnel)),
        ("end", g => IsText(g.End)),
        ("add", g => IsList(g.Add)),
        ("reach", g => IsList(g.Reach)),
        ("remove", g => IsList(g.Remove)),
        ("addOther", g => IsList(g.AddOther)),
        ("removeOther", g => IsList(g.RemoveOther)),
        ("also", g => IsList(g.Also)),
        ("suite", g => IsText(g.Suite)),
        ("gateway", g => IsText(g.Gateway)),
        ("platform", g => IsText(g.Platform)),
        ("beside", g => IsText(g.Beside)),
        ("uplink", g => IsText(g.Uplink)),
        ("address", g => IsText(g.Address)),
        ("new", g => g.New is not null),
        ("steps", g => IsList(g.Steps)),
    ];

    /// <summary>Reads a draft by the reader of its kind.</summary>
    /// <exception cref="ProblemException">There is no such kind, something is given that it does not take, or something
    /// that was given cannot be read.</exception>
    public static Task<Drafted> ReadAsync(Draft draft)
    {
        var kind = string.IsNullOrWhiteSpace(draft.Given.Kind)
            ? Unnamed
            : draft.Given.Kind.Trim().ToLowerInvariant().Replace('-', ' ');
        if (!All.TryGetValue(kind, out var reader))
            throw ProblemException.Field(
                "kind",
                $"'{Typed.Short(kind)}' is not a kind of change",
                $"{string.Join(", ", All.Keys.SkipLast(1))} or {All.Keys.Last()}"
            );
        // What nobody reads would look as though it had been planned.
        var idle = OfSomeKinds.FirstOrDefault(f => !reader.Takes.Contains(f.Field) && f.IsGiven(draft.Given)).Field;
        return idle is null
            ? reader.Read(draft)
            : throw ProblemException.Field(
                idle,
                $"a change of kind {kind} takes no such value",
                string.Join(", ", reader.Takes)
            );
    }

    private static bool IsText(string? text) => !string.IsNullOrWhiteSpace(text);

    private static bool IsList<T>(IReadOnlyList<T>? list) => list is { Count: > 0 };
}
