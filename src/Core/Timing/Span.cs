namespace Vellumkeep.Core.Timing;

/// <summary>A time as a range, in seconds, both ends included.</summary>
/// <param name="From">The earliest.</param>
/// <param name="To">The latest.</param>
public readonly record struct Span(long From, long To)
{
    /// <summary>For reading: <c>45 to 48 minutes</c>; the unit once where both are told in the same.</summary>
    public override string ToString()
    {
        var (from, to) = (Lifetime.Say(From), Lifetime.Say(To));
        return From == To ? to
            : from.Split(' ')[1] == to.Split(' ')[1] ? $"{from.Split(' ')[0]} to {to}"
            : $"{from} to {to}";
    }
}
