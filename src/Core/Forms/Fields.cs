namespace Vellumkeep.Core.Forms;

/// <summary>
/// Reads one map field by field. Every wrong field adds a <see cref="Problem"/> and reading goes on, so that one run
/// names them all; <see cref="Build"/> makes the record only when this map had none.
/// </summary>
public sealed partial class Fields
{
    private readonly MapNode map;
    private readonly string path;
    private readonly Reading reading;
    private readonly int problemsBefore;
    private readonly List<FieldNote> notes = [];

    /// <param name="path">Where it stands, for problems; empty at the top.</param>
    /// <param name="reading">Where problems are gathered.</param>
    /// <param name="node">What stands there; anything but a map is refused.</param>
    public Fields(Node? node, string path, Reading reading)
    {
        this.path = path;
        this.reading = reading;
        problemsBefore = reading.Problems.Count;
        map = node as MapNode ?? new MapNode([], node?.Line ?? 0);
        if (node is not (null or MapNode))
            reading.Problems.Add(
                new(
                    path,
                    node.Line,
                    $"'{Typed.Short(node.ToString())}' is where fields are expected",
                    "key: value lines below it"
                )
            );
    }

    /// <summary>Whether the form is only described, and nothing is read.</summary>
    public bool Describing => reading.Describing;

    /// <summary>The fields that were asked for.</summary>
    public ImmutableArray<FieldNote> Notes => [.. notes];

    /// <summary>What codes refer to.</summary>
    public INames Names => reading.Names;

    /// <summary>The line in the file; 1 where there is none.</summary>
    public int Line => map.Line;

    /// <summary>
    /// The most items of one list of a record: more networks, pairs or entries than any site, tunnel or device has.
    /// </summary>
    public const int MostItems = 1000;

    /// <summary>Whether nothing of this map was wrong so far; false while forms are only described.</summary>
    public bool Sound => !reading.Describing && reading.Problems.Count == problemsBefore;

    /// <summary>What a field that was asked for is called where it is filled in.</summary>
    public void Name(string key, string label, string? one = null)
    {
        if (!reading.Describing)
            return;
        var at = notes.FindIndex(n => n.Key == key);
        notes[at] = notes[at] with { Label = label, One = one ?? notes[at].One };
    }

    /// <summary>Refuses a list that is missing though it has to be there.</summary>
    public void Require(string key, string right)
    {
        if (reading.Describing)
            notes[notes.FindIndex(n => n.Key == key)] = notes.Single(n => n.Key == key) with { Required = true };
        else if (map.Find(key) is (null or ListNode { Items.IsEmpty: true }))
            Refuse(key, $"'{key}' is missing", right);
    }

    /// <summary>Whether anything stands under a key.</summary>
    public bool Has(string key) => map.Find(key) is not null;

    /// <summary>The path of a key, for problems.</summary>
    public string At(string key) => path.Length == 0 ? key : $"{path}.{key}";

    /// <summary>Notes that what stands under a key is wrong.</summary>
    public void Refuse(string key, string wrong, string right) =>
        reading.Problems.Add(new(At(key), (map.Find(key) ?? map).Line, wrong, right));

    /// <summary>Passes on a problem that a part of this map was found to have, with its own line.</summary>
    public void Refuse(Problem problem) => reading.Problems.Add(problem with { Field = At(problem.Field) });

    /// <summary>
    /// Text of 1 to 200 characters (or as many as <paramref name="most"/>) without control characters.
    /// </summary>
    public string Text(string key, string about, int most = 200) => OptionalText(key, about, most, true) ?? "";

    /// <summary>A text; null when it is left out.</summary>
    public string? OptionalText(string key, string about, int most = 200, bool required = false)
    {
        var text = Value(
            key,
            about,
            t =>
                t.Length <= most
                    ? Parsed<string>.Of(t)
                    : Parsed<string>.Fail(
                        $"'{Typed.Short(t)}' is longer than {most} characters",
                        $"at most {most} characters on one line"
                    ),
            required
        );
        notes[^1] = notes[^1] with { Most = most };
        return text;
    }

