using System.Text;

namespace Vellumkeep.Core.Forms;

/// <summary>One step on the way to a place in a written form.</summary>
/// <param name="Name">The key of a map; of an item, what identifies it (<see cref="Edits.KeyOf"/>).</param>
/// <param name="IsItem">Whether it picks an item of a list.</param>
public readonly record struct PathStep(string Name, bool IsItem);

/// <summary>
/// A place in the written form of a record: keys of maps and items of lists, the outermost first. Two paths are equal
/// when their steps are. Written, keys are separated by dots and items stand in brackets:
/// <c>networks[cold store].purpose</c>.
/// </summary>
public sealed class FieldPath : IEquatable<FieldPath>
{
    private FieldPath(ImmutableArray<PathStep> steps) => Steps = steps;

    /// <summary>The whole record.</summary>
    public static readonly FieldPath Whole = new([]);

    /// <summary>The steps, the outermost first; none for the whole record.</summary>
    public ImmutableArray<PathStep> Steps { get; }

    /// <summary>The key at the top of the form; empty for the whole record.</summary>
    public string Top => Steps.IsEmpty ? "" : Steps[0].Name;

    /// <summary>The path of keys, each within the one before.</summary>
    public static FieldPath Of(params ReadOnlySpan<string> keys)
    {
        var path = Whole;
        foreach (var key in keys)
            path = path.Key(key);
        return path;
    }

    /// <summary>A key of the map that stands here.</summary>
    public FieldPath Key(string name) => new(Steps.Add(new(name, IsItem: false)));

    /// <summary>An item of the list that stands here, by what identifies it.</summary>
    public FieldPath Item(string identity) => new(Steps.Add(new(identity, IsItem: true)));

    /// <summary>What follows here.</summary>
    public FieldPath Join(FieldPath below) => new(Steps.AddRange(below.Steps));

    /// <summary>The first steps of it.</summary>
    /// <param name="count">0 to the number of its steps.</param>
    public FieldPath First(int count) => new(Steps[..count]);

    /// <summary>Whether it stands at, or somewhere below, another place.</summary>
    public bool IsWithin(FieldPath outer) =>
        Steps.Length >= outer.Steps.Length && Steps.AsSpan()[..outer.Steps.Length].SequenceEqual(outer.Steps.AsSpan());

    /// <summary>The way from <paramref name="outer"/> to here.</summary>
    /// <exception cref="ArgumentException">It does not stand within it.</exception>
    public FieldPath Below(FieldPath outer) =>
        IsWithin(outer)
            ? new(Steps[outer.Steps.Length..])
            : throw new ArgumentException($"{this} does not stand within {outer}.", nameof(outer));

    /// <summary>Reads a path as it is written.</summary>
    /// <returns>The path, or what is wrong: an empty path, a key without a name, a bracket that is not
    /// closed.</returns>
    public static Parsed<FieldPath> Parse(string text)
    {
        var steps = ImmutableArray.CreateBuilder<PathStep>();
        var at = 0;
        while (at < text.Length)
        {
            if (text[at] == '.' && at > 0)
                at++;
            var isItem = at < text.Length && text[at] == '[';
            var begin = isItem ? at + 1 : at;
            var end = isItem ? text.IndexOf(']', begin) : NextBreak(text, begin);
            if (end <= begin)
                return Wrong(text);
            steps.Add(new(text[begin..end], isItem));
            at = isItem ? end + 1 : end;
        }

        return steps.Count == 0 || steps[0].IsItem ? Wrong(text) : Parsed<FieldPath>.Of(new(steps.ToImmutable()));
    }

    private static int NextBreak(string text, int from) =>
        text.IndexOfAny(['.', '['], from) is >= 0 and var at ? at : text.Length;

    private static Parsed<FieldPath> Wrong(string text) =>
        Parsed<FieldPath>.Fail(
            $"'{Typed.Short(text)}' is not a path in the form",
            "keys separated by dots, items of lists in brackets: networks[cold store].purpose"
        );

    /// <inheritdoc/>
    public bool Equals(FieldPath? other) => other is not null && Steps.SequenceEqual(other.Steps);

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as FieldPath);

    /// <inheritdoc/>
    public override int GetHashCode()
    {
        var hash = new HashCode();
        foreach (var step in Steps)
            hash.Add(step);
        return hash.ToHashCode();
    }

    /// <summary>As it is written, and read again by <see cref="Parse"/>.</summary>
    public override string ToString()
    {
        var text = new StringBuilder();
        foreach (var step in Steps)
            if (step.IsItem)
                text.Append('[').Append(step.Name).Append(']');
            else
                text.Append(text.Length > 0 ? "." : "").Append(step.Name);
        return text.ToString();
    }
}
