namespace Vellumkeep.Core.Records;

/// <summary>What a change of one kind does to traffic on a platform.</summary>
public enum Disturbance
{
    /// <summary>Nothing.</summary>
    Nothing,

    /// <summary>The pair that is entered, and no other.</summary>
    ThatPair,

    /// <summary>The tunnel restarts.</summary>
    TunnelRestarts,

    /// <summary>Every tunnel of the gateway restarts.</summary>
    GatewayRestarts,

    /// <summary>The uplink goes down and up.</summary>
    UplinkBounces,
}

/// <summary>What a change alters on a gateway, as far as a platform treats it alike.</summary>
public enum Altering
{
    /// <summary>Subnets.</summary>
    Subnets,

    /// <summary>Firewall and no-NAT rules.</summary>
    Rules,

    /// <summary>Routes, and what is exchanged with a routing neighbour.</summary>
    Routes,

    /// <summary>Proposals, PFS, version and how it authenticates.</summary>
    Proposals,

    /// <summary>Lifetimes and reauthentication.</summary>
    Lifetimes,

    /// <summary>The pre-shared key, or for whom it is.</summary>
    Key,

    /// <summary>The certificate, or what is trusted.</summary>
    Certificate,

    /// <summary>Identities.</summary>
    Identity,

    /// <summary>The peer address.</summary>
    PeerAddress,

    /// <summary>The tunnel interface and its address.</summary>
    Interface,

    /// <summary>The uplink or its outer address.</summary>
    Uplink,

    /// <summary>Any other setting.</summary>
    Options,
}

/// <summary>What is manual beside a tunnel on some platforms.</summary>
public enum ManualWork
{
    /// <summary>Firewall rules.</summary>
    Rules,

    /// <summary>No-NAT rules.</summary>
    NoNat,

    /// <summary>Routes into the tunnel.</summary>
    Route,

    /// <summary>Discard routes behind them.</summary>
    DiscardRoute,
}

/// <summary>A disturbance and how long it lasts in seconds; null when the profile does not say.</summary>
/// <param name="What">What is disturbed.</param>
/// <param name="Seconds">How long; null when the profile does not say.</param>
public sealed record Cost(Disturbance What, int? Seconds)
{
    /// <summary>Whether SAs that stand are dropped.</summary>
    public bool Drops => What is not (Disturbance.Nothing or Disturbance.ThatPair);

    /// <summary>The words of what is disturbed.</summary>
    public static readonly Words<Disturbance> Kinds = new(
        "an interruption",
        (Disturbance.Nothing, "nothing"),
        (Disturbance.ThatPair, "that pair"),
        (Disturbance.TunnelRestarts, "tunnel restarts"),
        (Disturbance.GatewayRestarts, "every tunnel restarts"),
        (Disturbance.UplinkBounces, "uplink bounces")
    );

    /// <summary>Reads <c>tunnel restarts, 20 s</c> or <c>nothing</c>.</summary>
    public static Parsed<Cost> Parse(string text)
    {
        var comma = text.IndexOf(',');
        var what = Kinds.Parse(comma < 0 ? text : text[..comma]);
        return !what.Ok ? Parsed<Cost>.Fail(what.Wrong!, what.Right!)
            : comma < 0 ? Parsed<Cost>.Of(new(what.Value, null))
            : Lifetime.Parse(text[(comma + 1)..]).To(t => new Cost(what.Value, (int)t.InSeconds));
    }

    /// <inheritdoc/>
    public override string ToString() => Kinds.Of(What) + (Seconds is { } s ? $", {s} s" : "");
}

/// <summary>How what is entered takes effect.</summary>
public enum Effect
{
    /// <summary>Each entry at once.</summary>
    AtOnce,

    /// <summary>Everything together, when it is activated.</summary>
    OnActivation,

    /// <summary>Everything of an end, by one request to whoever hosts it.</summary>
    OnRequest,
}

/// <summary>How an IKEv1 lifetime that is not equal is answered.</summary>
public enum LifetimeRule
{
    /// <summary>A lifetime that is not equal is refused.</summary>
    MustBeEqual,

    /// <summary>The lower one holds at both, and nothing is said.</summary>
    LowerWinsSilently,

    /// <summary>The lower one holds, and is told (RFC 2407 section 4.5.4).</summary>
    LowerWinsAndSaysSo,

    /// <summary>That of the initiator holds.</summary>
    InitiatorWins,
}

/// <summary>By what a platform finds the peer entry for a message.</summary>
public enum Lookup
{
    /// <summary>By the address that it comes from.</summary>
    Address,

    /// <summary>By the identity that it names.</summary>
    Name,

    /// <summary>By nothing: one entry serves every peer.</summary>
    Any,
}

/// <summary>What an end takes when it answers.</summary>
public enum Answering
{
    /// <summary>Only what is in its own list, whole.</summary>
    SameList,

    /// <summary>Any combination of the members of its list.</summary>
    AnyCombination,
}

/// <summary>
/// In what form algorithms that are ticked one by one go out: as one proposal with several transforms of a type, or each
/// combination as a proposal (RFC 7296 section 3.3).
/// </summary>
public enum Offering
{
    /// <summary>One proposal with several transforms: the other end may combine them as it likes.</summary>
    OneProposal,

