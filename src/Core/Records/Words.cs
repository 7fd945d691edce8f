namespace Vellumkeep.Core.Records;

/// <summary>The words of a closed set, as they are written everywhere.</summary>
public sealed class Words<T>
    where T : struct, Enum
{
    private readonly Dictionary<string, T> values;
    private readonly string what;

    /// <param name="words">The words of the set, in the order in which they are shown.</param>
    /// <param name="what">What a value is, for messages: "a role".</param>
    public Words(string what, params (T Value, string Word)[] words)
    {
        this.what = what;
        values = words.ToDictionary(w => w.Word, w => w.Value, StringComparer.OrdinalIgnoreCase);
    }

    /// <summary>The words, in order.</summary>
    public IEnumerable<string> All => values.Keys;

    /// <summary>Reads a word, whatever its case.</summary>
    public Parsed<T> Parse(string text) => Typed.OneOf(text, values, what);

    /// <summary>The word of a value.</summary>
    public string Of(T value) => values.First(v => EqualityComparer<T>.Default.Equals(v.Value, value)).Key;
}

/// <summary>The kinds of record.</summary>
public enum RecordKind
{
    /// <summary>A customer, or another party.</summary>
    Customer,

    /// <summary>A platform profile.</summary>
    Platform,

    /// <summary>A suite of algorithms.</summary>
    Suite,

    /// <summary>A site.</summary>
    Site,

    /// <summary>A gateway.</summary>
    Gateway,

    /// <summary>A tunnel.</summary>
    Tunnel,

    /// <summary>A change.</summary>
    Change,

    /// <summary>A person who may sign in.</summary>
    Person,

    /// <summary>A standing offer of another party.</summary>
    Offer,
}

/// <summary>The words of kinds of record.</summary>
public static class RecordKinds
{
    /// <summary>The kind in one word.</summary>
    public static string Word(this RecordKind kind) =>
        kind switch
        {
            RecordKind.Platform => "platform profile",
            RecordKind.Offer => "standing offer",
            _ => kind.ToString().ToLowerInvariant(),
        };
}

/// <summary>A record of the inventory: its id never changes, its code may.</summary>
public interface IRecord
{
    /// <summary>What identifies it; never shown.</summary>
    string Id { get; }

    /// <summary>
    /// Unique within its kind, whatever the case. Suites and platform profiles carry their version:
    /// <c>BRI-STANDARD@3</c>.
    /// </summary>
    string Code { get; }

    /// <summary>What it is.</summary>
    RecordKind Kind { get; }

    /// <summary>
    /// The day on which it was retired; null while it is in use. Tunnels say this with their state.
    /// </summary>
    DateOnly? Retired => null;
}

/// <summary>The two ends of a tunnel.</summary>
public enum EndName
{
    /// <summary>End A.</summary>
    A,

    /// <summary>End B.</summary>
    B,
}

/// <summary>What follows from the name of an end.</summary>
public static class EndNames
{
    /// <summary>The other end.</summary>
    public static EndName Other(this EndName end) => end == EndName.A ? EndName.B : EndName.A;

    /// <summary>The key of this end in a form: <c>a</c> or <c>b</c>.</summary>
    public static string Key(this EndName end) => end == EndName.A ? "a" : "b";
}
