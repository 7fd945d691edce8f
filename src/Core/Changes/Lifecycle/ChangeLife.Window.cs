using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>The window: set, altered after approval, and begun in or outside of.</summary>
public static partial class ChangeLife
{
    /// <summary>
    /// Sets the window, or clears it. What was approved includes its window: approval lapses with it, until a reviewer
    /// confirms the new one. Under way, why it is altered stands among the remarks.
    /// </summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="by">The sign-in name of who acts.</param>
    /// <param name="at">When, with its distance from UTC.</param>
    /// <param name="window">The window that it gets; null for none.</param>
    /// <param name="reason">Why it is altered; needed under way.</param>
    public static Next<Change> SetWindow(Change c, string by, DateTimeOffset at, Window? window, string? reason)
    {
        if ((Stop(ChangeAct.Window, c, by) ?? Unfit(c.Plan, window, at)) is { } stopped)
            return stopped;
        if (c.Window == window)
            return Yes(c);
        var moved = $"window: {Said(c.Window, at)}, now {Said(window, at)}";
        var why = Trimmed(reason) is { } says ? $"{moved}: {says}" : moved;
        var then = c with { Window = window };
        return c.State switch
        {
            ChangeState.Approved => Yes(
                Pass(then, ChangeState.InReview, by, at, why) with
                {
                    Approval = null,
                    WindowAsked = new(by, at, c.Window, c.Approval!),
                }
            ),
            ChangeState.UnderWay when Trimmed(reason) is null => No(
                null,
                $"{c.Code} is under way: the reason why its window changes is missing.",
                $"Enter the reason. It stands in the record."
            ),
            ChangeState.UnderWay => Yes(then with { Remarks = c.Remarks.Add(new(by, at, why, null)) }),
            _ => Yes(then with { WindowAsked = c.WindowAsked is { } asked ? asked with { By = by, At = at } : null }),
        };
    }

    /// <summary>Approves the window of a change that was approved with another one; nothing else has changed.</summary>
    public static Next<Change> ConfirmWindow(Change c, string by, DateTimeOffset at, IReadOnlyList<RestsOn> changed) =>
        Stop(ChangeAct.ConfirmWindow, c, by, changed)
        ?? Yes(
            Pass(
                c,
                ChangeState.Approved,
                by,
                at,
                $"window alone; the rest approved by {c.WindowAsked!.Approved.By}"
            ) with
            {
                Approval = new(by, at),
            }
        );

    /// <summary>Why a window cannot be taken for a plan; null when it can.</summary>
    public static Refused? WindowUnfit(Plan plan, Window? window, DateTimeOffset now) =>
        Unfit(plan, window, now)?.Refused;

    private static Next<Change>? Unfit(Plan plan, Window? window, DateTimeOffset now)
    {
        if (window is null)
            return null;
        if (window.End <= now)
            return No(
                null,
                $"The window ended before now: {Said(window, now):w}.",
                $"Choose a window that ends later than {WallTime.Said(now, TimeZoneInfo.Utc, now):w} UTC."
            );
        return plan.Minutes > window.Minutes && string.IsNullOrWhiteSpace(window.WhyShort)
            ? No(
                PlanCheck.WindowTooShort.Code,
                $"The steps take {plan.Minutes} minutes, the window has {window.Minutes}.",
                $"Choose a longer window, or give the reason why it is long enough."
            )
            : null;
    }

    private static string Said(Window? window, DateTimeOffset now) =>
        window is null ? "none" : $"{WallTime.Said(window, TimeZoneInfo.Utc, now)} UTC";

    private static Next<Change>? OutsideUnsaid(Change c, DateTimeOffset at, string? reason) =>
        c.Window is not { } window || window.Holds(at) || !string.IsNullOrWhiteSpace(reason)
            ? null
            : No(
                null,
                $"{c.Code} has the window {Said(window, at):w}. Now it is {WallTime.Said(at, TimeZoneInfo.Utc, at):w} UTC.",
                $"Begin in the window, or give a reason. It stands in the record."
            );

    /// <summary>The change under way, with what is to be said where it began outside its window.</summary>
    private static Change Begun(Change c, string by, DateTimeOffset at, string? remark, string? reason)
    {
        var outside =
            c.Window is { } window && !window.Holds(at) ? new OutsideWindow(window, at, reason!.Trim()) : null;
        return Pass(c, ChangeState.UnderWay, by, at, remark) with { Outside = outside };
    }
}
