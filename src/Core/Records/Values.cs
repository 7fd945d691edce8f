namespace Vellumkeep.Core.Records;

/// <summary>A closed word as a setting's value, so that it has the one shape that settings have.</summary>
/// <param name="Value">Which one.</param>
/// <param name="Set">The words that there are.</param>
public sealed record Word<T>(T Value, Words<T> Set)
    where T : struct, Enum
{
    /// <inheritdoc/>
    public bool Equals(Word<T>? other) => other is not null && EqualityComparer<T>.Default.Equals(Value, other.Value);

    /// <inheritdoc/>
    public override int GetHashCode() => Value.GetHashCode();

    /// <inheritdoc/>
    public override string ToString() => Set.Of(Value);
}

/// <summary>A whole number as a setting's value.</summary>
/// <param name="Value">As it is.</param>
public sealed record Number(int Value)
{
    /// <inheritdoc/>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>The TCP MSS an end clamps to, in octets; null when it clamps nothing.</summary>
/// <param name="Octets">The largest segment; null when nothing is clamped.</param>
public sealed record Clamp(int? Octets)
{
    /// <summary>Reads <c>1360</c> (500 to 9,176) or <c>off</c>.</summary>
    public static Parsed<Clamp> Parse(string text) =>
        text.Equals("off", StringComparison.OrdinalIgnoreCase)
            ? Parsed<Clamp>.Of(new((int?)null))
            : Scalars.Number(text, 500, 9176, "an MSS in octets").To(n => new Clamp(n));

    /// <inheritdoc/>
    public override string ToString() => Octets?.ToString(CultureInfo.InvariantCulture) ?? "off";
}

/// <summary>What is asked so that the tunnel stays up.</summary>
/// <param name="At">Its address or name; null when nothing is asked.</param>
public sealed record KeepaliveTarget(PeerAddress? At)
{
    /// <summary>Nothing is asked.</summary>
    public static readonly KeepaliveTarget None = new((PeerAddress?)null);

    /// <summary>Its address; null when it is a name, or nothing is asked.</summary>
    public Address? Address => At?.Address;

    /// <summary>Reads an address, a name, or <c>none</c>, for which older files have <c>any</c>.</summary>
    public static Parsed<KeepaliveTarget> Parse(string text) =>
        text.ToLowerInvariant() is "none" or "off" or "any" ? Parsed<KeepaliveTarget>.Of(None)
        : PeerAddress.Parse(text) is { Ok: true } read ? Parsed<KeepaliveTarget>.Of(new(read.Value))
        : Parsed<KeepaliveTarget>.Fail(
            $"'{Typed.Short(text)}' is not a target of keepalives",
            "an address such as 10.61.0.20, a name, or none"
        );

    /// <inheritdoc/>
    public override string ToString() => At?.ToString() ?? "none";
}

/// <summary>Something done again after a length of time, or never (off).</summary>
/// <param name="Time">How often; null when never.</param>
public sealed record Every(Lifetime? Time)
{
    /// <summary>Never.</summary>
    public static readonly Every Off = new((Lifetime?)null);

    /// <summary>Reads an interval such as <c>10 s</c>, or <c>off</c>.</summary>
    public static Parsed<Every> Parse(string text) =>
        text.Equals("off", StringComparison.OrdinalIgnoreCase)
            ? Parsed<Every>.Of(Off)
            : Lifetime.Parse(text).To(t => new Every(t));

    /// <inheritdoc/>
    public override string ToString() => Time?.ToString() ?? "off";
}

/// <summary>A list as a setting's value, equal when the members are equal and in the same order.</summary>
/// <param name="Items">Preferred first, where the order means something.</param>
public sealed record Several<T>(ImmutableArray<T> Items)
{
    /// <inheritdoc/>
    public bool Equals(Several<T>? other) => other is not null && Items.SequenceEqual(other.Items);

    /// <inheritdoc/>
    public override int GetHashCode() => Items.Length;

    /// <inheritdoc/>
    public override string ToString() => string.Join(", ", Items);
}

/// <summary>Before its hard end an SA is rekeyed: a part of it in percent (0 to 90), or a time.</summary>
/// <param name="Percent">Of the lifetime; null when it is a time.</param>
/// <param name="Time">Before the end; null when it is a part of the lifetime.</param>
public sealed record Margin(int? Percent, Lifetime? Time)
{
    /// <summary>Reads <c>20 %</c> or <c>5 min</c>.</summary>
    public static Parsed<Margin> Parse(string text) =>
        text.EndsWith('%')
            ? Scalars.Number(text[..^1].Trim(), 0, 90, "a margin in percent").To(p => new Margin(p, null))
            : Lifetime.Parse(text).To(t => new Margin(null, t));

    /// <summary>The margin of a lifetime, in seconds, never more than the lifetime itself.</summary>
    public long Of(Lifetime lifetime) =>
        Math.Min(lifetime.InSeconds, Percent is { } p ? lifetime.InSeconds * p / 100 : Time!.InSeconds);

    /// <inheritdoc/>
    public override string ToString() => Percent is { } p ? $"{p} %" : Time!.ToString();
}

/// <summary>How long an SA lives: time, optionally data, and how long before the end it is rekeyed.</summary>
/// <param name="Time">Until the hard end.</param>
/// <param name="Data">What may pass until the hard end; null when only time counts.</param>
/// <param name="Margin">How long before the end it is rekeyed; null when not known.</param>
public sealed record Life(Lifetime Time, DataAmount? Data = null, Margin? Margin = null)
{
    /// <inheritdoc/>
    public override string ToString() =>
        string.Join(" or ", new[] { Time.ToString(), Data?.ToString() }.Where(t => t is not null))
        + (Margin is null ? "" : $", rekey {Margin} before");
}

/// <summary>Dead peer detection: interval of 1 s to a day, 1 to 60 tries, what follows; or off.</summary>
/// <param name="Interval">Between probes; null when it is off.</param>
/// <param name="Retries">Probes without an answer until the peer counts as dead.</param>
/// <param name="Action">What is done then.</param>
public sealed record Dpd(Lifetime? Interval, int Retries, DeadPeerAction Action)
{
    /// <summary>The peer is not asked.</summary>
    public static readonly Dpd Off = new(null, 0, DeadPeerAction.GiveUp);

    /// <summary>Reads <c>20 s x 5, try again</c> or <c>off</c>.</summary>
    public static Parsed<Dpd> Parse(string text)
    {
        if (text.Equals("off", StringComparison.OrdinalIgnoreCase))
            return Parsed<Dpd>.Of(Off);
        const string right = "interval x tries, what then: 20 s x 5, try again; or off";
        var comma = text.IndexOf(',');
        var times = text.IndexOf(" x ", StringComparison.Ordinal);
        if (comma < 0 || times < 0 || times > comma)
            return Parsed<Dpd>.Fail($"'{Typed.Short(text)}' is not a DPD setting", right);
        return Lifetime
            .Parse(text[..times])
            .Then(interval =>
                Scalars
                    .Number(text[(times + 3)..comma].Trim(), 1, 60, "a number of tries")
                    .Then(tries =>
                        WordsOf
                            .DeadPeerActions.Parse(text[(comma + 1)..])
                            .To(action => new Dpd(interval, tries, action))
                    )
            );
    }

    /// <inheritdoc/>
    public override string ToString() =>
        Interval is null ? "off" : $"{Interval} x {Retries}, {WordsOf.DeadPeerActions.Of(Action)}";
}
