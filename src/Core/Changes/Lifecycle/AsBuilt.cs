using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>A record as it was really built by a change.</summary>
internal sealed class AsBuilt
{
    private readonly Change change;
    private readonly IRecord record;
    private readonly DateTimeOffset at;
    private readonly Dictionary<Edit, Step> carriedBy;
    private MapNode form;

    /// <param name="change">The change that is closed.</param>
    /// <param name="record">The record as it stands: a tunnel or a gateway.</param>
    /// <param name="at">When it is closed.</param>
    public AsBuilt(Change change, IRecord record, DateTimeOffset at)
    {
        (this.change, this.record, this.at) = (change, record, at);
        form = record is Tunnel tunnel
            ? WrittenTunnel.Form.Write(tunnel, IdNames.Instance)
            : WrittenGateway.Form.Write((Gateway)record, IdNames.Instance);
        carriedBy = new(ReferenceEqualityComparer.Instance);
        foreach (var step in change.Plan.Steps)
        foreach (var i in step.Edits)
            carriedBy[change.Plan.Edits[i]] = step;
    }

    /// <summary>The record, or why it cannot be written.</summary>
    /// <param name="now">The records as they stand.</param>
    /// <param name="edits">The edits of this record.</param>
    public (IRecord? Made, Refused? Refused) Make(ImmutableArray<Edit> edits, Inventory now)
    {
        var written = new HashSet<FieldPath>();
        foreach (var edit in edits)
        {
            var step = carriedBy.GetValueOrDefault(edit);
            if (step is not null && !change.IsDone(step))
                continue;
            var attempt = step is null ? null : change.LastAttempt(step.Key);
            // What an earlier stage of this very change entered there is no news, also where it was set otherwise; nor
            // is that somebody recorded already what was built.
            if (written.Add(edit.At.Path) && Moved(form, edit) && !IsBuilt(form, edit, attempt))
                return (null, NoLongerSo(edit));
            Write(edit, attempt);
        }

        WriteOtherwise(edits);
        if (record is Tunnel)
            foreach (var end in Enum.GetValues<EndName>())
                WriteProgress(end, now);
        return Read();
    }

    /// <summary>Whether a record has something else at the place of an edit than the plan found there.</summary>
    internal static bool Moved(MapNode form, Edit edit) => !Node.Same(Edits.Find(form, edit.At.Path), edit.Before);

    private static bool IsBuilt(MapNode form, Edit edit, Attempt? attempt) =>
        Node.Same(Edits.Find(form, edit.At.Path), Deviations.After(edit, attempt?.Deviation));

    private Refused NoLongerSo(Edit edit) =>
        new(
            PlanCheck.RecordsChanged.Code,
            $"{edit.At.Path.ToString()} of {record.Code} was corrected since {change.Code} was planned.",
            $"Take the correction into the change, so that closing writes what was built over it: vellumkeep change "
                + $"take-in {change.Code}. Or back out."
        );

    private void Write(Edit edit, Attempt? attempt)
    {
        form = Edits.Put(form, edit.At.Path, Deviations.After(edit, attempt?.Deviation));
        if (edit.End is { } end && attempt is not null)
            form = ConfirmedOn.Mark(form, TunnelPaths.Of(end), edit.At.Path, ConfirmationBy(attempt));
    }

    private static Confirmation ConfirmationBy(Attempt attempt) =>
        new(ConfirmedHow.Typed, DateOnly.FromDateTime(attempt.At.UtcDateTime), attempt.By);

