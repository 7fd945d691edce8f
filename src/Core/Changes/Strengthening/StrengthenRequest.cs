namespace Vellumkeep.Core.Changes.Strengthening;

/// <summary>
/// Better protection for a tunnel: that of a suite, or the strongest that both ends can do when none is named.
/// </summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="SuiteId">What identifies the wanted suite; null for the strongest that both ends support.</param>
public sealed record StrengthenRequest(string TunnelId, string? SuiteId) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "strengthen";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [TunnelId];

    /// <inheritdoc/>
    public override ImmutableArray<Named> Names => SuiteId is { } suite ? [new(RecordKind.Suite, suite)] : [];
}
