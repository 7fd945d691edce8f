namespace Vellumkeep.Core.Changes;

/// <summary>
/// What the engineer wants to be different. Everything else about a change is computed from it and the records.
/// </summary>
public abstract record Wish
{
    /// <summary>The kind of change, in its word.</summary>
    public abstract string Kind { get; }

    /// <summary>The tunnels that it is about, the first one first.</summary>
    public abstract ImmutableArray<string> Tunnels { get; }

    /// <summary>The gateways that it is about besides those of its tunnels.</summary>
    public virtual ImmutableArray<string> Gateways => [];
}

/// <summary>Subnets to add or take out, on one side of a tunnel.</summary>
/// <param name="Reach">The prefixes on the other side that they should reach; empty: all that the tunnel carries
/// there.</param>
public sealed record SubnetsWish(string TunnelId, EndName End, ImmutableArray<Prefix> Add, ImmutableArray<Prefix> Reach)
    : Wish
{
    /// <summary>Prefixes that are to go.</summary>
    public ImmutableArray<Prefix> Remove { get; init; } = [];

    /// <summary>
    /// The same on further tunnels, each with the end at which the network lives: a network that joins several.
    /// </summary>
    public ImmutableArray<TunnelSide> Also { get; init; } = [];

    public override string Kind => "subnets";

    public override ImmutableArray<string> Tunnels => [.. Also.Select(a => a.TunnelId).Prepend(TunnelId).Distinct()];
}

/// <summary>One side of a tunnel.</summary>
public sealed record TunnelSide(string TunnelId, EndName End)
{
    /// <summary>What is added there, where it is not what the wish names: the other side of the same tunnel.</summary>
    public ImmutableArray<Prefix>? Add { get; init; }

    /// <summary>What is to go there, likewise.</summary>
    public ImmutableArray<Prefix>? Remove { get; init; }
}

/// <summary>A tunnel that is recorded as planned is to be built, at both ends.</summary>
public sealed record NewTunnelWish(string TunnelId) : Wish
{
    public override string Kind => "new tunnel";

    public override ImmutableArray<string> Tunnels => [TunnelId];
}

/// <summary>New keys for these tunnels.</summary>
public sealed record RekeyWish(ImmutableArray<string> TunnelIds) : Wish
{
    public override string Kind => "rekey";

    public override ImmutableArray<string> Tunnels => TunnelIds;
}

/// <summary>
/// Better protection for a tunnel: that of a suite, or the strongest that both ends can do when none is named.
/// </summary>
public sealed record StrengthenWish(string TunnelId, string? SuiteId) : Wish
{
    public override string Kind => "strengthen";

    public override ImmutableArray<string> Tunnels => [TunnelId];
}

/// <summary>A gateway is to become another platform, with every tunnel that ends on it.</summary>
public sealed record PlatformWish(string GatewayId, string PlatformId, ImmutableArray<string> TunnelIds) : Wish
{
    public override string Kind => "replace platform";

    public override ImmutableArray<string> Tunnels => TunnelIds;

    public override ImmutableArray<string> Gateways => [GatewayId];

    /// <summary>
    /// The new device's outer address, where it is built beside the old one; null when it takes the old one's place and
    /// address.
    /// </summary>
    public Address? Beside { get; init; }
}

/// <summary>An uplink of a gateway gets another outer address.</summary>
/// <param name="TunnelIds">The tunnels that use the uplink.</param>
public sealed record AddressWish(string GatewayId, string Uplink, Address Address, ImmutableArray<string> TunnelIds)
    : Wish
{
    public override string Kind => "address move";

    public override ImmutableArray<string> Tunnels => TunnelIds;

    public override ImmutableArray<string> Gateways => [GatewayId];
}

/// <summary>A tunnel is to go, from both ends.</summary>
public sealed record RetireWish(string TunnelId) : Wish
{
    public override string Kind => "retire";

    public override ImmutableArray<string> Tunnels => [TunnelId];
}

/// <summary>Work that no kind covers, its steps written by hand.</summary>
public sealed record FreeWish(string TunnelId, ImmutableArray<FreeStep> Steps) : Wish
{
    public override string Kind => "free";

    public override ImmutableArray<string> Tunnels => [TunnelId];
}

/// <summary>A step written by hand.</summary>
/// <param name="Stops">What it does to traffic; null when nothing.</param>
/// <param name="Undo">What undoes it; null when there is nothing to undo.</param>
public sealed record FreeStep(Part Part, Where Where, string Do, int Minutes, string? Stops, string? Undo);

/// <summary>
/// Makes the plan of a wish. A pure function of the records, the wish and the day: the same gives the same, to the
/// octet.
/// </summary>
public static class Planner
{
    /// <summary>The plan of a wish, or why there is none.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits for the plan any more.</exception>
    public static Planned Plan(Inventory inventory, Wish wish, DateOnly today, CancellationToken ct = default) =>
        wish switch
        {
            SubnetsWish w => Subnets.Plan(inventory, w, today, ct),
            NewTunnelWish w => NewTunnel.Plan(inventory, w, today, ct),
            RekeyWish w => Rekey.Plan(inventory, w, today, ct),
            StrengthenWish w => Strengthen.Plan(inventory, w, today, ct),
            PlatformWish w => ReplacePlatform.Plan(inventory, w, today, ct),
            AddressWish w => AddressMove.Plan(inventory, w, today, ct),
            RetireWish w => Retire.Plan(inventory, w, today, ct),
            FreeWish w => Free.Plan(inventory, w, today, ct),
            _ => throw new ArgumentOutOfRangeException(nameof(wish), wish.Kind, "There is no plan for this kind."),
        };
}
