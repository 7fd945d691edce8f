namespace Vellumkeep.Core.Changes.Manual;

/// <summary>Work that no kind covers, its steps written by the author.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="Steps">What is to be done, in that order.</param>
public sealed record FreeRequest(string TunnelId, ImmutableArray<FreeStep> Steps) : ChangeRequest
{
    /// <inheritdoc/>
    public override string Kind => "free";

    /// <inheritdoc/>
    public override ImmutableArray<string> Tunnels => [TunnelId];
}

/// <summary>A step that the author wrote.</summary>
/// <param name="Part">In which part of the run sheet it stands.</param>
/// <param name="Where">At which end it is done.</param>
/// <param name="Do">What is done, as it is read aloud.</param>
/// <param name="Minutes">How long it takes, at least 1.</param>
/// <param name="Stops">What it does to traffic; null when nothing.</param>
/// <param name="Undo">What undoes it; null when there is nothing to undo.</param>
public sealed record FreeStep(Part Part, Where Where, string Do, int Minutes, string? Stops, string? Undo);
