namespace Vellumkeep.Core.Changes;

/// <summary>When the work may be done.</summary>
/// <param name="Start">The moment at which it opens; it is part of the window.</param>
/// <param name="Minutes">Its length, 1 to 1440.</param>
public sealed record Window(DateTimeOffset Start, int Minutes)
{
    /// <summary>Why it is enough although the planned work takes longer; null where it does not.</summary>
    public string? WhyShort { get; init; }

    /// <summary>The moment at which it closes; it is not part of the window.</summary>
    public DateTimeOffset End => Start.AddMinutes(Minutes);

    /// <summary>Whether a moment lies in it.</summary>
    public bool Holds(DateTimeOffset at) => at >= Start && at < End;
}

/// <summary>
/// That the window of an approved change was altered: approval has lapsed, and a reviewer can confirm the window alone.
/// </summary>
/// <param name="By">Who altered it.</param>
/// <param name="At">When it was altered.</param>
/// <param name="Was">The window that was approved; null when there was none.</param>
/// <param name="Approved">The approval that lapsed by it.</param>
public sealed record WindowAsk(string By, DateTimeOffset At, Window? Was, Approval Approved);

/// <summary>That work began outside its window.</summary>
/// <param name="Window">The window as it was then.</param>
/// <param name="At">When it began.</param>
/// <param name="Reason">Why, by whoever began.</param>
public sealed record OutsideWindow(Window Window, DateTimeOffset At, string Reason);
