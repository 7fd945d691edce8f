namespace Vellumkeep.Core.Records;

/// <summary>
/// What another party (a cloud, a supplier) always asks of everyone: kept once, so that the next tunnel with it begins
/// there.
/// </summary>
public sealed record Offer : IRecord
{
    public string Id { get; init; } = "";

    public string Code { get; init; } = "";

    public string CustomerId { get; init; } = "";

    public string Name { get; init; } = "";

    /// <summary>The identity it sends; null when it is another one for each customer.</summary>
    public Identity? Identity { get; init; }

    /// <summary>What it lets others reach.</summary>
    public ImmutableArray<Prefix> Subnets { get; init; } = [];

    /// <summary>What it asks for: any setting of a tunnel.</summary>
    public SettingSet Settings { get; init; } = SettingSet.Empty;

    public string? Notes { get; init; }

    public RecordKind Kind => RecordKind.Offer;

    public DateOnly? Retired { get; init; }
}
