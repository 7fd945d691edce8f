using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>A plan before it is played.</summary>
/// <param name="Before">The records as they are.</param>
/// <param name="After">The records as they will be.</param>
/// <param name="Tunnels">The tunnels that it is about.</param>
/// <param name="Steps">Its steps, in the order in which they are worked.</param>
/// <param name="Deeds">What the steps do on the devices.</param>
/// <param name="Today">The day of the plan.</param>
internal sealed record PlayedPlan(
    Inventory Before,
    Inventory After,
    IReadOnlyList<TunnelStages> Tunnels,
    ImmutableArray<Step> Steps,
    Deeds Deeds,
    DateOnly Today
);
