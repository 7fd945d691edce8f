namespace Vellumkeep.Storage.Writing;

/// <summary>A record that differs: its new body, and the version it follows (0 when it is new).</summary>
internal sealed record PreparedRecord(IRecord Record, byte[] Body, int Before, string? OwnerId)
{
    public bool IsNew => Before == 0;
}

/// <summary>Findings of a tunnel as they will stand, with what a list shows of it and the words of what it refers to.</summary>
internal sealed record PreparedTunnel(TunnelRow Row, IReadOnlyList<FindingRow> Findings, IReadOnlyList<WordRow> Words);

/// <summary>Everything that one write will write, worked out before anybody is kept waiting, and what it rests on.</summary>
internal sealed class Prepared
{
    /// <summary>The last commit when it was worked out.</summary>
    public required long Head { get; init; }

    public required Writing Writing { get; init; }

    public required IReadOnlyList<PreparedRecord> Records { get; init; }

    public required Overlay Overlay { get; init; }

    public required IReadOnlyList<PreparedTunnel> Tunnels { get; init; }

    public required IReadOnlyList<FindingMove> Moves { get; init; }

    /// <summary>The ids of all records that were read for it.</summary>
    public required IReadOnlySet<string> RestsOn { get; init; }
}
