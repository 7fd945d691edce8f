namespace Vellumkeep.Core.Records;

/// <summary>
/// One A-side prefix with one B-side prefix that should reach each other, as seen inside the tunnel. Known by its two
/// prefixes.
/// </summary>
/// <param name="A">The prefix behind A.</param>
/// <param name="B">The prefix behind B.</param>
/// <param name="Only">What of the traffic between them is meant; null for all of it.</param>
public readonly record struct SubnetPair(Prefix A, Prefix B, Traffic? Only = null) : IComparable<SubnetPair>
{
    /// <summary>The prefix on the side of an end.</summary>
    public Prefix On(EndName end) => end == EndName.A ? A : B;

    /// <inheritdoc/>
    public int CompareTo(SubnetPair other) =>
        A.CompareTo(other.A) is var byA and not 0 ? byA
        : B.CompareTo(other.B) is var byB and not 0 ? byB
        : string.CompareOrdinal(Only?.OfPair, other.Only?.OfPair);

    /// <summary>What of the traffic is meant, as an end sees it.</summary>
    public Traffic TrafficAt(EndName end) => (end == EndName.A ? Only : Only?.Turned) ?? Traffic.All;

    /// <summary>The pair as an end sees it.</summary>
    public LocalRemote At(EndName end) => new(On(end), On(end.Other()), Only is null ? null : TrafficAt(end));

    /// <summary>The same prefixes with some traffic, as an end sees it.</summary>
    public static SubnetPair Of(EndName end, Prefix local, Prefix remote, Traffic traffic)
    {
        Traffic? only =
            traffic == Traffic.All ? null
            : end == EndName.A ? traffic
            : traffic.Turned;
        return end == EndName.A ? new(local, remote, only) : new(remote, local, only);
    }

    /// <inheritdoc/>
    public override string ToString() => $"{A} - {B}{(Only is { } only ? $", {only.OfPair}" : "")}";
}

/// <summary>The direction that a rule lets pass.</summary>
public enum RuleDirection
{
    /// <summary>In and out.</summary>
    Both,

    /// <summary>From the peer subnet to the own one.</summary>
    In,

    /// <summary>From the own subnet to the peer one.</summary>
    Out,
}

/// <summary>A firewall rule on an end that lets a pair pass: into its own subnet, out of it, or both.</summary>
/// <param name="Way">Into the own subnet, out of it, or both.</param>
/// <param name="Local">The own prefix.</param>
/// <param name="Remote">The peer's prefix.</param>
/// <param name="Only">What of the traffic between them it lets pass; null for all of it.</param>
public sealed record Rule(RuleDirection Way, Prefix Local, Prefix Remote, Traffic? Only = null)
{
    /// <summary>The words of the directions.</summary>
    public static readonly Words<RuleDirection> Ways = new(
        "a direction of a rule",
        (RuleDirection.Both, "both"),
        (RuleDirection.In, "in"),
        (RuleDirection.Out, "out")
    );

    /// <summary>Whether it lets a pair pass in a direction.</summary>
    public bool Lets(RuleDirection way, SubnetPair pair, EndName end) =>
        (Way == RuleDirection.Both || Way == way)
        && Local.Contains(pair.On(end))
        && Remote.Contains(pair.On(end.Other()))
        && (Only ?? Traffic.All).Contains(pair.TrafficAt(end));
}

/// <summary>An own and a peer prefix: a selector as entered, or a no-NAT rule.</summary>
/// <param name="Local">The own prefix.</param>
/// <param name="Remote">The peer's prefix.</param>
/// <param name="Only">What of the traffic between them is meant, as the end sees it; null for all of it.</param>
/// <param name="Pfs">PFS of the child SA of this selector, where the platform has it for each; null for that of the end.</param>
public sealed record LocalRemote(Prefix Local, Prefix Remote, Traffic? Only = null, Pfs? Pfs = null)
{
    /// <summary>The two prefixes alone, as a no-NAT rule has them.</summary>
    public LocalRemote Prefixes => new(Local, Remote);

    /// <summary>What of the traffic is meant.</summary>
    public Traffic Traffic => Only ?? Traffic.All;

    /// <inheritdoc/>
    public override string ToString() => $"{Local} → {Remote}{(Only is { } only ? $", {only.AtEnd}" : "")}";
}

/// <summary>
/// A route on an end: into the tunnel, or a discard route that keeps traffic from leaking while the tunnel is down.
/// </summary>
/// <param name="To">What it leads to.</param>
/// <param name="Discard">Whether it drops, and does not lead into the tunnel.</param>
public sealed record Route(Prefix To, bool Discard);

/// <summary>
/// The selectors as entered on an end: own and peer lists (written out, or a shared entry of the gateway), or pairs
/// where the platform takes pairs.
/// </summary>
/// <param name="Local">The own list written out; null when it is a shared entry or pairs.</param>
/// <param name="LocalFrom">The shared entry of the own list; null when it is written out.</param>
/// <param name="Remote">The peer's list written out; null when it is a shared entry or pairs.</param>
/// <param name="RemoteFrom">The shared entry of the peer's list; null when it is written out.</param>
/// <param name="Pairs">The pairs; null where the platform takes lists.</param>
/// <param name="Confirmed">Who saw them on the device; null when nobody has.</param>
public sealed record EnteredSubnets(
    ImmutableArray<Prefix>? Local,
    string? LocalFrom,
    ImmutableArray<Prefix>? Remote,
    string? RemoteFrom,
    ImmutableArray<LocalRemote>? Pairs,
    Confirmation? Confirmed
);

/// <summary>
/// The key versions an end holds, one list for both directions or one each; a list, because some platforms hold two
/// while a key is replaced.
/// </summary>
/// <param name="Send">The versions it signs with, newest last.</param>
/// <param name="Receive">The versions it verifies with, newest last.</param>
public sealed record KeyHeld(ImmutableArray<int> Send, ImmutableArray<int> Receive)
{
    /// <summary>Whether the same versions serve both directions.</summary>
    public bool OneForBoth => Send.SequenceEqual(Receive);

    /// <inheritdoc/>
    public override string ToString() =>
        OneForBoth ? Versions(Send) : $"send {Versions(Send)}, receive {Versions(Receive)}";

    private static string Versions(ImmutableArray<int> list) =>
        list.IsEmpty ? "none" : (list.Length == 1 ? "version " : "versions ") + string.Join(", ", list);
}

/// <summary>Entered, active, saved: each with the day it was done, or null.</summary>
/// <param name="Entered">When it was typed; null when it was not.</param>
/// <param name="Active">When it took effect; null when it has not.</param>
/// <param name="Saved">When the configuration was saved; null when it was not.</param>
public sealed record Progress(DateOnly? Entered, DateOnly? Active, DateOnly? Saved)
{
    /// <summary>Nothing was done yet.</summary>
    public static readonly Progress None = new(null, null, null);
}
