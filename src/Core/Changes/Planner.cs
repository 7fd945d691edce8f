using Vellumkeep.Core.Changes.Addresses;
using Vellumkeep.Core.Changes.Manual;
using Vellumkeep.Core.Changes.NewTunnels;
using Vellumkeep.Core.Changes.Platforms;
using Vellumkeep.Core.Changes.Rekeying;
using Vellumkeep.Core.Changes.Retiring;
using Vellumkeep.Core.Changes.Strengthening;
using Vellumkeep.Core.Changes.Subnets;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// Makes the plan of a wish. A pure function of the records, the wish and the day: the same gives the same, to the
/// octet.
/// </summary>
public static class Planner
{
    /// <summary>The plan of a wish, or why there is none.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for the plan any more.</exception>
    /// <exception cref="ArgumentOutOfRangeException">There is no such kind of wish.</exception>
    public static Planned Plan(Inventory inventory, Wish wish, DateOnly today, CancellationToken ct = default) =>
        wish switch
        {
            SubnetsWish w => SubnetsPlan.Of(inventory, w, today, ct),
            NewTunnelWish w => NewTunnelPlan.Of(inventory, w, today, ct),
            RekeyWish w => RekeyPlan.Of(inventory, w, today, ct),
            StrengthenWish w => StrengthenPlan.Of(inventory, w, today, ct),
            PlatformWish w => PlatformPlan.Of(inventory, w, today, ct),
            AddressWish w => MovePlan.Of(inventory, w, today, ct),
            RetireWish w => RetirePlan.Of(inventory, w, today, ct),
            FreeWish w => ManualPlan.Of(inventory, w, today, ct),
            _ => throw new ArgumentOutOfRangeException(nameof(wish), wish.Kind, "There is no plan for this kind."),
        };
}
