namespace Vellumkeep.Core.Changes.Strengthening;

/// <summary>
/// Better protection for a tunnel: that of a suite, or the strongest that both ends can do when none is named.
/// </summary>
public sealed record StrengthenRequest(string TunnelId, string? SuiteId) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "strengthen";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [TunnelId];

    /// <inheritdoc/>
    public override ImmutableArray<Named> Names => SuiteId is { } suite ? [new(RecordKind.Suite, suite)] : [];
}
