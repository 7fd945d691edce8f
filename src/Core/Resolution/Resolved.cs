namespace Vellumkeep.Core.Resolution;

/// <summary>Where a value on an end comes from.</summary>
public enum Source
{
    /// <summary>Somebody recorded that this end has it.</summary>
    Set,

    /// <summary>Both parties agreed it for the tunnel; nobody recorded that this end has it.</summary>
    Agreed,

    /// <summary>The platform does it when nobody says.</summary>
    Default,

    /// <summary>None of the others.</summary>
    Unknown,
}

/// <summary>A resolved value whose type does not matter to the asker.</summary>
public interface IResolved
{
    /// <summary>The value; null when it is not known.</summary>
    object? Any { get; }

    /// <summary>Where it comes from.</summary>
    Source Source { get; }

    /// <summary>The part of the gateway that holds it; null when none does.</summary>
    string? Via { get; }

    /// <summary>How it was confirmed; null when nobody looked.</summary>
    Confirmation? Confirmed { get; }

    /// <summary>For a temporary value: its final value in words, the reason and the deadline.</summary>
    (string Final, string Reason, DateOnly Deadline)? Until { get; }

    /// <summary>Who will know it; null when nobody is waited for.</summary>
    Pending? Pending { get; }
}

/// <summary>
/// The one shape of what a value resolves to: the value or nothing, where it comes from, by way of what, and how sure
/// it is.
/// </summary>
/// <param name="Value">The value; null when it is not known.</param>
/// <param name="Source">Where it comes from.</param>
/// <param name="Via">The suite, platform profile, shared entry or other record it came by; null when it stands on the
/// tunnel itself.</param>
/// <param name="Confirmed">Only ever there for a value that is set.</param>
/// <param name="ForNow">For a temporary value: the final one, why, and the deadline.</param>
/// <param name="Pending">For a pending value: who will know it and when.</param>
public sealed record Resolved<T>(
    T? Value,
    Source Source,
    string? Via = null,
    Confirmation? Confirmed = null,
    Temporary<T>? ForNow = null,
    Pending? Pending = null
) : IResolved
    where T : class
{
    /// <summary>Nobody knows.</summary>
    public static readonly Resolved<T> Unknown = new(null, Source.Unknown);

    /// <summary>Whether it is known.</summary>
    public bool Known => Value is not null;

    object? IResolved.Any => Value;

    (string Final, string Reason, DateOnly Deadline)? IResolved.Until =>
        ForNow is { } t ? (t.Final.ToString()!, t.Reason, t.Deadline) : null;

    internal static Resolved<T> Set(Recorded<T> recorded, string? via = null) =>
        new(recorded.Value, Source.Set, via, recorded.Confirmed, recorded.Temporary, recorded.Pending);
}
