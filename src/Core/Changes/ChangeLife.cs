using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Changes;

/// <summary>Why something cannot be done to a change, with the finding's code where there is one.</summary>
public sealed record Refused(string? Code, Sentence Wrong, Sentence Right);

/// <summary>The change as it then is, or why not.</summary>
public sealed record Next<T>(T? Value, Refused? Refused)
    where T : class;

/// <summary>What closing writes: the change, and the records it brings to the as-built state.</summary>
public sealed record Closed(Change Change, ImmutableArray<IRecord> AsBuilt);

/// <summary>
/// The life of a change: draft, in review, approved, under way, done or backed out; dropped from draft, review or
/// approval. Pure functions from one state to the next; who acts and when are arguments.
/// </summary>
public static class ChangeLife
{
    public static Next<Change> Submit(Change c, string by, DateTimeOffset at) =>
        Wrong(c, "submitted", ChangeState.Draft) ?? InTheWay(c) ?? Go(c, ChangeState.InReview, by, at, null);

    /// <summary>Approves. The author never approves, and a change whose ground has moved is recomputed first.</summary>
    public static Next<Change> Approve(
        Change c,
        string by,
        DateTimeOffset at,
        string? remark,
        IReadOnlyList<RestsOn> moved
    ) =>
        Wrong(c, "approved", ChangeState.InReview)
        ?? (
            c.Author == by
                ? No(
                    null,
                    $"{c.Code} was written by {by:w}, and the author never approves.",
                    $"Ask another reviewer to look at it."
                )
                : null
        )
        ?? Lapsed(c, moved)
        ?? InTheWay(c)
        ?? new(Pass(c, ChangeState.Approved, by, at, remark) with { Approval = new(by, at) }, null);

    public static Next<Change> Return(Change c, string by, DateTimeOffset at, string remark, string? stepKey) =>
        Wrong(c, "returned", ChangeState.InReview)
        ?? (
            stepKey is not null && c.Plan.Steps.All(s => s.Key != stepKey)
                ? No(null, $"{c.Code} has no step {stepKey}.", $"One of the steps as numbered on the change.")
                : null
        )
        ?? new(
            Pass(c, ChangeState.Draft, by, at, remark) with
            {
                Remarks = c.Remarks.Add(new(by, at, remark, stepKey)),
            },
            null
        );

    /// <summary>
    /// Begins. When a value that approval rests on has moved, approval has lapsed: the change goes back to review and
    /// says what moved.
    /// </summary>
    public static Next<Change> Begin(Change c, string by, DateTimeOffset at, IReadOnlyList<RestsOn> moved) =>
        Wrong(c, "begun", ChangeState.Approved) ?? Lapsed(c, moved) ?? Go(c, ChangeState.UnderWay, by, at, null);

    /// <summary>
    /// Takes up a plan that was computed anew. Ticks stay; approval does not, and the change goes back to review when
    /// it had been there.
    /// </summary>
    public static Next<Change> Recompute(Change c, Plan plan, string by, DateTimeOffset at, string? remark) =>
        Wrong(c, "recomputed", ChangeState.Draft, ChangeState.InReview, ChangeState.Approved)
        ?? new(
            (c.State == ChangeState.Draft ? c : Pass(c, ChangeState.InReview, by, at, remark)) with
            {
                Plan = plan,
                Approval = null,
            },
            null
        );

    public static Next<Change> Drop(Change c, string by, DateTimeOffset at, string? remark) =>
        Wrong(c, "dropped", ChangeState.Draft, ChangeState.InReview, ChangeState.Approved)
        ?? Go(c, ChangeState.Dropped, by, at, remark);

