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
                    string? customer,
                    string? author,
                    string? windowFrom,
                    string? windowUntil,
                    string? q,
                    string? cursor,
                    int? most,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    var scope = http.Asker().Scope;
                    await using var context = databases.Open();
                    var reader = new RecordReader(context);
                    var about = tunnel is not null
                        ? (await Find.TunnelAsync(reader, scope, tunnel, ct)).Record.Id
                        : await Find.OwnerAsync(reader, scope, customer, ct);
                    var names = new StoredNames(context, Scope.Everything);
                    var page = Paging.Most(http, most);
                    var found = await new ChangeList(context).FilteredAsync(
                        scope,
                        new()
                        {
                            States = StatesOf(state),
                            AboutId = about,
                            Words = (q ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries),
                            Author = author,
                            WindowFrom = DayOf("windowFrom", windowFrom),
                            WindowUntil = DayOf("windowUntil", windowUntil)?.AddDays(1),
                        },
                        page + 1,
                        CursorOf(cursor),
                        ct
                    );
                    return new Page<ChangeSummary>(
                        [.. found.Take(page).Select(c => Summary(c.Record, names))],
                        found.Count > page ? $"{found[page - 1].CommitNumber}.{found[page - 1].Record.Id}" : null
                    );
                }
            )
            .For(Role.Reader)
            .WithName("listChanges")
            .WithSummary(
                "Changes, newest first; state 'open' is all that are not closed. windowFrom and windowUntil: days, UTC"
            )
            .Refuses(404, 422);

    private static DateTimeOffset? DayOf(string field, string? day) =>
        Days.Day(field, day) is { } on ? new(on.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero) : null;

    private static ChangeState[]? StatesOf(string? state) =>
        state switch
        {
            null => null,
            "open" => [.. Change.OpenStates],
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
