namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>A pending value that is filled in, or one that was and is corrected.</summary>
/// <param name="Number">Its number in the change.</param>
/// <param name="At">Where it stands.</param>
/// <param name="Corrected">What was filled in before; null when it is filled in for the first time.</param>
public sealed record ToFill(int Number, PendingAt At, FilledValue? Corrected);

/// <summary>Pending values that are filled in, corrected, and taken back.</summary>
public static partial class ChangeLife
{
    /// <summary>The value of a number, pending or filled in already; null when the change has none.</summary>
    public static ToFill? ValueOf(Change c, int number) =>
        c.Plan.Pending.FirstOrDefault(p => p.Number == number) is { } pending ? new(number, pending.At, null)
        : c.Filled.FirstOrDefault(f => f.Number == number) is { } filled ? new(number, filled.At, filled)
        : null;

    /// <summary>
    /// Takes up the plan in which a value stands. Approval stays: the plan it approved said that it would be filled.
    /// What was worked stays as it was said; what was entered with another value has to be entered again.
    /// </summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="by">The sign-in name of who acts.</param>
    /// <param name="at">When, with its distance from UTC.</param>
    /// <param name="plan">The plan, computed with the value.</param>
    /// <param name="filled">Which value.</param>
    /// <param name="was">What stood in the record before.</param>
    /// <param name="value">What it is.</param>
    public static Next<Change> Fill(
        Change c,
        Plan plan,
        ToFill filled,
        Node? was,
        string value,
        string by,
        DateTimeOffset at
    )
    {
        if (Stop(ChangeAct.Fill, c, by) is { } stopped)
            return stopped;
        var now = new FilledValue(filled.Number, filled.At, filled.Corrected?.Was ?? was, value, by, at);
        var again = filled.Corrected is { } old ? EnteredWith(c, filled, old.Value) : [];
        var asked = c.Plan.Steps.FirstOrDefault(s => s.Fills == filled.At.At);
        return Yes(
            c with
            {
                Plan = plan.Numbered(NumbersOf(c)) with { Steps = WithWorked(c, plan, again) },
                Filled = [.. c.Filled.Where(f => f.Number != filled.Number), now],
                Attempts =
                [
                    .. c.Attempts,
                    .. asked is null ? [] : Noted(asked.Key, AttemptOutcome.Done, $"filled in: {value}"),
                    .. again.SelectMany(key =>
                        Noted(
                            key,
                            AttemptOutcome.Failed,
                            $"{filled.At.Label} corrected from {filled.Corrected!.Value} to {value}: enter it again"
                        )
                    ),
                ],
            }
        );

        Attempt[] Noted(string key, AttemptOutcome outcome, string remark) => [new(key, outcome, by, at, remark, null)];
    }

    /// <summary>The numbers that the values of a change have.</summary>
    private static (Place At, int Number)[] NumbersOf(Change c) =>
        [.. c.Plan.Pending.Select(p => (p.At.At, p.Number)), .. c.Filled.Select(f => (f.At.At, f.Number))];

    /// <summary>The done steps that entered a value where it is being corrected.</summary>
    private static string[] EnteredWith(Change c, ToFill filled, string value) =>
        [
            .. c
                .Plan.Steps.Where(s => s.Kind != StepKind.FillIn && c.IsDone(s))
                .Where(s => s.Enter.Any(v => v.Waits == filled.At.At || v.Text == value))
                .Select(s => s.Key),
        ];

    /// <summary>
    /// The records without what filling in wrote, where it still stands there; and what stays, because somebody altered
    /// it since.
    /// </summary>
    public static (ImmutableArray<IRecord> Restored, ImmutableArray<FilledValue> Stays) TakenBack(
        Change c,
        Inventory now
    )
    {
        var forms = new Dictionary<(string Id, RecordKind Kind), MapNode>();
        var stays = ImmutableArray.CreateBuilder<FilledValue>();
        foreach (var filled in c.Filled)
        {
            var place = filled.At.At;
            var record = (place.RecordId, place.Kind);
            if ((forms.GetValueOrDefault(record) ?? FormOf(place, now)) is not { } form)
                continue;
            if ((Edits.Find(form, place.Path) as TextNode)?.Text == filled.Value)
                forms[record] = Edits.Put(form, place.Path, filled.Was);
            else
                stays.Add(filled);
        }

        return ([.. forms.Select(f => ReadBack(f.Key.Id, f.Key.Kind, f.Value))], stays.ToImmutable());
    }

    private static IRecord ReadBack(string id, RecordKind kind, MapNode form)
    {
        var fields = new Fields(form, "", new Reading(IdNames.Instance));
        IRecord? made =
            kind == RecordKind.Tunnel ? WrittenTunnel.Form.Read(id, fields) : WrittenGateway.Form.Read(id, fields);
        return made ?? throw new InvalidOperationException($"{id} cannot be read as it was.");
    }

    /// <summary>The steps of the new plan, with what was worked as it was said then.</summary>
    /// <param name="c">The change as it stands.</param>
    /// <param name="plan">The plan that takes the place of the old one.</param>
    /// <param name="again">The steps that have to be worked again, with what they say now.</param>
    private static ImmutableArray<Step> WithWorked(Change c, Plan plan, string[] again)
    {
        var worked = c
            .Plan.Steps.Where(s => c.LastAttempt(s.Key) is not null && !again.Contains(s.Key))
            .ToDictionary(s => s.Key);
        var steps = plan
            .Steps.Select(s =>
                worked.TryGetValue(s.Key, out var then)
                    ? s with
                    {
                        Do = then.Do,
                        Enter = then.Enter,
                        Minutes = then.Minutes,
                    }
                    : s
            )
            .ToList();
        // Under way, what comes before the work is past: a number that somebody has read does not move any more.
        var before = c.Plan.Steps.Select(s => s.Key).ToHashSet();
        if (c.State == ChangeState.UnderWay)
            steps.RemoveAll(s => s.Part is Part.Prepare or Part.Safeguard && !before.Contains(s.Key));
        // The step that asked for it was in the plan, and stays there as done.
        for (var i = 0; i < c.Plan.Steps.Length; i++)
        {
            var old = c.Plan.Steps[i];
            if (steps.All(n => n.Key != old.Key) && (old.Kind == StepKind.FillIn || worked.ContainsKey(old.Key)))
                steps.Insert(Math.Min(i, steps.Count), old with { Edits = [] });
        }

        return [.. steps];
    }
}
