namespace Vellumkeep.Contract;

/// <summary>
/// What falls due until a day, the earliest first. Until: that day. More: there is more than these.
/// </summary>
public sealed record DuePage(string Today, string Until, IReadOnlyList<DueLine> Items, bool More);

/// <summary>
/// Something that falls due. Kind: key, certificate, temporary value, pending value, acceptance, confirmation, window
/// or review. On: the last day on which it holds. Of: the kind of record, Code its code. What: where it stands, in
/// words.
/// </summary>
public sealed record DueLine(string Kind, string On, bool Overdue, string Of, string Code, string Name, string What);

/// <summary>The versions of keys of all tunnels, never a key.</summary>
public sealed record KeyListPage(IReadOnlyList<KeyListLine> Items, bool More);

/// <summary>
/// A version of a key of a tunnel. Due: the day on which it should be replaced; null when it is not in use.
/// </summary>
public sealed record KeyListLine
{
    public required string Tunnel { get; init; }

    public required string TunnelName { get; init; }

    public required int Version { get; init; }

    [KeyState]
    public required string State { get; init; }

    /// <summary>How much of it cannot be guessed, in bits; 0 when it was made elsewhere and that is unknown.</summary>
    public required int Bits { get; init; }

    public required string CheckCode { get; init; }

    public required string MadeBy { get; init; }

    public required DateTimeOffset MadeAt { get; init; }

    public required string? Due { get; init; }

    public required string? Change { get; init; }

    /// <summary>Who has viewed it, each once, in the order of the first time.</summary>
    public required IReadOnlyList<string> ViewedBy { get; init; }
}
