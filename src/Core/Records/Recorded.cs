namespace Vellumkeep.Core.Records;

/// <summary>How a value became known.</summary>
public enum ConfirmedHow
{
    /// <summary>Read on the device.</summary>
    Read,

    /// <summary>Read in a saved configuration.</summary>
    SavedConfiguration,

    /// <summary>Written on a sheet of the other party.</summary>
    OtherPartysSheet,

    /// <summary>Typed in by whoever set it.</summary>
    Typed,
}

/// <summary>That somebody looked: how, on which day, and who.</summary>
/// <param name="How">In which way they looked.</param>
/// <param name="On">The day they looked.</param>
/// <param name="By">The sign-in name of who did it.</param>
public sealed record Confirmation(ConfirmedHow How, DateOnly On, string By)
{
    /// <summary>The words of how a value was confirmed.</summary>
    public static readonly Words<ConfirmedHow> Hows = new(
        "a way of confirming a value",
        (ConfirmedHow.Read, "read"),
        (ConfirmedHow.SavedConfiguration, "saved configuration"),
        (ConfirmedHow.OtherPartysSheet, "other party's sheet"),
        (ConfirmedHow.Typed, "typed")
    );

    /// <summary>Reads <c>read 2026-11-03 by tomas</c>.</summary>
    public static Parsed<Confirmation> Parse(string text)
    {
        const string right = "how, when and by whom, such as: read 2026-11-03 by tomas";
        var at = text.IndexOf(" by ", StringComparison.Ordinal);
        var how = at < 0 ? -1 : text[..at].LastIndexOf(' ');
        if (how < 0)
            return Parsed<Confirmation>.Fail(
                $"'{Typed.Short(text)}' does not say how, when and by whom it was confirmed",
                right
            );
        var howRead = Hows.Parse(text[..how]);
        var date = Scalars.Date(text[(how + 1)..at]);
        return !howRead.Ok ? Parsed<Confirmation>.Fail(howRead.Wrong!, howRead.Right!)
            : !date.Ok ? Parsed<Confirmation>.Fail(date.Wrong!, date.Right!)
            : Parsed<Confirmation>.Of(new(howRead.Value, date.Value, text[(at + 4)..].Trim()));
    }

    /// <inheritdoc/>
    public override string ToString() => $"{Hows.Of(How)} {Scalars.Write(On)} by {By}";
}

/// <summary>A value that does not exist yet: who will know it, and by when.</summary>
/// <param name="WhoKnows">Who will know it; null when nobody is named.</param>
/// <param name="By">Until which day; null when none is named.</param>
public sealed record Pending(string? WhoKnows, DateOnly? By);

/// <summary>That a value was entered only to get going: what it must become, why, and by when.</summary>
/// <param name="Final">What it must become.</param>
/// <param name="Reason">Why it is not that yet.</param>
/// <param name="Deadline">The last day on which it may stand.</param>
public sealed record Temporary<T>(T Final, string Reason, DateOnly Deadline);

/// <summary>
/// The one shape of what a record holds: a known value and how it was confirmed, a value that is temporary, or one that
/// is pending.
/// </summary>
public sealed record Recorded<T>
    where T : class
{
    private Recorded(T? value, Confirmation? confirmation, Pending? pending, Temporary<T>? temporary) =>
        (Value, Confirmed, Pending, Temporary) = (value, confirmation, pending, temporary);

    /// <summary>The value; null only while it is pending.</summary>
    public T? Value { get; }

    /// <summary>How it was confirmed; null when nobody is recorded to have looked.</summary>
    public Confirmation? Confirmed { get; }

    /// <summary>Who will know it, and by when; null when it is known.</summary>
    public Pending? Pending { get; }

    /// <summary>What it must become; null when it is to stay.</summary>
    public Temporary<T>? Temporary { get; }

    /// <summary>A value that is known.</summary>
    public static Recorded<T> Known(T value, Confirmation? confirmation = null) => new(value, confirmation, null, null);

    /// <summary>A value that nobody knows yet.</summary>
    public static Recorded<T> NotYet(Pending pending) => new(null, null, pending, null);

    /// <summary>A value that was entered only to get going.</summary>
    public static Recorded<T> ForNow(T value, Temporary<T> temporary, Confirmation? confirmation = null) =>
        new(value, confirmation, null, temporary);
}
