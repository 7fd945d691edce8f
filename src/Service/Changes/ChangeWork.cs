namespace Vellumkeep.Service.Changes;

/// <summary>What is done with changes, from wish to record. Callable with any clock.</summary>
public sealed class ChangeWork(Databases databases, Keeper keeper)
{
    public async Task<string> DraftAsync(Asker asker, DateTimeOffset now, DraftSubnets given, CancellationToken ct)
    {
        if (string.IsNullOrWhiteSpace(given.Why) || given.Why.Length > 2000)
            throw ProblemException.Field("why", "nothing says why", "what the change is for, in at most 2,000 characters");
        var wrote = await keeper.WriteAsync(new(asker.Name, now, "draft"), async (writing, reader) =>
        {
            var tunnel = (await Tunnels.TunnelWork.FindAsync(reader, asker.Scope, given.Tunnel ?? "", ct)).Record;
            asker.Need(Role.Engineer, tunnel.CustomerId, tunnel.Code);
            var end = Tunnels.TunnelWork.EndOf(given.End);
            var wish = new SubnetsWish(tunnel.Id, end, Prefixes("add", given.Add), Prefixes("reach", given.Reach));
            var around = await reader.AroundAsync([tunnel.Id], true, ct);
            var plan = PlanOf(around, wish, now);
            var customer = around.Get<Customer>(tunnel.CustomerId);
            var number = (await reader.BeginningNumbersAsync(RecordKind.Change, customer.Code + "-", ct)).DefaultIfEmpty(0).Max() + 1;
            var code = $"{customer.Code}-{number.ToString("0000", CultureInfo.InvariantCulture)}";
            var near = around.Get<Site>(around.Get<Gateway>(tunnel.End(end).GatewayId).SiteId);
            var title = string.IsNullOrWhiteSpace(given.Title) ? $"Add {Say.And(wish.Add.Select(p => near.NameOf(p) ?? p.ToString()))} to {tunnel.Code}" : given.Title.Trim();
            if (title.Length > 120)
                throw ProblemException.Field("title", "the title is too long", "at most 120 characters");
            var window = given.WindowStart is { } start
                ? given.WindowMinutes is > 0 and <= 1440 ? new Window(start, given.WindowMinutes.Value) : throw ProblemException.Field("windowMinutes", "a window needs its length", "minutes, 1 to 1440")
                : null;
            writing.Put(new Change(writing.NewId(), code, title, given.Why.Trim(), tunnel.CustomerId, wish, plan, ChangeState.Draft, window, asker.Name, [], null, [], [new(ChangeState.Draft, asker.Name, now, null)]), 0);
            return code;
        }, ct);
        return wrote.Result;
    }

