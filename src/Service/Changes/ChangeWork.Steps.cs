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
        await keys.RefuseAsync(
            asker,
            code,
            [
                ("remark", given.Remark),
                ("set", given.Set),
                ("reason", given.Reason),
                ("proof", given.Proof),
                ("withoutProof", given.WithoutProof),
                ("file.name", given.File?.Name),
            ],
            file is null ? null : ("file", file.Bytes),
            ct
        );
        await DoAsync(
            ChangeAct.Step,
            new(asker, now, code),
            (c, ground) =>
                Task.FromResult(
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
                ),
            ct,
            beside: file is null ? null : (context, change) => ProofFiles.KeepAsync(context, change.Id, file, ct)
        );
    }

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
