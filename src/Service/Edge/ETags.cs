namespace Vellumkeep.Service.Edge;

/// <summary>Versions as entity tags (RFC 9110 section 8.8.3) and the conditions on them.</summary>
public static class ETags
{
    public static string Of(int version) => $"\"{version}\"";

    /// <summary>
    /// The version the asker saw, where they say so: then nothing is done to another (RFC 9110 section 13.1.1).
    /// </summary>
    public static int? Given(HttpContext http) =>
        http.Request.Headers.IfMatch.ToString().Trim('"', ' ') is "" or "*" ? null : Required(http);

    /// <summary>The version the asker saw; without it the call is refused with 428 (RFC 6585 section 3).</summary>
    public static int Required(HttpContext http)
    {
        var given = http.Request.Headers.IfMatch.ToString().Trim('"', ' ');
        return given.Length == 0
                ? throw new ProblemException(
                    428,
                    "condition-missing",
                    "The version is missing",
                    "Send the ETag that you got when you read the record in If-Match."
                )
            : int.TryParse(given, NumberStyles.None, CultureInfo.InvariantCulture, out var version) ? version
            : throw new ProblemException(
                412,
                "changed",
                "Changed since you opened it",
                $"If-Match {Typed.Short(given)} is not a version of this record. Read it again."
            );
    }
}
