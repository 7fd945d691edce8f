using System.Text.Json;

namespace Vellumkeep.Service.Hosting;

/// <summary>Writes problem details: never a stack trace, never more than the asker may know.</summary>
public sealed partial class ProblemHandler(AuditLog audit, ILogger<ProblemHandler> log)
    : Microsoft.AspNetCore.Diagnostics.IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext http, Exception exception, CancellationToken ct)
    {
        var problem = Of(http, exception);
        if (problem is null)
        {
            log.LogError(exception, "A call failed: {Method} {Path}", http.Request.Method, PatternOf(http));
            problem = new(
                500,
                "failed",
                "The service failed",
                $"The service failed; your request is not the cause. Read the record again before you repeat the "
                    + $"call: it can have been done. Log entry: {http.TraceIdentifier}."
            );
        }
        else if (problem.Status == 503)
        {
            log.LogWarning(
                "A call failed: {Method} {Path}: {Detail}",
                http.Request.Method,
                PatternOf(http),
                problem.Message
            );
        }

        if (problem.Status == 403)
            audit.Later(
                http.AskerOrNobody()?.Name ?? "unknown",
                AuditLog.Call,
                $"{http.Request.Method} {PatternOf(http)}",
                AuditLog.Refused,
                http.Address()
            );
        await WriteAsync(http, problem, ct);
        return true;
    }

    /// <summary>
    /// The call as the description of the interface names it: what stood in its place may be anything.
    /// </summary>
    private static string PatternOf(HttpContext http) =>
        EndpointOf(http) is RouteEndpoint endpoint ? endpoint.RoutePattern.RawText ?? "" : "an address of the console";

    private static ProblemException? Of(HttpContext http, Exception exception) =>
        exception switch
        {
            ProblemException p => p,
            BadHttpRequestException b => Unreadable(http, b),
            OperationCanceledException when http.RequestAborted.IsCancellationRequested => new(
                499,
                "gone",
                "The asker is gone",
                "The call was cancelled."
            ),
            _ when TransientFaults.IsTwice(exception) => new(
                409,
                "twice",
                "Written twice",
                "Somebody changed the same record at the same moment. Nothing was changed. Send it again."
            ),
            _ when TransientFaults.Of(exception) is { } trouble => new ProblemException(
                503,
                "away",
                "Not available",
                $"The service cannot do this now: {trouble}. Try again in a few seconds."
            ).After(TimeSpan.FromSeconds(5)),
            _ => null,
        };

    private static ProblemException Unreadable(HttpContext http, BadHttpRequestException exception) =>
        exception.StatusCode switch
        {
            413 => AccessControl.TooLarge(EndpointOf(http)?.Metadata.GetMetadata<TakesUpTo>()?.Octets ?? Bounds.Body),
            415 => new(
                415,
                "unreadable",
                "Wrong content type",
                "This call takes another content type: application/json, unless the description of the interface says otherwise."
            ),
            408 => new(408, "unreadable", "Too slow", "The request body arrived too slowly. Send it again."),
            _ when exception.InnerException is NotInContractException not => ProblemException.Field(
                not.Field,
                not.Given is { } given ? $"'{Typed.Short(given)}' {not.Wrong}" : not.Wrong,
                not.Right
            ),
            _ when exception.InnerException is JsonException json => Unknown(http, json) ?? Unreadable(json),
            _ when NotBound().Match(exception.Message) is { Success: true } bound => new ProblemException(
                400,
                "unreadable",
                "The request cannot be read",
                $"{Say.Capital(bound.Groups[2].Value)}: "
                    + (
                        bound.Groups[1].Value == "Required"
                            ? "it is missing."
                            : "it is not of the kind that this call takes."
                    )
                    + " Expected: what the description of the interface says."
            ).With("field", bound.Groups[2].Value),
            _ => new(
                400,
                "unreadable",
                "The request cannot be read",
                "A value is missing or is not of the kind that this call takes; see the description of the interface."
            ),
        };

    /// <summary>The call's endpoint, which the framework has removed by the time an exception is handled.</summary>
    private static Endpoint? EndpointOf(HttpContext http) =>
        http.Features.Get<Microsoft.AspNetCore.Diagnostics.IExceptionHandlerFeature>()?.Endpoint ?? http.GetEndpoint();

    /// <summary>
    /// The framework's words for a parameter that is missing or does not fit; its name is the code's own.
    /// </summary>
    [System.Text.RegularExpressions.GeneratedRegex("^(Required|Failed to bind) parameter \"[^ \"]+ ([A-Za-z]+)\"")]
    private static partial System.Text.RegularExpressions.Regex NotBound();

    [System.Text.RegularExpressions.GeneratedRegex("^The JSON property '(.*)' could not be mapped to any .NET member")]
    private static partial System.Text.RegularExpressions.Regex NotMapped();

    /// <summary>
    /// A field that the body of a call does not have, with those that it has; null for anything else.
    /// </summary>
    private static ProblemException? Unknown(HttpContext http, JsonException json)
    {
        if (NotMapped().Match(json.Message) is not { Success: true } match)
            return null;
        var name = match.Groups[1].Value;
        var field = Characters.Unfit(name) is null ? Typed.Short(name) : "field";
        var body = EndpointOf(http)
            ?.Metadata.GetMetadata<Microsoft.AspNetCore.Http.Metadata.IAcceptsMetadata>()
            ?.RequestType;
        var nested = json.Path is { } path && path.Count(c => c == '.') > 1;
        var known =
            body is null || nested
                ? "what the description of the interface says"
                : string.Join(
                    ", ",
                    body.GetProperties().Select(p => System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(p.Name))
                );
        return new ProblemException(
            400,
            "unreadable",
            "The request cannot be read",
            $"{Say.Capital(field)}: this call takes no such field. Expected: {known}."
        ).With("field", field);
    }

    /// <summary>What is wrong in a body and where, without a word of what it held.</summary>
    private static ProblemException Unreadable(JsonException json)
    {
        var field = json.Path is null or "$" ? "body" : json.Path.Replace("$.", "", StringComparison.Ordinal);
        field = Characters.Unfit(field) is null ? Typed.Short(field) : "body";
        return new ProblemException(
            400,
            "unreadable",
            "The request cannot be read",
            $"{Say.Capital(field)}: this is not JSON of the form that this call takes. Expected: what the "
                + $"description of the interface says."
        ).With("field", field);
    }

    /// <summary>
    /// Writes a problem as the answer. What was sent and not read is not waited for: the connection ends with the
    /// answer.
    /// </summary>
    internal static async Task WriteAsync(HttpContext http, ProblemException problem, CancellationToken ct)
    {
        if (http.Response.HasStarted)
            return;
        http.Response.StatusCode = problem.Status;
        http.Response.Headers.CacheControl = "no-store";
        if (problem.RetryAfter is { } wait)
            http.Response.Headers.RetryAfter = Math.Max(1, (long)Math.Ceiling(wait.TotalSeconds))
                .ToString(CultureInfo.InvariantCulture);
        if (
            problem.Status is 401 or 403 or 408 or 413 or 429 or 503
            && (http.Request.ContentLength ?? 1) > 0
            && !HttpMethods.IsGet(http.Request.Method)
            && http.Request.Protocol == "HTTP/1.1"
        )
            http.Response.Headers.Connection = "close";
        await http.Response.WriteAsJsonAsync(
            problem.Details(),
            options: null,
            contentType: "application/problem+json",
            ct
        );
    }
}
