using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>Urgent work.</summary>
public sealed partial class ChangeWork
{
    /// <summary>
    /// Asks a second person to let urgent work begin. They have to be somebody who may see and approve this change, and
    /// it begins when they say so themselves.
    /// </summary>
    public Task AskUrgentAsync(Asker asker, DateTimeOffset now, string code, UrgentGiven given, CancellationToken ct)
    {
        var reviewer = SignIns.Fold(given.Reviewer);
        return DoAsync(
            ChangeAct.Urgent,
            new(asker, now, code),
            async (c, ground) =>
            {
                var asked = ChangeLife.AskUrgently(c, asker.Name, now, reviewer, given.Reason ?? "");
                if (asked.Refused is null && !await MayApproveAsync(ground.Reader, c, reviewer, ct))
                    throw ProblemException.Field(
                        "reviewer",
                        $"'{Typed.Short(reviewer)}' cannot approve {c.Code}",
                        "the sign-in name of a second person with the role reviewer for everything that it is about"
                    );
                return asked;
            },
            ct,
            said: "ask to begin urgently"
        );
    }

    /// <summary>The person who was asked lets the work begin, for the version that they read.</summary>
    public Task ConfirmUrgentAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        string? remark,
        CancellationToken ct
    ) =>
        On(version)
            .DoAsync(
                ChangeAct.ConfirmUrgent,
                new(asker, now, code),
                (c, ground) =>
                    Task.FromResult(
                        ChangeLife.ConfirmUrgently(
                            c,
                            asker.Name,
                            now,
                            remark,
                            now.AddHours(settings.ReviewWithinHours),
                            ChangeLife.Changed(c, ground.Around),
                            ground.Made
                        )
                    ),
                ct,
                said: "confirm urgent work"
            );

    private static async Task<bool> MayApproveAsync(
        RecordReader reader,
        Change change,
        string name,
        CancellationToken ct
    ) =>
        await reader.ByCodeAsync<Person>(Scope.Everything, RecordKind.Person, name, ct)
            is { Record: { Left: null } person }
        && May(new(person.Code, person.Name, person.Grants), ChangeActs.Of(ChangeAct.Approve), change);

    /// <summary>Reviews urgent work afterwards.</summary>
    public Task ReviewAfterAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) =>
        DoAsync(
            ChangeAct.ReviewAfter,
            new(asker, now, code),
            (c, _) => ChangeLife.ReviewAfter(c, asker.Name, now, remark),
            ct,
            said: "review afterwards"
        );
}
