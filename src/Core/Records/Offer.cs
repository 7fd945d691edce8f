namespace Vellumkeep.Core.Records;

/// <summary>
/// What another party (a cloud, a supplier) always asks of everyone: kept once, so that the next tunnel with it begins
/// there.
/// </summary>
public sealed record Offer : IRecord
{
    /// <summary>What identifies it; never shown.</summary>
    public string Id { get; init; } = "";

    /// <inheritdoc/>
    public string Code { get; init; } = "";

    /// <summary>Whose offer it is.</summary>
    public string CustomerId { get; init; } = "";

    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";

    /// <summary>The identity it sends; null when it is another one for each customer.</summary>
    public Identity? Identity { get; init; }

    /// <summary>What it lets others reach.</summary>
    public ImmutableArray<Prefix> Subnets { get; init; } = [];

    /// <summary>What it asks for: any setting of a tunnel.</summary>
    public SettingSet Settings { get; init; } = SettingSet.Empty;

    /// <summary>Anything else.</summary>
    public string? Notes { get; init; }

    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Offer;

    /// <inheritdoc/>
    public DateOnly? Retired { get; init; }
}