    /// <summary>A code: 2 to 40 letters, digits, hyphens and dots, beginning with a letter or digit.</summary>
    public string Code(string key, string about) =>
        Value(
            key,
            about,
            t =>
                t.Length is >= 2 and <= 40
                && char.IsAsciiLetterOrDigit(t[0])
                && t.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '.')
                    ? Parsed<string>.Of(t)
                    : Parsed<string>.Fail(
                        $"'{Typed.Short(t)}' is not a code",
                        "2 to 40 letters, digits, hyphens or dots, such as BRI-ASHLOW"
                    ),
            true
        ) ?? "";

    /// <summary>
    /// One value read by <paramref name="parse"/>; the default of <typeparamref name="T"/> when it is missing or wrong.
    /// </summary>
    public T? Value<T>(
        string key,
        string about,
        Func<string, Parsed<T>> parse,
        bool required = false,
        IEnumerable<string>? words = null,
        Type? holds = null
    )
    {
        notes.Add(
            new(key, FieldShape.Text, required, about, [], Described(words))
            {
                Holds = holds ?? Plain(typeof(T)),
                OneLine = Describing ? OneText(parse) : null,
            }
        );
        var node = Scalar(key, required, about);
        if (node is null)
            return default;
        var read = Scalars.Fit(Typed.Trim(node.Text), parse);
        if (read.Ok)
            return read.Value;
        reading.Problems.Add(Problem.Of(At(key), node.Line, read));
        return default;
    }

    /// <summary>One of a closed set of words.</summary>
    public T? Word<T>(string key, string about, Words<T> words, bool required = false)
        where T : struct, Enum
    {
        var read = Value(key, about, t => words.Parse(t).To(v => (T?)v), required, words.All);
        return read;
    }

    /// <summary>A reference to another record, as an id.</summary>
    public string? Reference(string key, string about, RecordKind kind, bool required = false)
    {
        var id = Value(
            key,
            about,
            t =>
                reading.Names.IdOf(kind, t) is { } found
                    ? Parsed<string>.Of(found)
                    : Parsed<string>.Fail($"there is no {kind.Word()} '{Typed.Short(t)}'", NearestCodes(kind, t)),
            required
        );
        // A code is kept as an id, which nobody types.
        notes[^1] = notes[^1] with { Refers = kind, OneLine = null };
        return id;
    }

    /// <summary>
    /// A list of texts, each read by <paramref name="parse"/>; a single text counts as a list of one.
    /// </summary>
    public ImmutableArray<T> Values<T>(
        string key,
        string about,
        Func<string, Parsed<T>> parse,
        IEnumerable<string>? words = null
    )
    {
        notes.Add(
            new(key, FieldShape.Texts, false, about, [], Described(words))
            {
                Holds = Plain(typeof(T)),
                OneLine = Describing ? OneText(parse) : null,
            }
        );
        return map.Find(key) is { } node ? TextsOf(node, parse, At(key), reading.Problems) : [];
    }

    /// <summary>Refuses keys that no field asked for, then builds the record if this map had no problem.</summary>
    public T? Build<T>(Func<T> build)
        where T : class
    {
        if (reading.Describing)
            return null;
        foreach (var (key, node) in map.Entries)
            if (notes.All(n => n.Key != key))
                reading.Problems.Add(
                    new(
                        At(key),
                        node.Line,
                        $"'{Typed.Short(key)}' is not a field here",
                        string.Join(", ", Typed.Nearest(key, notes.Select(n => n.Key)))
                    )
                );
        foreach (var twice in map.Entries.GroupBy(e => e.Key).Where(g => g.Count() > 1))
            reading.Problems.Add(
                new(
                    At(twice.Key),
                    twice.Last().Value.Line,
                    $"'{Typed.Short(twice.Key)}' occurs twice",
                    "one of the two"
                )
            );
        return reading.Problems.Count == problemsBefore ? build() : null;
    }

    private TextNode? Scalar(string key, bool required, string about)
    {
        var node = map.Find(key);
        if (node is TextNode text && Typed.Trim(text.Text).Length > 0)
            return text;
        if (node is null or TextNode)
        {
            if (required && !reading.Describing)
                Missing(key, about);
            return null;
        }

        reading.Problems.Add(new(At(key), node.Line, "one value is expected here, not a list or fields", about));
        return null;
    }

    private void Missing(string key, string about) =>
        reading.Problems.Add(new(At(key), map.Line, $"'{key}' is missing", about));

    private string NearestCodes(RecordKind kind, string text)
    {
        var near = Typed.Nearest(text, reading.Names.Known(kind)).ToArray();
        return near.Length == 0
            ? $"add that {kind.Word()} to the file first"
            : $"{string.Join(", ", near)}, or add that {kind.Word()} to the file";
    }
}
