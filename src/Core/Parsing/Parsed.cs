namespace Vellumkeep.Core.Parsing;

/// <summary>
/// The answer of reading one value from text: the value, or what is wrong with the text and what would be right.
/// The default value is a failure with no words; it is never returned by a parser.
/// </summary>
public readonly record struct Parsed<T>
{
    private readonly T? value;

    private Parsed(T? value, string? wrong, string? right)
    {
        this.value = value;
        Wrong = wrong;
        Right = right;
    }

    /// <summary>What is wrong, naming the text that was read; null when the value was read.</summary>
    public string? Wrong { get; }

    /// <summary>What would be right, as something that can be typed; null when the value was read.</summary>
    public string? Right { get; }

    /// <summary>Which of several texts it was that could not be read; null where there was only one.</summary>
    public string? Field { get; init; }

    /// <summary>In which way it is wrong, where something is told by it; null otherwise.</summary>
    public Slip? Slip { get; init; }

    /// <summary>Whether it could be read.</summary>
    public bool Ok => Wrong is null;

    /// <summary>The value that was read.</summary>
    /// <exception cref="InvalidOperationException">Nothing was read.</exception>
    public T Value => Wrong is null ? value! : throw new InvalidOperationException(Wrong);

    /// <summary>A value that was read.</summary>
    public static Parsed<T> Of(T value) => new(value, null, null);

    /// <summary>What is wrong, and what is expected.</summary>
    public static Parsed<T> Fail(string wrong, string right) => new(default, wrong, right);

    /// <summary>Goes on with the value, unless it could not be read.</summary>
    public Parsed<TOther> Then<TOther>(Func<T, Parsed<TOther>> next) =>
        Wrong is null ? next(value!) : Parsed<TOther>.Fail(Wrong, Right!) with { Field = Field, Slip = Slip };

    /// <summary>Says which of several texts this was, where nothing within it has said so already.</summary>
    public Parsed<T> In(string field) => Wrong is null || Field is not null ? this : this with { Field = field };

    /// <summary>Makes something of the value, unless it could not be read.</summary>
    public Parsed<TOther> To<TOther>(Func<T, TOther> next) => Then(v => Parsed<TOther>.Of(next(v)));
}