    /// <summary>Notes an attempt at a step: done, skipped with a reason, or failed with what was seen.</summary>
    public static Next<Change> Attempt(
        Change c,
        string stepKey,
        Outcome outcome,
        string by,
        DateTimeOffset at,
        string? remark,
        Deviation? deviation,
        string? proof = null,
        ProofFile? file = null
    )
    {
        if (Wrong(c, "worked on", ChangeState.UnderWay) is { } wrong)
            return wrong;
        if (c.Plan.Steps.FirstOrDefault(s => s.Key == stepKey) is not { } step)
            return No(null, $"{c.Code} has no step {stepKey}.", $"Its steps are 1 to {c.Plan.Steps.Length}.");
        var number = c.Plan.Steps.IndexOf(step) + 1;
        if (outcome != Outcome.Done && string.IsNullOrWhiteSpace(remark))
            return No(
                null,
                $"Step {number} of {c.Code} is {Change.Outcomes.Of(outcome):w}, and nothing says why.",
                outcome == Outcome.Skipped ? Sentence.Of($"Give the reason.") : Sentence.Of($"Say what was seen.")
            );
        if (deviation is not null)
        {
            if (outcome != Outcome.Done)
                return No(
                    null,
                    $"A deviation on step {number} of {c.Code} needs the step done.",
                    $"Tick it done with the value that was set."
                );
            if (string.IsNullOrWhiteSpace(deviation.Reason))
                return No(
                    null,
                    $"The deviation on step {number} of {c.Code} has no reason.",
                    $"Say why it was set otherwise."
                );
            if (ValueOf(step, deviation.Label ?? deviation.Planned) is { } meant)
                deviation = deviation with { Planned = meant.Text, Label = meant.Label };
            if (ValueOf(step, deviation) is { Path: { } path } value && !InList(path))
            {
                if (Deviated(path, deviation.Set) is { Problem: { } problem })
                    return No(
                        null,
                        $"Step {number} of {c.Code}: {value.Label:w} cannot be {deviation.Set}: {problem.Wrong:w}.",
                        $"{problem.Right:w}."
                    );
            }
            else if (
                deviation.Label is null
                && !step.Edits.Any(i => Mentions(c.Plan.Edits[i].After, deviation.Planned))
            )
                return No(
                    null,
                    $"Step {number} of {c.Code} sets no {deviation.Planned}.",
                    $"A value the step enters: {Say.And(step.Enter.Select(v => v.Text)):w}."
                );
            if (Prefix.Parse(deviation.Planned).Ok && Prefix.Parse(deviation.Set) is { Ok: false } bad)
                return No("ADR-01", $"{bad.Wrong!:w}.", $"{bad.Right!:w}.");
        }

        if (
            outcome == Outcome.Done
            && step.Enter.FirstOrDefault(v => v.Waits is not null) is { } waits
            && c.Plan.Pending.FirstOrDefault(p => p.At.Path == waits.Waits) is { } pending
        )
            return No(
                "PLAN-04",
                $"Step {number} of {c.Code} needs the {pending.At.Label:w}, which is pending{(pending.At.WhoKnows is { } who ? $": {who} will know it" : ""):w}.",
                $"Fill it in first: vellumkeep change fill {c.Code} {c.Plan.Pending.IndexOf(pending) + 1} <value>."
            );
        if (
            step.Needs.FirstOrDefault(n =>
                outcome == Outcome.Done && c.LastTick(n) is not { Outcome: not Outcome.Failed }
            ) is
            { } need
        )
            return No(
                null,
                $"Step {number} of {c.Code} needs step {c.Plan.Steps.ToList().FindIndex(s => s.Key == need) + 1} first.",
                $"Do that one, or skip it with a reason."
            );
        return new(
            c with
            {
                Ticks = c.Ticks.Add(
                    new(
                        stepKey,
                        outcome,
                        by,
                        at,
                        string.IsNullOrWhiteSpace(remark) ? null : remark.Trim(),
                        deviation,
                        string.IsNullOrWhiteSpace(proof) ? null : proof.Trim(),
                        file
                    )
                ),
            },
            null
        );
    }

