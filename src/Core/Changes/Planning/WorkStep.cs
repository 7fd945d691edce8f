namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What is entered and removed in one step of the work on an end, before it has its place in the plan.</summary>
/// <param name="Key">What tells it from the other steps of the same end.</param>
/// <param name="Minutes">How long it takes.</param>
/// <param name="Does">What it does, in one imperative sentence.</param>
/// <param name="Enter">The entries that it enters or alters.</param>
/// <param name="Remove">The entries that it removes.</param>
internal sealed record WorkStep(
    string Key,
    int Minutes,
    Sentence Does,
    ImmutableArray<Entered> Enter,
    ImmutableArray<Entry> Remove
)
{
    /// <summary>The values as they are typed, where they are not the entries as a whole; else null.</summary>
    public ImmutableArray<StepValue>? Values { get; init; }

    /// <summary>What is seen on the device then.</summary>
    public ImmutableArray<StepValue> Expect { get; init; } = [];

    /// <summary>Places that it carries and no other step of the same work does.</summary>
    public ImmutableArray<Place> Carries { get; init; } = [];

    /// <summary>How it is undone, where that does not follow from the entries; else null.</summary>
    public Sentence? Undo { get; init; }

    /// <summary>Whether it only prepares what another step of the same work puts into use.</summary>
    public bool OnlyPrepares { get; init; }
}
