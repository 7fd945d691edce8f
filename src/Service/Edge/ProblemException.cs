namespace Vellumkeep.Service.Edge;

/// <summary>Something that can be expected to go wrong, on its way to a problem detail (RFC 9457).</summary>
/// <param name="detail">What is wrong; whatever in it may be a key is not repeated.</param>
public sealed class ProblemException(int status, string type, string title, string detail)
    : Exception(Typed.WithoutKeys(detail))
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

    /// <summary>A value that cannot be taken.</summary>
    /// <param name="field">The field, as the contract names it.</param>
    /// <param name="wrong">What is wrong with it.</param>
    /// <param name="right">What would be right.</param>
    /// <param name="label">What a person calls the field, where its name says less.</param>
    public static ProblemException Field(string field, string wrong, string right, string? label = null) =>
        new ProblemException(
            422,
            "wrong-value",
            "A value is wrong",
            $"{label ?? Settings.Find(field)?.Label ?? Say.Label(field)}: {wrong}. Expected: {right}."
        )
            .With("field", field)
            .With("right", right);

    /// <summary>Nothing has that code; what there is near it is named.</summary>
    public static ProblemException NotFound(string kind, string code, NearCodes? near = null) =>
        new(404, "not-found", "Not found", (near ?? new("", 0, [])).Refusal(kind, code));

    /// <summary>More calls at once than there is a line for.</summary>
    public static ProblemException Busy() =>
        new ProblemException(
            503,
            "busy",
            "Busy",
            "Too many calls at once. Try again in a few seconds. Nothing was changed."
        ).After(TimeSpan.FromSeconds(5));

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