    public static Next<Change> BackOut(Change c, string by, DateTimeOffset at, string? remark) =>
        Wrong(c, "backed out", ChangeState.UnderWay)
        ?? (
            string.IsNullOrWhiteSpace(remark)
                ? No(null, $"Nothing says why {c.Code} is backed out.", $"Give the reason.")
                : null
        )
        ?? Go(c, ChangeState.BackedOut, by, at, remark);

    /// <summary>
    /// Closes: every edit of a step that was done becomes set and seen on its end, deviations alter only theirs, and
    /// what was agreed moves. Refused while a step is open or failed, and when a path it writes no longer holds what
    /// the plan found there.
    /// </summary>
    public static Next<Closed> Close(Change c, Inventory now, string by, DateTimeOffset at)
    {
        Next<Closed> Stop(Refused why) => new(null, why);
        if (Wrong(c, "closed", ChangeState.UnderWay) is { Refused: { } state })
            return Stop(state);
        var open = c
            .Plan.Steps.Select((s, i) => (Step: s, Number: i + 1, Last: c.LastTick(s.Key)))
            .Where(s => s.Last is null or { Outcome: Outcome.Failed })
            .ToArray();
        if (open.Length > 0)
            return Stop(
                new(
                    null,
                    $"{c.Code} cannot close: step {Say.And(open.Take(5).Select(s => $"{s.Number}{(s.Last is null ? "" : " (failed)")}")):w}{(open.Length > 5 ? $" and {open.Length - 5} more" : ""):w} {(open.Length == 1 ? "is" : "are"):w} not settled.",
                    $"Do them, or skip each with a reason."
                )
            );

        var carriedBy = c.Plan.Steps.SelectMany(s => s.Edits.Select(e => (e, s))).ToDictionary(p => p.e, p => p.s);
        var records = c.Plan.Edits.Select(e => (e.RecordId, e.Kind)).Distinct().ToArray();
        var built = ImmutableArray.CreateBuilder<IRecord>();
        foreach (var (id, kind) in records)
        {
            IRecord record = kind == RecordKind.Tunnel ? now.Get<Tunnel>(id) : now.Get<Gateway>(id);
            var form = record is Tunnel t
                ? WrittenTunnel.Form.Write(t, IdNames.Instance)
                : WrittenGateway.Form.Write((Gateway)record, IdNames.Instance);
            var written = new HashSet<string>();
            for (var i = 0; i < c.Plan.Edits.Length; i++)
            {
                var edit = c.Plan.Edits[i];
                if (edit.RecordId != id)
                    continue;
                var tick = carriedBy.TryGetValue(i, out var step) ? c.LastTick(step.Key) : null;
                if (step is not null && tick?.Outcome != Outcome.Done)
                    continue;
                // What an earlier stage of this very change entered there is no news, also where it was set otherwise.
                if (written.Add(edit.Path) && !Node.Same(Edits.Find(form, edit.Path), edit.Before))
                    return Stop(
                        new(
                            "PLAN-07",
                            $"{edit.Path} of {record.Code} is no longer as {c.Code} found it.",
                            $"See what moved in the history of {record.Code}; correct it there, or back out."
                        )
                    );
                var after =
                    tick?.Deviation is not { } d ? edit.After
                    : ValueOf(step!, d)?.Path is { } valueAt && !InList(valueAt)
                        ? valueAt == edit.Path ? Deviated(valueAt, d.Set).Node
                            : edit.After
                    : Replace(edit.After, d.Planned, d.Set);
                form = Edits.Put(form, edit.Path, after);
                if (edit.End is { } end && tick is not null)
                    form = Look(
                        form,
                        end.Key(),
                        edit.Path,
                        new Seen(SeenHow.Typed, DateOnly.FromDateTime(tick.At.UtcDateTime), tick.By)
                    );
            }

            if (record is Tunnel)
            {
                // Work on the ends was entered, is active and was saved when its steps say so.
                foreach (var end in Enum.GetValues<EndName>())
                {
                    var gateway = now.Find<Gateway>(
                        Edits.Find(form, $"{end.Key()}.gateway") is TextNode g ? g.Text : null
                    )?.Code;
                    if (
                        !c.Plan.Steps.Any(s =>
                            s.Where.ToString() == end.ToString()
                            && (s.TunnelId is null || s.TunnelId == id)
                            && (s.Part is Part.Build or Part.Switch)
                            && c.LastTick(s.Key)?.Outcome == Outcome.Done
                        )
                    )
                        continue;
                    if (Edits.Find(form, "state") is TextNode { Text: "retired" })
                    {
                        form = Edits.Put(form, $"{end.Key()}.ticks", null);
                        continue;
                    }

                    var day = Scalars.Write(DateOnly.FromDateTime(at.UtcDateTime));
                    foreach (var tick in new[] { "entered", "active" })
                        form = Edits.Put(form, $"{end.Key()}.ticks.{tick}", day);
                    form = Edits.Put(
                        form,
                        $"{end.Key()}.ticks.saved",
                        c.Plan.Steps.Any(s =>
                            s.Key.StartsWith("save-after-", StringComparison.Ordinal)
                            && (s.Gateway is null ? s.Key == $"save-after-{end.Key()}" : s.Gateway == gateway)
                            && c.LastTick(s.Key)?.Outcome == Outcome.Done
                        )
                            ? new TextNode(day)
                            : null
                    );
                }
            }

            var reading = new Reading(IdNames.Instance);
            var fields = new Fields(form, "", reading);
            IRecord? made =
                record is Tunnel ? WrittenTunnel.Form.Read(id, fields) : WrittenGateway.Form.Read(id, fields);
            if (made is null)
                return Stop(
                    new(
                        null,
                        $"{record.Code} would not be readable as built: {reading.Problems[0].Field} {reading.Problems[0].Wrong:w}.",
                        $"{reading.Problems[0].Right:w}."
                    )
                );
            built.Add(made);
        }

        return new(new(Pass(c, ChangeState.Done, by, at, null), built.ToImmutable()), null);
    }

