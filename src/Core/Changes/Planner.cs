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
/// Makes the plan of a request. A pure function of the records, the request and the day: the same gives the same, to
/// the octet.
/// </summary>
public static class Planner
{
    /// <summary>The plan of a request, or why there is none.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for the plan any more.</exception>
    /// <exception cref="ArgumentOutOfRangeException">There is no such kind of request.</exception>
    public static Planned Plan(
        Inventory inventory,
        ChangeRequest request,
        DateOnly today,
        CancellationToken ct = default
    ) =>
        request switch
        {
            SubnetsRequest w => SubnetsPlan.Of(inventory, w, today, ct),
            NewTunnelRequest w => NewTunnelPlan.Of(inventory, w, today, ct),
            RekeyRequest w => RekeyPlan.Of(inventory, w, today, ct),
            StrengthenRequest w => StrengthenPlan.Of(inventory, w, today, ct),
            PlatformRequest w => PlatformPlan.Of(inventory, w, today, ct),
            AddressRequest w => MovePlan.Of(inventory, w, today, ct),
            RetireRequest w => RetirePlan.Of(inventory, w, today, ct),
            FreeRequest w => ManualPlan.Of(inventory, w, today, ct),
            _ => throw new ArgumentOutOfRangeException(
                nameof(request),
                request.Kind,
                "There is no plan for this kind."
            ),
        };
}
