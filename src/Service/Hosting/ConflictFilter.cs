namespace Vellumkeep.Service.Hosting;

/// <summary>Turns a conflict of versions into 412 with what changed and by whom.</summary>
public sealed class ConflictFilter(Databases databases) : IEndpointFilter
{
    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        try
        {
            return await next(context);
        }
        catch (ConflictException conflict)
        {
            var ct = context.HttpContext.RequestAborted;
            await using var db = databases.Open();
            var reader = new RecordReader(db);
            var since = (await RecordHistory.OfAsync(db, conflict.RecordId, context.HttpContext.Asker().Scope, ct))
                .Where(h => h.Version > conflict.Expected)
                .ToArray();
            var record = await reader.ByIdAsync<IRecord>(context.HttpContext.Asker().Scope, conflict.RecordId, ct);
            var code = record?.Record.Code ?? "The record";
            if (since.Length == 0)
                throw new ProblemException(
                    412,
                    "changed",
                    "No such version",
                    $"{code} is at version {conflict.Current}. It never had a version {conflict.Expected}. Read it "
                        + $"again, then send your change. Nothing was changed."
                )
                    .With("record", code)
                    .With("version", conflict.Current);
            var paths = since.SelectMany(s => s.Differences).Select(d => d.Path).Distinct().ToArray();
            throw new ProblemException(
                412,
                "changed",
                "Changed since you opened it",
                $"{code} was changed by {Say.And(since.Select(s => s.Who).Distinct())} after you opened it: "
                    + $"{(paths.Length == 0 ? "its state" : Say.And(paths.Take(5)))}. Your entries are kept. "
                    + $"Nothing was changed. Check the differences, then save again."
            )
                .With("record", code)
                .With("version", conflict.Current)
                .With(
                    "changed",
                    since.SelectMany(s =>
                        s.Differences.Select(d => new
                        {
                            d.Path,
                            d.Before,
                            d.After,
                            s.Who,
                            s.At,
                        })
                    )
                );
        }
    }
}
