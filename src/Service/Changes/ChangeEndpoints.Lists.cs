using Vellumkeep.Core.Changes.Lifecycle;
using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Changes;

/// <summary>Changes in a list.</summary>
public static partial class ChangeEndpoints
{
    private static void ListChanges(RouteGroupBuilder api) =>
        api.MapGet(
                "/changes",
                async (
                    string? state,
                    string? tunnel,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var id = tunnel is null
                        ? null
                        : (await Find.TunnelAsync(new(context), scope, tunnel, ct)).Record.Id;
                    var names = new StoredNames(context, Scope.Everything);
                    var page = Paging.Most(http, most);
                    var found = await new ChangeList(context).ChangesAsync(
                        scope,
                        StatesOf(state),
                        id,
                        page + 1,
                        ct,
                        CursorOf(cursor)
                    );
                    return new Page<ChangeSummary>(
                        [.. found.Take(page).Select(c => Summary(c.Record, names))],
                        found.Count > page ? $"{found[page - 1].CommitNumber}.{found[page - 1].Record.Id}" : null
                    );
                }
            )
            .For(Role.Reader)
            .WithName("listChanges")
            .WithSummary("Changes, newest first; state 'open' is all that are not closed")
            .ProducesProblem(422);

    private static ChangeState[]? StatesOf(string? state) =>
        state switch
        {
            null => null,
            "open" => [ChangeState.Draft, ChangeState.InReview, ChangeState.Approved, ChangeState.UnderWay],
            _ =>
            [
                Change.States.Parse(state) is { Ok: true } s
                    ? s.Value
                    : throw ProblemException.Field(
                        "state",
                        $"'{Typed.Short(state)}' is not a state of a change",
                        $"open, {string.Join(", ", Change.States.All)}"
                    ),
            ],
        };

    /// <summary>A cursor as it was given with the page before.</summary>
    private static (long CommitNumber, string Id)? CursorOf(string? cursor)
    {
        if (cursor is null)
            return null;
        var cut = cursor.IndexOf('.');
        return cut > 0 && long.TryParse(cursor[..cut], NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            ? (number, cursor[(cut + 1)..])
            : throw ProblemException.Field(
                "cursor",
                $"'{Typed.Short(cursor)}' is not a cursor",
                "the cursor of the page before, as it was given"
            );
    }
}
