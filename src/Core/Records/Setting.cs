namespace Vellumkeep.Core.Records;

/// <summary>How the two ends' values of a setting ought to stand to each other; comparison follows it.</summary>
public enum Likeness
{
    /// <summary>Both ends must be equal, or have something in common where it is negotiated.</summary>
    Alike,

    /// <summary>Each end's own: a difference alone is no fault.</summary>
    EachEndsOwn,
}

/// <summary>
/// One setting of a tunnel: declared once in <see cref="Settings.All"/>, with its key, its name for people and its rule
/// of reading.
/// </summary>
/// <param name="key">What it is called in files and in JSON.</param>
/// <param name="label">What it is called in sentences and on pages.</param>
/// <param name="likeness">How the two ends have to stand to each other in it.</param>
/// <param name="about">What is typed there, for whoever fills it in.</param>
/// <param name="negotiated">Whether the ends agree it in the exchange, and do not each have their own.</param>
public abstract class Setting(string key, string label, Likeness likeness, string about, bool negotiated)
{
    /// <summary>Its key in the written form.</summary>
    public string Key { get; } = key;

    /// <summary>Its name for people.</summary>
    public string Label { get; } = label;

    /// <summary>Its name within a line: abbreviations keep their capitals.</summary>
    public string InLine =>
        Label.Length > 1 && char.IsLower(Label[1]) ? char.ToLowerInvariant(Label[0]) + Label[1..] : Label;

    /// <summary>How the two ends' values ought to stand to each other.</summary>
    public Likeness Likeness { get; } = likeness;

    /// <summary>What its values look like.</summary>
    public string About { get; } = about;

    /// <summary>Whether a suite may carry it.</summary>
    public bool Negotiated { get; } = negotiated;

    /// <summary>The type of its value.</summary>
    public abstract Type Holds { get; }

    /// <summary>Answers by what kind of value the setting has.</summary>
    internal abstract TResult Accept<TResult>(ISettingVisitor<TResult> visitor);

    /// <summary>The recorded value for reading, or null while it is pending.</summary>
    internal abstract string? TextOf(object recorded);

    /// <summary>The recorded value, or null while it is pending.</summary>
    internal abstract object? ValueOf(object recorded);

    internal abstract Confirmation? ConfirmationOf(object recorded);
}

/// <summary>A setting with the type of its value.</summary>
/// <param name="key">What it is called in files and in JSON.</param>
/// <param name="label">What it is called in sentences and on pages.</param>
/// <param name="likeness">How the two ends have to stand to each other in it.</param>
/// <param name="about">What is typed there, for whoever fills it in.</param>
/// <param name="negotiated">Whether the ends agree it in the exchange, and do not each have their own.</param>
public abstract class Setting<T>(string key, string label, Likeness likeness, string about, bool negotiated)
    : Setting(key, label, likeness, about, negotiated)
    where T : class
{
    /// <inheritdoc/>
    public override Type Holds => typeof(T);

    internal override string? TextOf(object recorded) => ((Recorded<T>)recorded).Value?.ToString();

    internal override object? ValueOf(object recorded) => ((Recorded<T>)recorded).Value;

    internal override Confirmation? ConfirmationOf(object recorded) => ((Recorded<T>)recorded).Confirmed;
}

/// <summary>A setting that is one text.</summary>
/// <param name="key">What it is called in files and in JSON.</param>
/// <param name="label">What it is called in sentences and on pages.</param>
/// <param name="likeness">How the two ends have to stand to each other in it.</param>
/// <param name="about">What is typed there, for whoever fills it in.</param>
/// <param name="negotiated">Whether the ends agree it in the exchange, and do not each have their own.</param>
/// <param name="parse">Reads one value from what somebody typed.</param>
public sealed class TextSetting<T>(
    string key,
    string label,
    Likeness likeness,
    string about,
    bool negotiated,
    Func<string, Parsed<T>> parse
) : Setting<T>(key, label, likeness, about, negotiated)
    where T : class
{
    /// <summary>Reads what the value is written as.</summary>
    public Func<string, Parsed<T>> Parse { get; } = parse;

    internal override TResult Accept<TResult>(ISettingVisitor<TResult> visitor) => visitor.Text(this);
}

/// <summary>A setting that is a list of texts, preferred first.</summary>
/// <param name="key">What it is called in files and in JSON.</param>
/// <param name="label">What it is called in sentences and on pages.</param>
/// <param name="likeness">How the two ends have to stand to each other in it.</param>
/// <param name="about">What is typed there, for whoever fills it in.</param>
/// <param name="negotiated">Whether the ends agree it in the exchange, and do not each have their own.</param>
/// <param name="parse">Reads one value from what somebody typed.</param>
/// <param name="write">Writes one value so that it is read again as the same.</param>
public sealed class ListSetting<T>(
    string key,
    string label,
    Likeness likeness,
    string about,
    bool negotiated,
    Func<string, Parsed<T>> parse,
    Func<T, string> write
) : Setting<Several<T>>(key, label, likeness, about, negotiated)
{
    /// <summary>Reads one item.</summary>
    public Func<string, Parsed<T>> Parse { get; } = parse;

    /// <summary>Reads one text that may stand for several items; null where it never does.</summary>
    public Func<string, Parsed<ImmutableArray<T>>>? ParseAll { get; init; }

    /// <summary>Writes one item.</summary>
    public Func<T, string> Write { get; } = write;

    internal override TResult Accept<TResult>(ISettingVisitor<TResult> visitor) => visitor.List(this);
}

/// <summary>A lifetime: time, data and margin.</summary>
/// <param name="key">What it is called in files and in JSON.</param>
/// <param name="label">What it is called in sentences and on pages.</param>
/// <param name="likeness">How the two ends have to stand to each other in it.</param>
/// <param name="about">What is typed there, for whoever fills it in.</param>
/// <param name="negotiated">Whether the ends agree it in the exchange, and do not each have their own.</param>
public sealed class LifeSetting(string key, string label, Likeness likeness, string about, bool negotiated)
    : Setting<Life>(key, label, likeness, about, negotiated)
{
    internal override TResult Accept<TResult>(ISettingVisitor<TResult> visitor) => visitor.Life(this);
}

/// <summary>Does something with a setting by the type of its value.</summary>
internal interface ISettingVisitor<out TResult>
{
    TResult Text<T>(TextSetting<T> setting)
        where T : class;

    TResult List<T>(ListSetting<T> setting);

    TResult Life(LifeSetting setting);
}
