namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// What kind of work on a device an entry belongs to, in the order in which the work is safe: what stops nothing first,
/// what carries traffic last.
/// </summary>
public enum Work
{
    /// <summary>Firewall rules.</summary>
    Rules,

    /// <summary>The no-NAT rules.</summary>
    NoNat,

    /// <summary>Discard routes.</summary>
    Discard,

    /// <summary>The address of the tunnel interface.</summary>
    Interface,

    /// <summary>How it is protected: proposals, PFS, lifetimes.</summary>
    Proposals,

    /// <summary>The peer: address and identities.</summary>
    Peer,

    /// <summary>The key, or the certificate.</summary>
    Key,

    /// <summary>Every other setting.</summary>
    Options,

    /// <summary>What is protected.</summary>
    Selectors,

    /// <summary>The neighbour of a routing protocol.</summary>
    Routing,

    /// <summary>Routes into the tunnel.</summary>
    Routes,
}

/// <summary>The order of work on one end; what stands together is one step.</summary>
internal static class Order
{
    private static readonly Work[][] Entering = [.. Enum.GetValues<Work>().Select(w => new[] { w })];

    // Removal goes in the opposite order, what carries traffic first.
    private static readonly Work[][] TakingOut = [.. Entering.Reverse()];

    // Of a tunnel that goes, the tunnel itself goes in one piece.
    private static readonly Work[][] Going =
    [
        [Work.Routes],
        [Work.Selectors, Work.Routing, Work.Options, Work.Key, Work.Peer, Work.Proposals, Work.Interface],
        [Work.Discard],
        [Work.NoNat],
        [Work.Rules],
    ];

    public static Work[][] Of(bool onlyTaken, bool everythingGoes) =>
        everythingGoes ? Going
        : onlyTaken ? TakingOut
        : Entering;
}
