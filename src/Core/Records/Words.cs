namespace Vellumkeep.Core.Records;

/// <summary>The words of a closed set, as they are written everywhere.</summary>
public sealed class Words<T>
    where T : struct, Enum
{
    private readonly Dictionary<string, T> values;
    private readonly string what;

    public Words(string what, params (T Value, string Word)[] words)
    {
        this.what = what;
        values = words.ToDictionary(w => w.Word, w => w.Value, StringComparer.OrdinalIgnoreCase);
    }

    public IEnumerable<string> All => values.Keys;

    public Parsed<T> Parse(string text) => Typed.OneOf(text, values, what);

    public string Of(T value) => values.First(v => EqualityComparer<T>.Default.Equals(v.Value, value)).Key;
}

/// <summary>The kinds of record.</summary>
public enum RecordKind
{
    Customer,
    Platform,
    Suite,
    Site,
    Gateway,
    Tunnel,
    Change,
    Person,
    Offer,
}

public static class RecordKinds
{
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
    string Id { get; }

    /// <summary>
    /// Unique within its kind, whatever the case. Suites and platform profiles carry their version:
    /// <c>BRI-STANDARD@3</c>.
    /// </summary>
    string Code { get; }

    RecordKind Kind { get; }

    /// <summary>
    /// The day on which it was taken out of use; null while it is in use. Tunnels say this with their state.
    /// </summary>
    DateOnly? Retired => null;
}

/// <summary>The two ends of a tunnel.</summary>
public enum EndName
{
    A,
    B,
}

public static class EndNames
{
    public static EndName Other(this EndName end) => end == EndName.A ? EndName.B : EndName.A;

    /// <summary>The key of this end in a form: <c>a</c> or <c>b</c>.</summary>
    public static string Key(this EndName end) => end == EndName.A ? "a" : "b";
}