    /// <summary>Which of the values that approval rests on no longer stand.</summary>
    public static ImmutableArray<RestsOn> Moved(Change c, Inventory now) =>
        [
            .. c.Plan.RestsOn.Where(r =>
            {
                Node? form =
                    r.Kind == RecordKind.Tunnel
                        ? now.Find<Tunnel>(r.RecordId) is { } t
                            ? WrittenTunnel.Form.Write(t, IdNames.Instance)
                            : null
                        : now.Find<Gateway>(r.RecordId) is { } gateway
                            ? WrittenGateway.Form.Write(gateway, IdNames.Instance)
                            : null;
                return form is null || !Node.Same(Edits.Find(form, r.Path), r.Value);
            }),
        ];

    /// <summary>
    /// Asks a second person to let urgent work begin before it is reviewed. Asking again asks somebody else.
    /// </summary>
    /// <param name="named">Who is asked; that they may approve the change is known already.</param>
    public static Next<Change> AskUrgently(Change c, string by, DateTimeOffset at, string named, string why) =>
        Wrong(c, "begun urgently", ChangeState.Draft, ChangeState.InReview)
        ?? SecondPerson(c, by, named)
        ?? (
            string.IsNullOrWhiteSpace(why)
                ? No(null, $"Nothing says why {c.Code} cannot wait.", $"Give the reason.")
                : null
        )
        ?? InTheWay(c)
        ?? Pendings(c)
        ?? new(c with { UrgentAsked = new(by, named, why.Trim(), at) }, null);

