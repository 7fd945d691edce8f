using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Storage.Reading;

/// <summary>What a list of tunnels is narrowed to; null is all.</summary>
public sealed record TunnelFilter(string? OwnerId, string? State, string? FindingCode, string? Severity, string? Text);

/// <summary>A tunnel as a list shows it.</summary>
public sealed record TunnelListed(
    string Id,
    string Code,
    string Name,
    string CustomerId,
    string State,
    string EndA,
    string EndB,
    int Worst,
    ImmutableArray<VerdictPart> Verdict
);
