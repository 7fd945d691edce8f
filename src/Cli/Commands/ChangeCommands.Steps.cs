using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Steps: attempted, taken back, filled in.</summary>
internal sealed partial class ChangeCommands
{
    private Command Step() =>
        frame.Verb(
            "step",
            "record an attempt at a step, or at several that are alike",
            async (p, c, ct) =>
            {
                var outcome = (p.GetValue(done), p.GetValue(skip), p.GetValue(failed)) switch
                {
                    (true, false, false) => "done",
                    (false, true, false) => "skipped",
                    (false, false, true) => "failed",
                    _ => throw new Refusal(2, "Give --done, --skip or --failed."),
                };
                var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                var text = p.GetValue(remark)
                    ?? (outcome == "skipped" && p.GetValue(set) is null ? p.GetValue(reason) : null);
                var given = new AttemptStep(
                    outcome,
                    text,
                    p.GetValue(planned),
                    p.GetValue(set),
                    p.GetValue(reason),
                    ProofOf(p)
                )
                {
                    File = FileOf(p),
                    WithoutProof = p.GetValue(withoutProof),
                };
                var after = change;
                foreach (var number in p.GetValue(steps)!)
                {
                    after = await c.AttemptAsync(change.Code, number, given, ct);
                    if (p.GetValue(steps)!.Length > 1)
                        screen.Line($"Step {number}: {outcome}.");
                }
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            steps,
            done,
            skip,
            failed,
            remark,
            set,
            planned,
            reason,
            proof,
            proofFile,
            withoutProof
        );

    private Command TakeBack() =>
        frame.Verb(
            "take-back",
            "take back what was recorded of steps by mistake, within ten minutes",
            async (p, c, ct) =>
            {
                var after = await c.ChangeAsync(p.GetValue(name)!, ct);
                foreach (var number in p.GetValue(steps)!)
                    after = await c.TakeBackAsync(after.Code, number, ct);
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            steps
        );

    private Command Fill() =>
        frame.Verb(
            "fill",
            "fill in a pending value; what depends on it is computed again",
            async (p, c, ct) =>
            {
                var after = await c.FillAsync(
                    (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                    new(p.GetValue(number), p.GetValue(value)!),
                    ct
                );
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            number,
            value
        );
}