    /// <summary>
    /// Whoever was asked lets the work begin, for themselves and in nobody else's name; it is reviewed afterwards.
    /// </summary>
    /// <param name="reviewBy">Until when somebody other than the author has to have reviewed it.</param>
    public static Next<Change> ConfirmUrgently(
        Change c,
        string by,
        DateTimeOffset at,
        string? remark,
        DateTimeOffset reviewBy,
        IReadOnlyList<RestsOn> moved
    ) =>
        Wrong(c, "begun urgently", ChangeState.Draft, ChangeState.InReview)
        ?? (
            c.UrgentAsked is not { } asked
                ? No(
                    null,
                    $"Nobody asked that {c.Code} begin urgently.",
                    $"Ask first: vellumkeep change urgent {c.Code}."
                )
            : asked.Named != by
                ? No(
                    null,
                    $"{asked.Named:w} was asked to let {c.Code} begin, and not {by:w}.",
                    $"Have {asked.Named:w} confirm it, or ask somebody else."
                )
            : SecondPerson(c, asked.By, by)
                ?? Lapsed(c, moved)
                ?? InTheWay(c)
                ?? Pendings(c)
                ?? new(
                    Pass(
                        c,
                        ChangeState.UnderWay,
                        by,
                        at,
                        $"urgent, asked by {asked.By}: {asked.Why}{(string.IsNullOrWhiteSpace(remark) ? "" : $". {remark.Trim()}")}"
                    ) with
                    {
                        UrgentAsked = null,
                        Urgent = new(by, asked.Why, reviewBy),
                    },
                    null
                )
        );

    private static Next<Change>? SecondPerson(Change c, string by, string named) =>
        string.Equals(named, by, StringComparison.OrdinalIgnoreCase)
        || string.Equals(named, c.Author, StringComparison.OrdinalIgnoreCase)
            ? No(
                null,
                $"{c.Code} cannot begin on the word of {named:w}, who {(string.Equals(named, c.Author, StringComparison.OrdinalIgnoreCase) ? "wrote it" : "asks for it"):w}.",
                $"Ask a second person."
            )
            : null;

    /// <summary>The review that urgent work is owed.</summary>
    public static Next<Change> ReviewAfter(Change c, string by, DateTimeOffset at, string? remark) =>
        c.Urgent is not { ReviewedBy: null } owed
            ? No(null, $"{c.Code} owes no review.", $"Only urgent work is reviewed afterwards.")
        : c.Author == by
            ? No(
                null,
                $"{c.Code} was written by {by:w}, and the author never approves.",
                $"Ask another reviewer to look at it."
            )
        : new(
            c with
            {
                Urgent = owed with { ReviewedBy = by, ReviewedAt = at },
                Remarks = string.IsNullOrWhiteSpace(remark)
                    ? c.Remarks
                    : c.Remarks.Add(new(by, at, remark.Trim(), null)),
            },
            null
        );

    /// <summary>A remark on the whole or on a step, without moving the change.</summary>
    public static Next<Change> Remarked(
        Change c,
        string by,
        DateTimeOffset at,
        string remark,
        string? stepKey,
        string? value = null
    )
    {
        var step = c.Plan.Steps.FirstOrDefault(s => s.Key == stepKey);
        if (!string.IsNullOrWhiteSpace(value) && (step is null || ValueOf(step, value.Trim()) is null))
            return No(
                null,
                $"{(step is null ? "No step is named" : $"Step {c.Plan.Steps.IndexOf(step) + 1} of {c.Code} has no {value.Trim()}"):w}.",
                $"A step, and a value that it enters: {(step is null ? "its label" : Say.And(step.Enter.Select(v => v.Label).Distinct())):w}."
            );
        return new(
            c with
            {
                Remarks = c.Remarks.Add(
                    new(
                        by,
                        at,
                        remark.Trim(),
                        stepKey,
                        string.IsNullOrWhiteSpace(value) ? null : ValueOf(step!, value.Trim())!.Label
                    )
                ),
            },
            null
        );
    }

