namespace Vellumkeep.Service.Edge;

/// <summary>Something that can be expected to go wrong, on its way to a problem detail (RFC 9457).</summary>
public sealed class ProblemException(int status, string type, string title, string detail) : Exception(detail)
{
    public int Status { get; } = status;

    /// <summary>Stable: <c>urn:vellumkeep:problem:{type}</c>.</summary>
    public string Type { get; } = type;

    public string Title { get; } = title;

    /// <summary>When it is worth while to ask again (RFC 9110, section 10.2.3).</summary>
    public TimeSpan? RetryAfter { get; private set; }

    public Dictionary<string, object?> More { get; } = [];

    public ProblemException With(string key, object? value)
    {
        More[key] = value;
        return this;
    }

    public ProblemException After(TimeSpan wait)
    {
        RetryAfter = wait;
        return this;
    }

    public static ProblemException Field(string field, string wrong, string right) =>
        new ProblemException(
            422,
            "wrong-value",
            "A value is wrong",
            $"{Say.Capital(field)}: {wrong}. Expected: {right}."
        )
            .With("field", field)
            .With("right", right);

    public static ProblemException NotFound(string kind, string code, IEnumerable<string>? near = null)
    {
        var others = near?.ToArray() ?? [];
        return new(
            404,
            "not-found",
            "Not found",
            others.Length > 0
                ? $"'{Typed.Short(code)}' matches {Say.Count(others.Length, kind)}: {string.Join(", ", others)}."
                : $"There is no {kind} '{Typed.Short(code)}'."
        );
    }

    public static ProblemException NotAllowed(string detail) => new(403, "not-allowed", "Not allowed", detail);

    /// <summary>The problem as it is answered (RFC 9457).</summary>
    public Microsoft.AspNetCore.Mvc.ProblemDetails Details()
    {
        var details = new Microsoft.AspNetCore.Mvc.ProblemDetails
        {
            Status = Status,
            Type = $"urn:vellumkeep:problem:{Type}",
            Title = Title,
            Detail = Message,
        };
        foreach (var (key, value) in More)
            details.Extensions[key] = value;
        return details;
    }
}
