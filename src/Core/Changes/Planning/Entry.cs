namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// One thing that is entered on the device of an end for a tunnel, spelled as the platform there takes it.
/// </summary>
/// <param name="Work">The kind of work that it belongs to.</param>
/// <param name="Key">What identifies it on that end: the same key with another text is the same thing altered.</param>
/// <param name="Label">What it is called.</param>
/// <param name="Text">What is entered.</param>
public sealed record Entry(Work Work, string Key, string Label, string Text)
{
    /// <summary>The key of the list of the own subnets.</summary>
    public const string LocalSubnets = "local";

    /// <summary>The key of the list of the prefixes that are announced to a routing neighbour.</summary>
    public const string Announces = "announces";

    /// <summary>The key of the identity that is sent.</summary>
    public const string Sends = "sends";

    /// <summary>The key of the identity that is expected.</summary>
    public const string Expects = "expects";

    /// <summary>The key of what the pre-shared key is entered for.</summary>
    public const string KeyFor = "keyFor";

    /// <summary>Where the inventory keeps it; null when it follows from what was agreed.</summary>
    public Place? At { get; init; }

    /// <summary>Its parts, where the inventory keeps each for itself.</summary>
    public ImmutableArray<ValuePart> Parts { get; init; } = [];

    /// <summary>The value that it waits for; null when it can be entered.</summary>
    public PendingAt? Pending { get; init; }

    /// <summary>That it is there only for now: what it must become, and by when; null for a value that stays.</summary>
    public string? OnlyUntil { get; init; }

    /// <summary>Of an item of a recorded list: where the whole item stands.</summary>
    public Place? Item { get; init; }

    /// <summary>Of a firewall rule: which.</summary>
    public Rule? Rule { get; init; }

    /// <summary>Of a no-NAT rule, or of a pair of selectors: which.</summary>
    public LocalRemote? Pair { get; init; }

    /// <summary>Of a route: which.</summary>
    public Route? Route { get; init; }

    /// <summary>Of selectors: the list on the gateway that they are; null when the end has its own.</summary>
    public string? SharedList { get; init; }

    /// <summary>Of a list of prefixes: which.</summary>
    public ImmutableArray<Prefix> Prefixes { get; init; } = [];

    /// <summary>Of a list of prefixes: the prefixes, written one after the other.</summary>
    public string PrefixText => string.Join(", ", Prefixes);

    /// <summary>Of a key: the versions that are held.</summary>
    public ImmutableArray<int> Versions { get; init; } = [];
}