    /// <summary>
    /// Takes up the plan in which a pending value stands. Approval stays: the plan it approved said that it would be
    /// filled. What was worked stays as it was said.
    /// </summary>
    public static Next<Change> Fill(
        Change c,
        Plan plan,
        PendingValue filled,
        string value,
        string by,
        DateTimeOffset at
    )
    {
        if (!c.Open)
            return Wrong(
                c,
                "filled in",
                ChangeState.Draft,
                ChangeState.InReview,
                ChangeState.Approved,
                ChangeState.UnderWay
            )!;
        var worked = c.Plan.Steps.Where(s => c.LastTick(s.Key) is not null).ToDictionary(s => s.Key);
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
        var key = $"prepare-pending-{filled.At.RecordId}-{filled.At.Path}";
        foreach (
            var (old, i) in c
                .Plan.Steps.Select((s, i) => (s, i))
                .Where(s =>
                    steps.All(n => n.Key != s.s.Key)
                    && (s.s.Key.StartsWith("prepare-pending-", StringComparison.Ordinal) || worked.ContainsKey(s.s.Key))
                )
        )
            steps.Insert(Math.Min(i, steps.Count), old with { Edits = [] });
        var ticks = c.Plan.Steps.Any(s => s.Key == key)
            ? c.Ticks.Add(new(key, Outcome.Done, by, at, $"filled in: {value}", null))
            : c.Ticks;
        return new(c with { Plan = plan with { Steps = [.. steps] }, Ticks = ticks }, null);
    }

    private static Next<Change>? Pendings(Change c) =>
        c.Plan.Pending.FirstOrDefault(p => p.Steps.IsEmpty) is { } p
            ? No(
                "PLAN-04",
                $"The {p.At.Label:w} is still pending.",
                $"Fill it in first: vellumkeep change fill {c.Code} {c.Plan.Pending.IndexOf(p) + 1} <value>."
            )
            : null;

    /// <summary>The value of a step that is meant: by what is entered, or by its label.</summary>
    internal static StepValue? ValueOf(Step step, string planned) =>
        step.Enter.FirstOrDefault(v => v.Text == planned)
        ?? step.Enter.FirstOrDefault(v => v.Label.Equals(planned, StringComparison.OrdinalIgnoreCase));

    private static StepValue? ValueOf(Step step, Deviation deviation) =>
        deviation.Label is { } label
            ? step.Enter.FirstOrDefault(v => v.Label == label && v.Text == deviation.Planned)
            : ValueOf(step, deviation.Planned);

    /// <summary>
    /// Whether a value is an item of a list of its end, or a list itself: what stands in its place there is found by
    /// what was planned.
    /// </summary>
    private static bool InList(string path) =>
        path.Split('.') is [_, "subnets" or "rules" or "noTranslation" or "routes"];

    /// <summary>What was set, as the inventory writes it at that path; or why it cannot stand there.</summary>
    internal static (Node? Node, Problem? Problem) Deviated(string path, string set)
    {
        static (Node?, Problem?) Read<T>(string label, Parsed<T> read) =>
            read.Ok ? (new TextNode(read.Value!.ToString()!), null) : (null, new(label, 1, read.Wrong!, read.Right!));
        switch (path.Split('.'))
        {
            case [_, "set", var key] when Settings.Find(key) is { } setting:
                var problems = new List<Problem>();
                foreach (
                    var node in new Node[]
                    {
                        new TextNode(set),
                        ListNode.OfTexts(
                            set.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                        ),
                    }
                )
                {
                    problems.Clear();
                    if (WrittenSettings.Read(setting, node, setting.Label, problems) is { } read && problems.Count == 0)
                        return (WrittenSettings.Write(setting, read), null);
                }

                return (null, problems.FirstOrDefault() ?? new(setting.Label, 1, "it cannot be read", setting.About));
            case [_, "peerAddress"]:
                return Read("peer address", PeerAddress.Parse(set));
            case [_, "identitySent" or "identityExpected"]:
                return Read("identity", Identity.Parse(set));
            case [_, "tunnelAddress"]:
                return Read("tunnel address", TunnelAddress.Parse(set));
            default:
                return (
                    null,
                    new(
                        path,
                        1,
                        "it is not recorded as one value",
                        "the step skipped with the reason, and the tunnel corrected afterwards"
                    )
                );
        }
    }

