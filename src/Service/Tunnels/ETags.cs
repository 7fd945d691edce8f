namespace Vellumkeep.Service.Tunnels;

/// <summary>Versions as entity tags (RFC 9110 section 8.8.3) and the conditions on them.</summary>
public static class ETags
{
    public static string Of(int version) => $"\"{version}\"";

    /// <summary>The version the asker saw; without it the call is refused with 428 (RFC 6585 section 3).</summary>
    public static int Required(HttpContext http)
    {
        var given = http.Request.Headers.IfMatch.ToString().Trim('"', ' ');
        return given.Length == 0
                ? throw new ProblemException(
                    428,
                    "condition-missing",
                    "The version is missing",
                    "Say with If-Match which version you saw: the ETag of the record when it was read."
                )
            : int.TryParse(given, NumberStyles.None, CultureInfo.InvariantCulture, out var version) ? version
            : throw new ProblemException(
                412,
                "moved",
                "Somebody was faster",
                $"If-Match {Typed.Short(given)} is not a version of this record. Read it again."
            );
    }
}

/// <summary>Turns a conflict of versions into 412 with what moved and by whom.</summary>
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
            var since = (
                await TunnelEndpoints.HistoryAsync(db, conflict.RecordId, context.HttpContext.Asker().Scope, ct)
            )
                .Where(h => h.Version > conflict.Expected)
                .ToArray();
            var record = await reader.ByIdAsync<IRecord>(context.HttpContext.Asker().Scope, conflict.RecordId, ct);
            var code = record?.Record.Code ?? "The record";
            var paths = since.SelectMany(s => s.Differences).Select(d => d.Path).Distinct().ToArray();
            throw new ProblemException(
                412,
                "moved",
                "Somebody was faster",
                $"{code} was changed by {Say.And(since.Select(s => s.Who).Distinct())} since you read it: {(paths.Length == 0 ? "its state" : Say.And(paths.Take(5)))}. Look at what moved and send yours again; nothing of yours was lost or written."
            )
                .With("record", code)
                .With("version", conflict.Current)
                .With(
                    "moved",
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
