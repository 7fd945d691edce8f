namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>What somebody says of an attempt at a step.</summary>
/// <param name="Outcome">What came of it.</param>
public sealed record StepTold(AttemptOutcome Outcome)
{
    /// <summary>The reason why it is skipped, what happened when it failed, or anything else worth keeping.</summary>
    public string? Remark { get; init; }

    /// <summary>What was set otherwise; it is bound to the places where the inventory keeps it.</summary>
    public Deviation? Deviation { get; init; }

    /// <summary>What proves it, as text.</summary>
    public string? Proof { get; init; }

    /// <summary>What proves it, as a file that is kept beside the record.</summary>
    public ProofFile? File { get; init; }

    /// <summary>Why a proving step is done without proof.</summary>
    public string? WithoutProof { get; init; }

    /// <summary>Whether something proves it.</summary>
    internal bool IsProven => !string.IsNullOrWhiteSpace(Proof) || File is not null;
}

/// <summary>A version of a tunnel's pre-shared key.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="Version">From 1, as the tunnel counts its keys.</param>
public sealed record VersionOfKey(string TunnelId, int Version);
