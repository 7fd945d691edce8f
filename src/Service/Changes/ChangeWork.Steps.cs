using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>Attempts at steps.</summary>
public sealed partial class ChangeWork
{
    /// <summary>Characters of pasted proof: it stands in the record, every version of it.</summary>
    private const int MostProof = 20_000;

    /// <summary>Notes an attempt at a step, with its proof and with what was set otherwise.</summary>
    public async Task AttemptAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int step,
        AttemptStep given,
        CancellationToken ct
    )
    {
        var outcome = Change.Outcomes.Parse(given.Outcome ?? "");
        if (!outcome.Ok)
            throw ProblemException.Field("outcome", outcome.Wrong!, outcome.Right!);
        if (given.Proof is { Length: > MostProof } long_)
            throw ProblemException.Field(
                "proof",
                $"it has {long_.Length:N0} characters",
                $"at most {MostProof:N0}; what is longer goes as a file"
            );
        var file = given.File is null ? null : ProofFiles.Read(given.File);
        // Saved configurations often hold a key in clear.
        if (file is not null)
            guard.Refuse("file", file.Bytes);
        await DoAsync(
            ChangeAct.Step,
            new(asker, now, code),
            (c, ground) =>
            {
                NeedMeant(c, step, given, asker.Scope);
                return Task.FromResult(
                    ChangeLife.Attempt(
                        c,
                        KeyOf(c, step),
                        new(outcome.Value)
                        {
                            Remark = given.Remark,
                            Deviation = DeviationOf(c.Plan.Steps[step - 1], step, given),
                            Proof = given.Proof,
                            File = file?.Line,
                            WithoutProof = given.WithoutProof,
                        },
                        asker.Name,
                        now,
                        ground.Made
                    )
                );
            },
            ct,
            beside: file is null ? null : (context, change) => ProofFiles.KeepAsync(context, change.Id, file, ct)
        );
    }

    /// <summary>Takes the last attempt at a step back.</summary>
    public Task TakeBackAsync(Asker asker, DateTimeOffset now, string code, int step, CancellationToken ct) =>
        DoAsync(
            ChangeAct.Step,
            new(asker, now, code),
            (c, _) => ChangeLife.TakeBack(c, KeyOf(c, step), asker.Name, now),
            ct,
            "take back step"
        );

    /// <summary>
    /// What was ticked elsewhere may come late: it is refused when the plan or the step is no longer as the sender knew
    /// it.
    /// </summary>
    private static void NeedMeant(Change c, int step, AttemptStep given, Scope scope)
    {
        var key = KeyOf(c, step);
        if (given.Key is { } meant && meant != key)
            throw ChangeProblems.Refuse(
                new(
                    null,
                    $"The plan of {c.Code} was made again, and step {step} is another one now.",
                    $"Open the run sheet again and record the step there."
                ),
                scope
            );
        var attempts = c.Attempts.Where(t => t.StepKey == key && t.Counts).ToArray();
        if (given.Known is { } known && known < attempts.Length && attempts[^1] is var last)
            throw ChangeProblems.Refuse(
                new(
                    null,
                    $"Step {step} of {c.Code} was recorded as {Change.Outcomes.Of(last.Outcome):w} by {last.By:w} "
                        + $"at {Clock(last.At):w}, after you opened it.",
                    $"Look at what is recorded. Record another attempt only if you made one."
                ),
                scope
            );
    }

    private static string Clock(DateTimeOffset at) =>
        at.UtcDateTime.ToString("HH:mm 'UTC'", CultureInfo.InvariantCulture);

    private static Deviation? DeviationOf(Step step, int number, AttemptStep given) =>
        given.Set is null
            ? null
            : new(given.Planned ?? OnlyPlanned(step, number), Canonical(given.Set), given.Reason ?? "");

    /// <summary>
    /// A deviation names what was set; what was planned may be left out where the step enters one prefix only.
    /// </summary>
    private static string OnlyPlanned(Step step, int number)
    {
        var values = step.Enter.Select(v => v.Text).Distinct().ToArray();
        var prefixes = values.Where(v => Prefix.Parse(v).Ok).ToArray();
        return (prefixes, values) switch
        {
            ([var only], _) => only,
            (_, [var sole]) => sole,
            _ => throw ProblemException.Field(
                "planned",
                $"step {number} enters several values",
                $"which of them was set to another value: {Say.And(values)}"
            ),
        };
    }

    private static string Canonical(string value) =>
        Prefix.Parse(value) is { Ok: true } prefix ? prefix.Value.ToString() : value.Trim();
}