    private static Next<Change>? Wrong(Change c, string verb, params ChangeState[] from) =>
        from.Contains(c.State)
            ? null
            : No(
                null,
                $"{c.Code} is {Change.States.Of(c.State):w} and cannot be {verb:w}.",
                $"Only a change that is {string.Join(" or ", from.Select(Change.States.Of)):w} can be {verb:w}."
            );

    private static Next<Change>? InTheWay(Change c) =>
        c.Plan.InTheWay.FirstOrDefault() is { } f
            ? No(
                "PLAN-03",
                $"{c.Code} would add a finding that blocks: {f.Finding.Code:w} on {f.TunnelCode}: {f.Finding.What}",
                $"{f.Finding.Do}"
            )
            : null;

    private static Next<Change>? Lapsed(Change c, IReadOnlyList<RestsOn> moved) =>
        moved.Count == 0
            ? null
            : No(
                "PLAN-07",
                $"What {c.Code} rests on has moved: {Say.And(moved.Take(4).Select(m => m.Path)):w}.",
                $"Recompute it; it goes back to review."
            );

    private static Next<Change> No(string? code, Sentence wrong, Sentence right) => new(null, new(code, wrong, right));

    private static Next<Change> Go(Change c, ChangeState to, string by, DateTimeOffset at, string? remark) =>
        new(Pass(c, to, by, at, remark), null);

    private static Change Pass(Change c, ChangeState to, string by, DateTimeOffset at, string? remark) =>
        c with
        {
            State = to,
            Passages = c.Passages.Add(new(to, by, at, remark)),
            UrgentAsked = null,
        };

    private static bool Mentions(Node? node, string text) =>
        node switch
        {
            TextNode t => t.Text == text,
            ListNode l => l.Items.Any(i => Mentions(i, text)),
            MapNode m => m.Entries.Any(e => Mentions(e.Value, text)),
            _ => false,
        };

    private static Node? Replace(Node? node, string planned, string set) =>
        node switch
        {
            TextNode t => t.Text == planned ? set : t,
            ListNode l => ListNode.Of(l.Items.Select(i => Replace(i, planned, set)!)),
            MapNode m => new MapNode([
                .. m.Entries.Select(e => KeyValuePair.Create(e.Key, Replace(e.Value, planned, set)!)),
            ]),
            _ => null,
        };

    /// <summary>
    /// Marks the list that the edit wrote into as seen by who did the step: the step has them look at the whole list.
    /// </summary>
    private static MapNode Look(MapNode form, string end, string path, Seen seen)
    {
        var part = path[(end.Length + 1)..].Split('.', '[')[0];
        if (
            part
            is "keyHeld"
                or "certificate"
                or "anchors"
                or "routing"
                or "proposalsFrom"
                or "keyFor"
                or "gateway"
                or "uplinks"
                or "inside"
                or "ticks"
                or "prefixNames"
        )
            return form;
        // A setting is seen for itself, and all of them when the end had none before.
        if (path == $"{end}.set")
            return Edits.Find(form, path) is MapNode all
                ? all.Entries.Aggregate(form, (f, e) => Look(f, end, $"{path}.{e.Key}", seen))
                : form;
        if (part == "set")
            part = string.Join('.', path[(end.Length + 1)..].Split('.').Take(2));
        if (part == "subnets")
            return Edits.Put(form, $"{end}.subnets.seen", seen.ToString());
        var at = $"{end}.{part}";
        return Edits.Find(form, at) is { } list
            ? Edits.Put(
                form,
                at,
                new MapWriter()
                    .Always("is", list is MapNode m ? m.Find("is") ?? m.Find("temporary") ?? list : list)
                    .Add("seen", seen.ToString())
                    .Done()
            )
            : form;
    }
}
