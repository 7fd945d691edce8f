namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>Urgent work: a second person lets it begin, and it is reviewed afterwards.</summary>
public static partial class ChangeLife
{
    /// <summary>
    /// Asks a second person to let urgent work begin before it is reviewed. Asking again asks somebody else.
    /// </summary>
    /// <param name="why">The reason, as it was typed.</param>
    /// <param name="c">The change as it stands.</param>
    /// <param name="by">The sign-in name of who acts.</param>
    /// <param name="at">When, with its distance from UTC.</param>
    /// <param name="reviewer">Who is asked; that they may approve the change is known already.</param>
    public static Next<Change> AskUrgently(Change c, string by, DateTimeOffset at, string reviewer, string why)
    {
        if ((Stop(ChangeAct.Urgent, c, by) ?? SecondPerson(c, by, reviewer)) is { } stopped)
            return stopped;
        return string.IsNullOrWhiteSpace(why)
            ? No(null, $"{c.Code}: the reason why it cannot wait is missing.", $"Enter the reason.")
            : Yes(c with { UrgentAsked = new(by, reviewer, why.Trim(), at) });
    }

    /// <summary>
    /// Whoever was asked lets the work begin, for themselves and in nobody else's name; it is reviewed afterwards.
    /// </summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="by">The sign-in name of who acts.</param>
    /// <param name="at">When, with its distance from UTC.</param>
    /// <param name="remark">What was said with it; null when nothing.</param>
    /// <param name="changed">The values that approval rests on and that no longer stand.</param>
    /// <param name="made">The key versions that exist.</param>
    /// <param name="reviewBy">Until when somebody other than the author has to have reviewed it.</param>
    public static Next<Change> ConfirmUrgently(
        Change c,
        string by,
        DateTimeOffset at,
        string? remark,
        DateTimeOffset reviewBy,
        IReadOnlyList<RestsOn> changed,
        IReadOnlySet<VersionOfKey> made
    )
    {
        if (Stop(ChangeAct.ConfirmUrgent, c, by, changed) is { } stopped)
            return stopped;
        var asked = c.UrgentAsked!;
        if (SecondPerson(c, asked.By, by) is { } same)
            return same;
        var says = Trimmed(remark) is { } more ? $". {more}" : "";
        var begun = Begun(c, by, at, $"urgent, asked by {asked.By}: {asked.Reason}{says}", asked.Reason) with
        {
            Urgent = new(by, asked.Reason, reviewBy),
        };
        return Yes(SeenDone(begun, by, at, made));
    }

    /// <summary>The review that urgent work is owed.</summary>
    public static Next<Change> ReviewAfter(Change c, string by, DateTimeOffset at, string? remark)
    {
        if (Stop(ChangeAct.ReviewAfter, c, by) is { } stopped)
            return stopped;
        return Yes(
            c with
            {
                Urgent = c.Urgent! with { ReviewedBy = by, ReviewedAt = at },
                Remarks = Trimmed(remark) is { } says ? c.Remarks.Add(new(by, at, says, null)) : c.Remarks,
            }
        );
    }

    private static Next<Change>? SecondPerson(Change c, string by, string reviewer)
    {
        var wrote = string.Equals(reviewer, c.Author, StringComparison.OrdinalIgnoreCase);
        var asks = string.Equals(reviewer, by, StringComparison.OrdinalIgnoreCase);
        return wrote || asks
            ? No(
                null,
                $"{reviewer:w} cannot confirm {c.Code}, because {reviewer:w} {(wrote ? "wrote it" : "asked for it"):w}.",
                $"Ask a second person."
            )
            : null;
    }
}
