using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>Why something cannot be done to a change, with the finding's code where there is one.</summary>
/// <param name="Code">The code of the check that speaks against it; null when none does.</param>
/// <param name="Wrong">What is in the way.</param>
/// <param name="Right">What to do instead.</param>
public sealed record Refused(string? Code, Sentence Wrong, Sentence Right);

/// <summary>That an act cannot be done.</summary>
/// <param name="Short">Why, in a few words, beside what is offered.</param>
/// <param name="Why">Why, and what to do, to whoever tries.</param>
public sealed record Stopped(string Short, Refused Why);

/// <summary>What a guard looks at.</summary>
/// <param name="Change">The change.</param>
/// <param name="By">The sign-in name of whoever acts.</param>
/// <param name="Changed">The values that the plan rests on and that no longer stand.</param>
public sealed record Asking(Change Change, string By, IReadOnlyList<RestsOn> Changed);

/// <summary>What each guard asks for, and how it says that it does not hold.</summary>
internal static class Guards
{
    /// <summary>Why a guard does not hold; null when it does.</summary>
    public static Stopped? Check(Guard guard, Asking asking) =>
        guard switch
        {
            Guard.NotTheAuthor => NotTheAuthor(asking),
            Guard.NothingBlocks => NothingBlocks(asking.Change),
            Guard.NothingChanged => NothingChanged(asking),
            Guard.SomethingChanged => SomethingChanged(asking),
            Guard.StepsSettled => StepsSettled(asking.Change),
            Guard.SomethingPending => SomethingPending(asking.Change),
            Guard.MayBegin => MayBegin(asking.Change),
            Guard.WasAsked => WasAsked(asking),
            Guard.OwesReview => OwesReview(asking.Change),
            Guard.WindowAlone => WindowAlone(asking.Change),
            _ => throw new ArgumentOutOfRangeException(nameof(guard), guard, "There is no such guard."),
        };

    private static Stopped Stop(string shortly, string? code, Sentence wrong, Sentence right) =>
        new(shortly, new(code, wrong, right));

    private static Stopped? NotTheAuthor(Asking asking) =>
        asking.Change.Author != asking.By
            ? null
            : Stop(
                "the author cannot approve",
                null,
                $"{asking.Change.Code} was written by {asking.By:w}, and the author cannot approve it.",
                $"Ask another reviewer to approve it."
            );

    private static Stopped? NothingBlocks(Change c) =>
        c.Plan.InTheWay.FirstOrDefault() is not { } f
            ? null
            : Stop(
                $"it adds {f.Finding.Code} on {f.TunnelCode}, which blocks",
                PlanCheck.AddsBlocking.Code,
                $"{c.Code} adds a finding that blocks: {f.Finding.Code:w} on {f.TunnelCode}: {f.Finding.What}",
                $"{f.Finding.Do}"
            );

    private static Stopped? NothingChanged(Asking asking) =>
        asking.Changed.Count == 0
            ? null
            : Stop(
                "records behind this plan have changed: recompute it",
                PlanCheck.RecordsChanged.Code,
                $"Records behind {asking.Change.Code} have changed: "
                    + $"{Say.And(asking.Changed.Take(4).Select(m => m.At.Path.ToString())):w}.",
                $"Recompute it. It then goes back to review."
            );

    private static Stopped? SomethingChanged(Asking asking) =>
        asking.Changed.Count > 0
            ? null
            : Stop(
                "no record has changed",
                null,
                $"No record behind {asking.Change.Code} has changed.",
                $"Its plan is still valid."
            );

    private static Stopped? StepsSettled(Change c)
    {
        var open = c.Plan.Steps.Where(s => !c.IsSettled(s)).ToArray();
        string Numbered(Step step) =>
            $"{c.Plan.NumberOf(step.Key)}{(c.LastAttempt(step.Key) is null ? "" : " (failed)")}";
        string[] named = [.. open.Select(Numbered)];
        return open.Length == 0
            ? null
            : Stop(
                $"{Say.Count(open.Length, "step")} open",
                null,
                $"{c.Code} cannot close: {(open.Length == 1 ? "step" : "steps"):w} "
                    + $"{Say.And(open.Length > 6 ? [.. named.Take(5), $"{open.Length - 5} more"] : named):w} "
                    + $"{(open.Length == 1 ? "is" : "are"):w} open.",
                $"Do each of them, or skip it with a reason."
            );
    }

    private static Stopped? SomethingPending(Change c) =>
        c.Plan.Pending.IsEmpty && c.Filled.IsEmpty
            ? Stop("nothing is pending", null, $"{c.Code} has no pending value.", $"There is nothing to fill in.")
            : null;

    private static Stopped? MayBegin(Change c) =>
        c.Plan.Pending.FirstOrDefault(p => p.Steps.IsEmpty) is not { } pending
            ? null
            : Stop(
                $"the {pending.At.Label} is still pending",
                PlanCheck.ValuePending.Code,
                $"The {pending.At.Label:w} is still pending.",
                $"Fill it in first: vellumkeep change fill {c.Code} {pending.Number} <value>."
            );

    private static Stopped? WasAsked(Asking asking)
    {
        var c = asking.Change;
        if (c.UrgentAsked is not { } asked)
            return Stop(
                "not asked for",
                null,
                $"{c.Code} was not asked to begin as urgent.",
                $"First ask: vellumkeep change urgent {c.Code}."
            );
        return asked.Reviewer == asking.By
            ? null
            : Stop(
                $"{asked.Reviewer} was asked",
                null,
                $"{asked.Reviewer:w} was asked to confirm {c.Code}, not {asking.By:w}.",
                $"{asked.Reviewer:w} must confirm it, or ask another reviewer."
            );
    }

    private static Stopped? WindowAlone(Change c) =>
        c.WindowAsked is not null
            ? null
            : Stop(
                "more than its window has to be reviewed",
                null,
                $"{c.Code} was not approved before, or more than its window has changed since.",
                $"Read the whole change, and approve it."
            );

    private static Stopped? OwesReview(Change c) =>
        c.Urgent is { ReviewedBy: null }
            ? null
            : Stop(
                "it needs no review afterwards",
                null,
                $"{c.Code} needs no review afterwards.",
                $"Only urgent work is reviewed afterwards."
            );
}