    /// <summary>What somebody set otherwise is what they set, also where the plan had nothing to write.</summary>
    private void WriteOtherwise(ImmutableArray<Edit> edits)
    {
        foreach (var attempt in change.Plan.Steps.Where(change.IsDone).Select(s => change.LastAttempt(s.Key)!))
        foreach (var place in attempt.Deviation is { } deviation ? Deviations.Unwritten(deviation, edits) : [])
        {
            if (place.RecordId != record.Id)
                continue;
            if (SetOtherwise.Written(place, attempt.Deviation!.Set) is { Ok: true, Value: var set })
                form = Edits.Put(form, place.Path, WrittenRecorded.Again(Edits.Find(form, place.Path), set, null));
            if (TunnelPaths.EndOf(place.Path) is { } end)
                form = ConfirmedOn.Mark(form, TunnelPaths.Of(end), place.Path, ConfirmationBy(attempt));
        }
    }

    /// <summary>Work on an end was entered, is active and was saved when its steps say so.</summary>
    private void WriteProgress(EndName end, Inventory now)
    {
        var paths = TunnelPaths.Of(end);
        var worked = change.Plan.Steps.Any(s =>
            s.Where.ToString() == end.ToString()
            && (s.TunnelId is null || s.TunnelId == record.Id)
            && s.Part is Part.Build or Part.Switch
            && change.IsDone(s)
        );
        if (!worked)
            return;
        if (form.Text("state") == "retired")
        {
            form = Edits.Put(form, paths.Progress, null);
            return;
        }

        var gateway = now.Find<Gateway>((Edits.Find(form, paths.Gateway) as TextNode)?.Text)?.Code;
        var saved = change.Plan.Steps.Any(s =>
            s.Kind == StepKind.SaveAfter && s.Gateway == gateway && change.IsDone(s)
        );
        var day = Scalars.Write(DateOnly.FromDateTime(at.UtcDateTime));
        form = Edits.Put(form, paths.Progress.Key("entered"), day);
        form = Edits.Put(form, paths.Progress.Key("active"), day);
        form = Edits.Put(form, paths.Progress.Key("saved"), saved ? new TextNode(day) : null);
    }

    private (IRecord?, Refused?) Read()
    {
        var reading = new Reading(IdNames.Instance);
        var fields = new Fields(form, "", reading);
        IRecord? made =
            record is Tunnel ? WrittenTunnel.Form.Read(record.Id, fields) : WrittenGateway.Form.Read(record.Id, fields);
        return made is not null
            ? (made, null)
            : (
                null,
                new(
                    null,
                    $"{record.Code} would not be a valid record as built: {reading.Problems[0].Field} "
                        + $"{reading.Problems[0].Wrong:w}.",
                    $"{reading.Problems[0].Right:w}."
                )
            );
    }
}

/// <summary>That somebody who entered a value looked at it.</summary>
internal static class ConfirmedOn
{
    /// <summary>
    /// Marks what an edit wrote into as confirmed by who did the step: the step has them look at the whole list.
    /// </summary>
    public static MapNode Mark(MapNode form, EndPaths end, FieldPath path, Confirmation confirmation)
    {
        if (path.IsWithin(end.Subnets))
            return Edits.Put(form, end.SubnetsConfirmed, confirmation.ToString());
        // A setting is confirmed on its own, and all of them when the end had none before.
        if (path.Equals(end.Settings))
            return Edits.Find(form, path) is MapNode all
                ? all.Entries.Aggregate(form, (f, e) => Mark(f, end, path.Key(e.Key), confirmation))
                : form;
        if (path.IsWithin(end.Settings))
            return Mark(form, path.First(end.Settings.Steps.Length + 1), confirmation);
        FieldPath[] recorded =
        [
            end.PeerAddress,
            end.IdentitySent,
            end.IdentityExpected,
            end.TunnelAddress,
            end.Rules,
            end.NoNat,
            end.Routes,
        ];
        return recorded.FirstOrDefault(path.IsWithin) is { } at ? Mark(form, at, confirmation) : form;
    }

    private static MapNode Mark(MapNode form, FieldPath at, Confirmation confirmation)
    {
        if (Edits.Find(form, at) is not { } written)
            return form;
        var value = WrittenRecorded.Bare(written);
        return Edits.Put(form, at, WrittenRecorded.Again(written, value, confirmation.ToString()));
    }
}
