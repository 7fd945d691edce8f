namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>What can be done to a change.</summary>
public enum ChangeAct
{
    /// <summary>It is sent for review.</summary>
    Submit,

    /// <summary>It is approved.</summary>
    Approve,

    /// <summary>It goes back to its author with a remark.</summary>
    Return,

    /// <summary>The work begins.</summary>
    Begin,

    /// <summary>An attempt at a step is noted.</summary>
    Step,

    /// <summary>Corrections that were made meanwhile are taken into it.</summary>
    TakeIn,

    /// <summary>It is closed, and the inventory becomes what was built.</summary>
    Close,

    /// <summary>The work is given up, and the inventory stays as it was.</summary>
    BackOut,

    /// <summary>The plan is made anew.</summary>
    Recompute,

    /// <summary>The window is set or cleared.</summary>
    Window,

    /// <summary>A window that was altered after approval is approved alone.</summary>
    ConfirmWindow,

    /// <summary>A pending value is filled in.</summary>
    Fill,

    /// <summary>A second person is asked to let urgent work begin.</summary>
    Urgent,

    /// <summary>The person who was asked lets it begin.</summary>
    ConfirmUrgent,

    /// <summary>Urgent work is reviewed afterwards.</summary>
    ReviewAfter,

    /// <summary>It is given up before it was begun.</summary>
    Drop,

    /// <summary>Something is remarked.</summary>
    Remark,
}

/// <summary>What has to hold besides state and role.</summary>
public enum Guard
{
    /// <summary>Whoever acts did not write the change.</summary>
    NotTheAuthor,

    /// <summary>The plan adds no finding that blocks (PLAN-03).</summary>
    NothingBlocks,

    /// <summary>Every value that the plan rests on still stands (PLAN-07).</summary>
    NothingChanged,

    /// <summary>A value that the plan rests on has changed.</summary>
    SomethingChanged,

    /// <summary>Every step was done or skipped.</summary>
    StepsSettled,

    /// <summary>A value is pending.</summary>
    SomethingPending,

    /// <summary>No value is pending that the whole work waits for (PLAN-04).</summary>
    MayBegin,

    /// <summary>Whoever acts was asked to let urgent work begin.</summary>
    WasAsked,

    /// <summary>It is urgent work that nobody has reviewed yet.</summary>
    OwesReview,

    /// <summary>It was approved, and nothing but its window was altered since.</summary>
    WindowAlone,
}

/// <summary>One act: from which states, to which, by whom, and what has to hold.</summary>
/// <param name="Act">Which.</param>
/// <param name="Word">Its word in addresses and commands.</param>
/// <param name="Done">What a change is said to be when it was done to it, after "be".</param>
/// <param name="Roles">The roles that may, any of them, for every customer that the change is about.</param>
/// <param name="From">The states from which it may be done.</param>
/// <param name="To">The state that it leads to; null when the state stays.</param>
/// <param name="Guards">What has to hold, in the order in which it is said.</param>
public sealed record ActRule(
    ChangeAct Act,
    string Word,
    string Done,
    ImmutableArray<Role> Roles,
    ImmutableArray<ChangeState> From,
    ChangeState? To,
    ImmutableArray<Guard> Guards
);

/// <summary>
/// The one table of what can be done to a change. Whatever refuses or offers an act reads it: the core, the endpoints,
/// the page, and through the page the console and the command.
/// </summary>
public static class ChangeActs
{
    private static readonly ImmutableArray<ChangeState> BeforeWork =
    [
        ChangeState.Draft,
        ChangeState.InReview,
        ChangeState.Approved,
    ];

    private static readonly ImmutableArray<ChangeState> Unapproved = [ChangeState.Draft, ChangeState.InReview];

    private static readonly ImmutableArray<ChangeState> Any = [.. Enum.GetValues<ChangeState>()];

