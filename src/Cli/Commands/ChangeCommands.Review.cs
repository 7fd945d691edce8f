using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>Review, remarks, and work that cannot wait for a review.</summary>
internal sealed partial class ChangeCommands
{
    private Command Review() =>
        frame.Verb(
            "review",
            "approve it, or return it with a remark",
            async (p, c, ct) =>
            {
                if (p.GetValue(approve) == p.GetValue(back))
                    throw new Refusal(2, "Give --approve or --return.");
                var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                var after = await c.ActAsync(
                    change.Code,
                    p.GetValue(approve) ? "approve" : "return",
                    new(p.GetValue(remark), p.GetValue(stepNumber)),
                    change.Version,
                    ct
                );
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            approve,
            back,
            remark,
            stepNumber
        );

    private Command Urgent() =>
        frame.Verb(
            "urgent",
            "ask a second person to confirm that urgent work begins before its review",
            async (p, c, ct) =>
            {
                var after = await c.UrgentAsync(
                    (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                    new(p.GetValue(reviewer)!, p.GetValue(because)!),
                    ct
                );
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            reviewer,
            because
        );

    private Command ConfirmUrgent() =>
        frame.Verb(
            "confirm-urgent",
            "confirm that urgent work begins; it is reviewed afterwards",
            async (p, c, ct) =>
            {
                var change = await c.ChangeAsync(p.GetValue(name)!, ct);
                var after = await c.ActAsync(
                    change.Code,
                    "confirm-urgent",
                    new(p.GetValue(remark), null),
                    change.Version,
                    ct
                );
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            remark
        );

    private Command Remark() =>
        frame.Verb(
            "remark",
            "remark on it, on a step or on the whole",
            async (p, c, ct) =>
            {
                var after = await c.ActAsync(
                    (await c.ChangeAsync(p.GetValue(name)!, ct)).Code,
                    "remark",
                    new(p.GetValue(remark), p.GetValue(stepNumber)) { Value = p.GetValue(remarkOn) },
                    null,
                    ct
                );
                frame.Shows(p, after, () => Told(after));
                return 0;
            },
            name,
            remark,
            stepNumber,
            remarkOn
        );
}