    public Task SubmitAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) => StepAsync(asker, now, "submit", code, null, (c, _, _) => ChangeLife.Submit(c, asker.Name, now), ct);

    /// <summary>Approves the version that was seen, and no other.</summary>
    public Task ApproveAsync(Asker asker, DateTimeOffset now, string code, int version, string? remark, CancellationToken ct) =>
        StepAsync(asker, now, "approve", code, version, (c, around, _) => ChangeLife.Approve(c, asker.Name, now, remark, ChangeLife.Moved(c, around)), ct);

    public Task ReturnAsync(Asker asker, DateTimeOffset now, string code, string? remark, int? step, CancellationToken ct)
    {
        if (string.IsNullOrWhiteSpace(remark))
            throw ProblemException.Field("remark", "nothing says what to mend", "a remark for the author");
        return StepAsync(asker, now, "return", code, null, (c, _, _) => ChangeLife.Return(c, asker.Name, now, remark.Trim(), step is { } n ? KeyOf(c, n) : null), ct);
    }

    public Task BeginAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        StepAsync(asker, now, "begin", code, null, (c, around, _) => ChangeLife.Begin(c, asker.Name, now, ChangeLife.Moved(c, around)), ct);

    public Task RecomputeAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        StepAsync(asker, now, "recompute", code, null, (c, around, _) => ChangeLife.Recompute(c, PlanOf(around, c.Wish, now), asker.Name, now, "recomputed because what it rests on had moved"), ct);

    public Task DropAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) => StepAsync(asker, now, "drop", code, null, (c, _, _) => ChangeLife.Drop(c, asker.Name, now, remark), ct);

    public Task BackOutAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) => StepAsync(asker, now, "back out", code, null, (c, _, _) => ChangeLife.BackOut(c, asker.Name, now, remark), ct);

    public Task AttemptAsync(Asker asker, DateTimeOffset now, string code, int step, AttemptStep given, CancellationToken ct)
    {
        var outcome = Change.Outcomes.Parse(given.Outcome ?? "");
        if (!outcome.Ok)
            throw ProblemException.Field("outcome", outcome.Wrong!, outcome.Right!);
        return StepAsync(asker, now, "step", code, null, (c, _, _) =>
        {
            var key = KeyOf(c, step);
            var does = c.Plan.Steps[step - 1];
            // A deviation names what was set; what was planned may be left out where the step enters one prefix only.
            var planned = given.Planned ?? (given.Set is null ? null : does.Enter.Select(v => v.Text).Distinct().Where(t => Prefix.Parse(t).Ok).ToArray() is [var only] ? only
                : throw ProblemException.Field("planned", $"step {step} enters several values", $"which one was set otherwise: {Say.And(does.Enter.Select(v => v.Text).Distinct())}"));
            return ChangeLife.Attempt(c, key, outcome.Value, asker.Name, now, given.Remark, given.Set is null ? null : new(planned!, Canonical(given.Set), given.Reason ?? ""));
        }, ct);
    }

    public async Task CloseAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct)
    {
        var id = await IdAsync(asker, code, ct);
        await keeper.WriteAsync(new(asker.Name, now, "close", null, id), async (writing, reader) =>
        {
            var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
            asker.Need(Role.Engineer, kept.Record.CustomerId, kept.Record.Code);
            var around = await reader.AroundAsync([kept.Record.Wish.TunnelId], true, ct);
            var (closed, refused) = ChangeLife.Close(kept.Record, around, asker.Name, now);
            if (closed is null)
                throw Refuse(refused!, asker.Scope);
            writing.Put(closed.Change, kept.Version);
            foreach (var record in closed.AsBuilt)
                writing.Put(record);
            return true;
        }, ct);
    }

    public static async Task<Kept<Change>> FindAsync(RecordReader reader, Scope scope, string code, CancellationToken ct)
    {
        if (await reader.ByCodeAsync<Change>(scope, RecordKind.Change, code, ct) is { } found)
            return found;
        var beginning = await reader.BeginningAsync(scope, RecordKind.Change, code, ct);
        return beginning.Count == 1 ? (await reader.ByCodeAsync<Change>(scope, RecordKind.Change, beginning[0], ct))! : throw ProblemException.NotFound("change", code, beginning);
    }

    private async Task<string> IdAsync(Asker asker, string code, CancellationToken ct)
    {
        await using var context = databases.Open();
        return (await FindAsync(new(context), asker.Scope, code, ct)).Record.Id;
    }

    private async Task StepAsync(Asker asker, DateTimeOffset now, string what, string code, int? version, Func<Change, Inventory, RecordReader, Next<Change>> next, CancellationToken ct)
    {
        var id = await IdAsync(asker, code, ct);
        await keeper.WriteAsync(new(asker.Name, now, what, null, id), async (writing, reader) =>
        {
            var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
            asker.Need(what is "approve" or "return" ? Role.Reviewer : Role.Engineer, kept.Record.CustomerId, kept.Record.Code);
            if (version is { } seen && seen != kept.Version)
                throw new ConflictException(id, seen, kept.Version);
            var around = await reader.AroundAsync([kept.Record.Wish.TunnelId], true, ct);
            var (change, refused) = next(kept.Record, around, reader);
            writing.Put(change ?? throw Refuse(refused!, asker.Scope), kept.Version);
            return true;
        }, ct);
    }

    private static Plan PlanOf(Inventory around, SubnetsWish wish, DateTimeOffset now)
    {
        var planned = SubnetsPlanner.Plan(around, wish, DateOnly.FromDateTime(now.UtcDateTime));
        if (planned.Plan is { } plan)
            return plan;
        var first = planned.Refused[0];
        throw new ProblemException(422, "cannot-be-planned", "This cannot be planned", string.Join(" ", planned.Refused.Take(3).Select(r => $"{r.Wrong} {r.Right}")))
            .With("field", first.Field).With("findings", planned.Refused.Select(r => r.Code).OfType<string>().Distinct());
    }

    private static ProblemException Refuse(Refused refused, Scope scope) =>
        new ProblemException(409, "refused", "Refused", $"{refused.Wrong.Show(scope.Sees).Text} {refused.Right.Show(scope.Sees).Text}").With("findings", refused.Code is { } code ? new[] { code } : []);

    private static string KeyOf(Change c, int number) => number >= 1 && number <= c.Plan.Steps.Length ? c.Plan.Steps[number - 1].Key
        : throw ProblemException.Field("step", $"{c.Code} has no step {number}", $"1 to {c.Plan.Steps.Length}");

    private static string Canonical(string value) => Prefix.Parse(value) is { Ok: true } prefix ? prefix.Value.ToString() : value.Trim();

    private static ImmutableArray<Prefix> Prefixes(string field, IReadOnlyList<string>? texts)
    {
        var result = ImmutableArray.CreateBuilder<Prefix>();
        foreach (var text in texts ?? [])
        {
            var read = Prefix.Parse(text ?? "");
            result.Add(read.Ok ? read.Value : throw ProblemException.Field(field, read.Wrong!, read.Right!).With("findings", read.Wrong!.Contains("ADR-01", StringComparison.Ordinal) ? new[] { "ADR-01" } : []));
        }

        return result.ToImmutable();
    }
}
