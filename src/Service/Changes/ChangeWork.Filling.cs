using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

public sealed partial class ChangeWork
{
    /// <summary>
    /// Writes a value that was pending into the record that waited for it, and computes anew what depends on it.
    /// </summary>
    public async Task FillAsync(Asker asker, DateTimeOffset now, string code, FillGiven given, CancellationToken ct)
    {
        var id = await IdAsync(asker, code, ct);
        await keeper.WriteAsync(
            new(asker.Name, now, "fill in", null, id),
            async (writing, reader) =>
            {
                var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
                var change = kept.Record;
                Need(asker, ChangeAct.Fill, change);
                NeedVersion(kept);
                var filled = ToFillOf(change, given.Number);
                var around = await ChangeGround.AroundAsync(reader, change.Request, ct);
                var (made, was) = WithFilled(around, filled, given.Value);
                foreach (var outer in (made as Gateway)?.Uplinks.Select(u => u.Outer).OfType<Address>() ?? [])
                    await OuterAddresses.FreeAsync(writing, reader, asker, "value", outer, made.Id, ct);
                var plan = ChangeDrafting.PlanOf(around.With(made), change.Request, now, asker.Scope, ct);
                var (next, refused) = ChangeLife.Fill(change, plan, filled, was, given.Value!.Trim(), asker.Name, now);
                writing.Put(made);
                writing.Put(next ?? throw ChangeProblems.Refuse(refused!, asker.Scope), kept.Version);
                return true;
            },
            ct
        );
    }

    private static ToFill ToFillOf(Change change, int number)
    {
        if (ChangeLife.ValueOf(change, number) is { } known)
            return known;
        var numbers = change.Plan.Pending.Select(p => p.Number).Concat(change.Filled.Select(f => f.Number)).Order();
        throw change.Plan.Pending.IsEmpty && change.Filled.IsEmpty
            ? ProblemException.Field("number", $"nothing of {change.Code} is pending", "nothing to fill in")
            : ProblemException.Field(
                "number",
                $"{change.Code} has no value {number} to fill in",
                string.Join(" or ", numbers)
            );
    }

    /// <summary>The record that waited for a value, with it; and what stood there before.</summary>
    private static (IRecord Made, Node? Was) WithFilled(Inventory around, ToFill filled, string? value)
    {
        var at = filled.At.At;
        IRecord record =
            at.Kind == RecordKind.Gateway ? around.Get<Gateway>(at.RecordId) : around.Get<Tunnel>(at.RecordId);
        var before = RecordBody.Form(record);
        var form = Edits.Put(before, at.Path, (value ?? "").Trim());
        var (made, problems) = RecordBody.Read(record.Kind, record.Id, form);
        return made is not null
            ? (made, Edits.Find(before, at.Path))
            : throw ProblemException.Field("value", problems[0].Wrong, problems[0].Right);
    }
}