    /// <summary>Every act, in the order in which a page offers them.</summary>
    public static readonly ImmutableArray<ActRule> All =
    [
        Rule(
            ChangeAct.Submit,
            "submit",
            "submitted",
            Role.Engineer,
            [ChangeState.Draft],
            ChangeState.InReview,
            Guard.NothingChanged,
            Guard.NothingBlocks
        ),
        Rule(
            ChangeAct.Approve,
            "approve",
            "approved",
            Role.Reviewer,
            [ChangeState.InReview],
            ChangeState.Approved,
            Guard.NotTheAuthor,
            Guard.NothingChanged,
            Guard.NothingBlocks
        ),
        Rule(ChangeAct.Return, "return", "returned", Role.Reviewer, [ChangeState.InReview], ChangeState.Draft),
        Rule(
            ChangeAct.Begin,
            "begin",
            "begun",
            Role.Engineer,
            [ChangeState.Approved],
            ChangeState.UnderWay,
            Guard.NothingChanged
        ),
        Rule(ChangeAct.Step, "step", "worked on", Role.Engineer, [ChangeState.UnderWay], null),
        Rule(
            ChangeAct.TakeIn,
            "take-in",
            "given corrections",
            Role.Engineer,
            [ChangeState.UnderWay],
            null,
            Guard.SomethingChanged
        ),
        Rule(
            ChangeAct.Close,
            "close",
            "closed",
            Role.Engineer,
            [ChangeState.UnderWay],
            ChangeState.Done,
            Guard.StepsSettled
        ),
        Rule(ChangeAct.BackOut, "back-out", "backed out", Role.Engineer, [ChangeState.UnderWay], ChangeState.BackedOut),
        Rule(ChangeAct.Recompute, "recompute", "recomputed", Role.Engineer, BeforeWork, null, Guard.SomethingChanged),
        Rule(ChangeAct.Window, "window", "given a window", Role.Engineer, Change.OpenStates, null),
        Rule(
            ChangeAct.ConfirmWindow,
            "confirm-window",
            "approved with its new window",
            Role.Reviewer,
            [ChangeState.InReview],
            ChangeState.Approved,
            Guard.WindowAlone,
            Guard.NotTheAuthor,
            Guard.NothingChanged,
            Guard.NothingBlocks
        ),
        Rule(ChangeAct.Fill, "fill", "filled in", Role.Engineer, Change.OpenStates, null, Guard.SomethingPending),
        Rule(
            ChangeAct.Urgent,
            "urgent",
            "begun as urgent",
            Role.Engineer,
            Unapproved,
            null,
            Guard.NothingBlocks,
            Guard.MayBegin
        ),
        Rule(
            ChangeAct.ConfirmUrgent,
            "confirm-urgent",
            "begun as urgent",
            Role.Reviewer,
            Unapproved,
            ChangeState.UnderWay,
            Guard.WasAsked,
            Guard.NotTheAuthor,
            Guard.NothingChanged,
            Guard.NothingBlocks,
            Guard.MayBegin
        ),
        Rule(
            ChangeAct.ReviewAfter,
            "review-after",
            "reviewed afterwards",
            Role.Reviewer,
            Any,
            null,
            Guard.OwesReview,
            Guard.NotTheAuthor
        ),
        Rule(ChangeAct.Drop, "drop", "dropped", Role.Engineer, BeforeWork, ChangeState.Dropped),
        new(ChangeAct.Remark, "remark", "remarked on", [Role.Engineer, Role.Reviewer], Any, null, []),
    ];

    /// <summary>The rule of an act.</summary>
    public static ActRule Of(ChangeAct act) => All.First(r => r.Act == act);

    /// <summary>
    /// Why an act cannot be done to a change now: its state, or the first guard that does not hold; null when it can.
    /// </summary>
    /// <param name="act">What is to be done.</param>
    /// <param name="change">The change that it is to be done to.</param>
    /// <param name="by">The sign-in name of whoever acts.</param>
    /// <param name="changed">The values that the plan rests on and that no longer stand.</param>
    public static Stopped? Stops(ChangeAct act, Change change, string by, IReadOnlyList<RestsOn> changed)
    {
        var rule = Of(act);
        return rule.From.Contains(change.State)
            ? rule.Guards.Select(g => Guards.Check(g, new(change, by, changed))).FirstOrDefault(s => s is not null)
            : WrongState(rule, change);
    }

    private static Stopped WrongState(ActRule rule, Change change) =>
        new(
            $"{change.Code} is {Change.States.Of(change.State)}",
            new(
                null,
                $"{change.Code} is {Change.States.Of(change.State):w} and cannot be {rule.Done:w}.",
                $"Only a change that is {string.Join(" or ", rule.From.Select(Change.States.Of)):w} can be {rule.Done:w}."
            )
        );

    private static ActRule Rule(
        ChangeAct act,
        string word,
        string done,
        Role role,
        ImmutableArray<ChangeState> from,
        ChangeState? to,
        params ImmutableArray<Guard> guards
    ) => new(act, word, done, [role], from, to, guards);
}
