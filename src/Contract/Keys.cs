namespace Vellumkeep.Contract;

/// <summary>What may be known about the versions of a tunnel's pre-shared key; never a key.</summary>
public sealed record KeysPage(string Tunnel, IReadOnlyList<KeyVersionLine> Versions, string? HeldAtA, string? HeldAtB);

/// <summary>
/// A version of a key. State: prepared, in use, superseded, withdrawn. Bits: how much of it cannot be guessed. Change:
/// the change that it was made for.
/// </summary>
public sealed record KeyVersionLine
{
    public required int Version { get; init; }

    public required string State { get; init; }

    public required int Bits { get; init; }

    public required int Length { get; init; }

    public required string CheckCode { get; init; }

    public required string MadeBy { get; init; }

    public required DateTimeOffset MadeAt { get; init; }

    public required string? Change { get; init; }

    public required IReadOnlyList<KeyViewLine> Viewed { get; init; }
}

/// <summary>That somebody was shown it.</summary>
public sealed record KeyViewLine(string Who, DateTimeOffset At, string Reason, string From);

/// <summary>Change: the change that the key is for; it says the version. Without one, the next version.</summary>
public sealed record MakeKeyGiven(string? Change)
{
    /// <summary>Who made it elsewhere, where it was not made here: then only its check code is known here.</summary>
    public string? MadeBy { get; init; }

    /// <summary>Its check code, as it was read out; null when it was not.</summary>
    public string? CheckCode { get; init; }
}

/// <summary>Reason to show it; written down with who, when and from where.</summary>
public sealed record ShowKeyGiven(string Reason);

/// <summary>A key, shown. Grouped: in fours, for reading aloud; the blanks are not part of it.</summary>
public sealed record KeyShown(string Tunnel, int Version, string Key, string Grouped, int Bits, string CheckCode);
