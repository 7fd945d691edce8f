namespace Vellumkeep.Core.Changes.Planning;

/// <summary>One thing that is entered on a device.</summary>
/// <param name="Before">What stands there; null when nothing does.</param>
/// <param name="After">What is entered.</param>
public sealed record Entered(Entry? Before, Entry After)
{
    /// <summary>Whether it is new there, and nothing is altered.</summary>
    public bool IsNew => Before is null;
}

/// <summary>What is entered on an end that was not, or not so; and what is removed.</summary>
/// <param name="Enter">What is entered or altered, in the order of the entries after.</param>
/// <param name="Remove">What is removed, in the order of the work.</param>
public sealed record EndDifference(ImmutableArray<Entered> Enter, ImmutableArray<Entry> Remove)
{
    /// <summary>Nothing differs.</summary>
    public static readonly EndDifference None = new([], []);

    /// <summary>What has to be done to a device that holds the first so that it holds the second.</summary>
    public static EndDifference Between(IEnumerable<Entry> before, IEnumerable<Entry> after)
    {
        var was = before.DistinctBy(e => e.Key).ToDictionary(e => e.Key);
        var then = after.DistinctBy(e => e.Key).ToArray();
        var keys = then.Select(e => e.Key).ToHashSet();
        return new(
            [
                .. then.Where(e => !was.TryGetValue(e.Key, out var b) || b.Text != e.Text)
                    .Select(e => new Entered(was.GetValueOrDefault(e.Key), e)),
            ],
            [.. was.Values.Where(b => !keys.Contains(b.Key)).OrderBy(b => b.Work)]
        );
    }

    /// <summary>The same but for some of what is entered.</summary>
    public EndDifference Without(Func<Entered, bool> entered) =>
        this with
        {
            Enter = [.. Enter.Where(e => !entered(e))],
        };

    /// <summary>Whether there is nothing to do.</summary>
    public bool IsEmpty => Enter.IsEmpty && Remove.IsEmpty;
}
