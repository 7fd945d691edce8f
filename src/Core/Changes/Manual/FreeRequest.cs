namespace Vellumkeep.Core.Changes.Manual;

/// <summary>Work that no kind covers, its steps written by the author.</summary>
public sealed record FreeRequest(string TunnelId, ImmutableArray<FreeStep> Steps) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "free";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [TunnelId];
}

/// <summary>A step that the author wrote.</summary>
/// <param name="Stops">What it does to traffic; null when nothing.</param>
/// <param name="Undo">What undoes it; null when there is nothing to undo.</param>
public sealed record FreeStep(Part Part, Where Where, string Do, int Minutes, string? Stops, string? Undo);
