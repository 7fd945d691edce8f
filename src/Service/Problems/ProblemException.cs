namespace Vellumkeep.Service.Problems;

/// <summary>Something that can be expected to go wrong, on its way to a problem detail (RFC 9457).</summary>
public sealed class ProblemException(int status, string type, string title, string detail) : Exception(detail)
{
    public int Status { get; } = status;

    /// <summary>Stable: <c>urn:vellumkeep:problem:{type}</c>.</summary>
    public string Type { get; } = type;

    public string Title { get; } = title;

    public Dictionary<string, object?> More { get; } = [];

    public ProblemException With(string key, object? value)
    {
        More[key] = value;
        return this;
    }

    public static ProblemException Field(string field, string wrong, string right) =>
        new ProblemException(422, "wrong-value", "A value is wrong", $"{Say.Capital(field)}: {wrong}. Right would be: {right}.").With("field", field).With("right", right);

    public static ProblemException NotFound(string kind, string code, IEnumerable<string>? near = null)
    {
        var others = near?.ToArray() ?? [];
        return new(404, "not-found", "Not found", $"There is no {kind} '{Typed.Short(code)}'.{(others.Length > 0 ? $" Beginning so: {string.Join(", ", others)}." : "")}");
    }

    public static ProblemException NotAllowed(string detail) => new(403, "not-allowed", "Not allowed", detail);
}

/// <summary>Writes problem details: never a stack trace, never more than the asker may know.</summary>
public sealed class ProblemHandler(ILogger<ProblemHandler> log) : Microsoft.AspNetCore.Diagnostics.IExceptionHandler
{
    public async ValueTask<bool> TryHandleAsync(HttpContext http, Exception exception, CancellationToken ct)
    {
        var problem = exception switch
        {
            ProblemException p => p,
            BadHttpRequestException b => new(b.StatusCode, "unreadable", "The request cannot be read", b.StatusCode == 413 ? "The file is too large: at most 64 MB." : "The body is not what this call takes; see the description of the interface."),
            OperationCanceledException when http.RequestAborted.IsCancellationRequested => new(499, "gone", "The asker is gone", "The call was cancelled."),
            _ => null,
        };
        if (problem is null)
        {
            log.LogError(exception, "A call failed: {Method} {Path}", http.Request.Method, http.Request.Path);
            problem = new(500, "failed", "The service failed", $"Something went wrong here, not with what you sent. Nothing was changed. The log has it under {http.TraceIdentifier}.");
        }

        http.Response.StatusCode = problem.Status;
        await http.Response.WriteAsJsonAsync(Details(problem), options: null, contentType: "application/problem+json", ct);
        return true;
    }

    internal static Microsoft.AspNetCore.Mvc.ProblemDetails Details(ProblemException problem)
    {
        var details = new Microsoft.AspNetCore.Mvc.ProblemDetails
        {
            Status = problem.Status,
            Type = $"urn:vellumkeep:problem:{problem.Type}",
            Title = problem.Title,
            Detail = problem.Message,
        };
        foreach (var (key, value) in problem.More)
            details.Extensions[key] = value;
        return details;
    }
}