    /// <summary>Each as recorded, a proposal of its own.</summary>
    SeveralProposals,
}

/// <summary>In which order a device writes the levels of a distinguished name.</summary>
public enum NameOrder
{
    /// <summary>As it is encoded, the most general level first.</summary>
    GeneralFirst,

    /// <summary>The most specific level first (RFC 4514 section 2.1).</summary>
    SpecificFirst,
}

/// <summary>Whose order decides when several proposals are acceptable.</summary>
public enum OrderOf
{
    /// <summary>That of the initiator.</summary>
    Initiator,

    /// <summary>That of the responder.</summary>
    Responder,
}

/// <summary>Whether selectors that are not equal are taken when answering.</summary>
public enum SelectorRule
{
    /// <summary>Only equal ones are taken.</summary>
    MustBeEqual,

    /// <summary>Narrower ones are taken, and wider ones answered with a part (RFC 7296 section 2.9).</summary>
    Narrowed,
}

/// <summary>What a platform does when a rekey of a child SA is refused.</summary>
public enum AfterRefusal
{
    /// <summary>It reauthenticates.</summary>
    Reauthenticates,

    /// <summary>The tunnel goes down.</summary>
    GoesDown,
}

/// <summary>What a pre-shared key has to be on a platform; null where the profile does not say.</summary>
/// <param name="Shortest">Least characters.</param>
/// <param name="Longest">Most characters.</param>
/// <param name="Refused">Characters that the device does not take.</param>
/// <param name="OneEachWay">Whether it takes a key for each direction.</param>
/// <param name="HoldsTwo">Whether it holds two versions while a key is replaced.</param>
public sealed record KeyLimits(int? Shortest, int? Longest, string? Refused, bool? OneEachWay, bool? HoldsTwo);

/// <summary>
/// Retransmission of an unanswered request: after the first wait, each next one longer by the factor; tries counts the
/// sends after the first.
/// </summary>
/// <param name="FirstSeconds">The wait before the first repetition.</param>
/// <param name="Factor">By which each wait is longer than the one before; 1 or more.</param>
/// <param name="Tries">Repetitions after the first sending.</param>
public sealed record Retransmission(decimal FirstSeconds, decimal Factor, int Tries)
{
    /// <summary>
    /// Seconds from the first send until the peer counts as dead: the wait after the last try included.
    /// </summary>
    public decimal Total
    {
        get
        {
            decimal total = 0,
                wait = FirstSeconds;
            for (var i = 0; i <= Tries; i++, wait *= Factor)
                total += wait;
            return total;
        }
    }

    /// <summary>Reads <c>4 s x 2, 5 tries</c>: first wait of 1 to 60 s, factor of 1 to 10, 1 to 12 tries.</summary>
    public static Parsed<Retransmission> Parse(string text)
    {
        var parts = text.Replace(" ", "").Replace("tries", "").Split(['x', ',']);
        return
            parts
                is [['1' or '2' or '3' or '4' or '5' or '6' or '7' or '8' or '9', .., 's'] first, var factor, var tries]
            && decimal.TryParse(first[..^1], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var f)
            && f is >= 1 and <= 60
            && decimal.TryParse(factor, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var x)
            && x is >= 1 and <= 10
            && int.TryParse(tries, NumberStyles.None, CultureInfo.InvariantCulture, out var n)
            && n is >= 1 and <= 12
            ? Parsed<Retransmission>.Of(new(f, x, n))
            : Parsed<Retransmission>.Fail(
                $"'{Typed.Short(text)}' is not a retransmission schedule",
                "first wait, factor and tries, such as: 4 s x 2, 5 tries"
            );
    }

    /// <inheritdoc/>
    public override string ToString() =>
        string.Create(CultureInfo.InvariantCulture, $"{FirstSeconds:0.##} s x {Factor:0.##}, {Tries} tries");
}

/// <summary>Least and most of a lifetime; both included.</summary>
/// <param name="Least">The shortest that the device takes.</param>
/// <param name="Most">The longest that the device takes.</param>
public sealed record LifeRange(Lifetime Least, Lifetime Most)
{
    /// <summary>Whether it takes a lifetime.</summary>
    public bool Takes(Lifetime time) => time.InSeconds >= Least.InSeconds && time.InSeconds <= Most.InSeconds;

    /// <summary>Reads <c>120 s to 86400 s</c>.</summary>
    public static Parsed<LifeRange> Parse(string text)
    {
        var cut = text.IndexOf(" to ", StringComparison.Ordinal);
        return cut < 0
            ? Parsed<LifeRange>.Fail(
                $"'{Typed.Short(text)}' is not a range of lifetimes",
                "least and most, such as: 120 s to 86400 s"
            )
            : Lifetime
                .Parse(text[..cut])
                .Then(least =>
                    Lifetime
                        .Parse(text[(cut + 4)..])
                        .Then(most =>
                            most.InSeconds >= least.InSeconds
                                ? Parsed<LifeRange>.Of(new(least, most))
                                : Parsed<LifeRange>.Fail(
                                    $"'{Typed.Short(text)}' ends before it begins",
                                    $"{most} to {least}"
                                )
                        )
                );
    }

    /// <inheritdoc/>
    public override string ToString() => $"{Least} to {Most}";
}
