using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.WebUtilities;
using Microsoft.Net.Http.Headers;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// A call holds a place among those that are worked on only while it is worked on: its body has come in whole before,
/// within a time that is told, and its answer is sent after. Nobody who sends or reads slowly keeps another one
/// waiting.
/// </summary>
public static class Admission
{
    /// <summary>How long a small body may take, and how long the 4 KiB of a sign-in.</summary>
    private static readonly TimeSpan ForBody = TimeSpan.FromSeconds(10),
        ForSignIn = TimeSpan.FromSeconds(2);

    /// <summary>The slowest line on which a large body is waited for, in octets per second.</summary>
    private const long Slowest = 32 * 1024;

    /// <summary>
    /// Octets of an answer that are kept in memory until they are sent; what is more is kept in a file.
    /// </summary>
    private const int InMemory = 1024 * 1024;

    /// <summary>UTF-8, and what is a part of it.</summary>
    private static readonly HashSet<string> AsUtf8 = new(StringComparer.OrdinalIgnoreCase) { "utf-8", "us-ascii" };

    /// <summary>
    /// A share of the service for each caller, the whole body before anything else, the answer after it.
    /// </summary>
    public static void UseAdmission(this WebApplication app) =>
        app.Use(
            async (http, next) =>
            {
                var metadata = http.GetEndpoint()?.Metadata;
                if (metadata is null || metadata.GetMetadata<Alive>() is not null)
                {
                    await next(http);
                    return;
                }

                var shares = http.RequestServices.GetRequiredService<CallerLimits>();
                using var call = await shares.CallAsync(
                    http.Caller(),
                    http.AskerOrNobody() is not null,
                    http.RequestAborted
                );
                using var body = await WholeBodyAsync(http, shares, metadata);
                if (metadata.GetMetadata<Streams>() is not null || TellsProgress(http, metadata))
                    await next(http);
                else
                    await AnswerAfterAsync(http, next);
            }
        );

    private static bool TellsProgress(HttpContext http, EndpointMetadataCollection metadata) =>
        metadata.GetMetadata<TellsProgress>() is not null && http.Request.Query.ContainsKey("progress");

    /// <summary>Takes a body in; what is given back is held as long as the body is in memory.</summary>
    private static async Task<IDisposable?> WholeBodyAsync(
        HttpContext http,
        CallerLimits shares,
        EndpointMetadataCollection metadata
    )
    {
        if (http.Features.Get<IHttpRequestBodyDetectionFeature>() is not { CanHaveBody: true })
            return null;
        TakeAsUtf8(http.Request);
        var most = metadata.GetMetadata<TakesUpTo>()?.Octets ?? Bounds.Body;
        var expected = Math.Min(http.Request.ContentLength ?? most, most);
        var held = await shares.BodyAsync(http.Caller(), expected, http.RequestAborted);
        try
        {
            var within = most <= Bounds.SignIn ? ForSignIn : ForBody + TimeSpan.FromSeconds(expected / Slowest);
            http.Request.Body = await ReadAsync(http, expected, within);
            return held;
        }
        catch
        {
            held.Dispose();
            throw;
        }
    }

    /// <summary>
    /// Every text is UTF-8 here, whether it says so or not (RFC 8259, section 8.1); what says to be another one is not
    /// taken.
    /// </summary>
    private static void TakeAsUtf8(HttpRequest request)
    {
        if (request.ContentType is not { Length: > 0 } text)
            return;
        var wrong = new ProblemException(
            415,
            "unreadable",
            "Wrong content type",
            "Content-Type: the charset cannot be read. Expected: UTF-8, or no charset at all."
        ).With("field", "Content-Type");
        if (!MediaTypeHeaderValue.TryParse(text, out var type))
            throw wrong;
        var charsets = type
            .Parameters.Where(p => p.Name.Equals("charset", StringComparison.OrdinalIgnoreCase))
            .ToArray();
        if (charsets.Length == 0)
            return;
        var charset = HeaderUtilities.RemoveQuotes(charsets[0].Value).Trim().ToString();
        if (charsets.Length > 1 || !AsUtf8.Contains(charset))
            throw wrong;
        type.Charset = default;
        request.ContentType = type.ToString();
    }

    private static async Task<MemoryStream> ReadAsync(HttpContext http, long expected, TimeSpan within)
    {
        using var deadline = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted);
        deadline.CancelAfter(within);
        // A body that was only announced takes no room yet.
        var body = new MemoryStream((int)Math.Min(expected, 16 * 1024));
        try
        {
            await http.Request.Body.CopyToAsync(body, deadline.Token);
        }
        catch (OperationCanceledException) when (!http.RequestAborted.IsCancellationRequested)
        {
            throw new ProblemException(
                408,
                "unreadable",
                "Too slow",
                $"The body did not arrive within {within.TotalSeconds:0} s. Nothing was changed. Send it again."
            );
        }

        body.Position = 0;
        return body;
    }

    /// <summary>Sends an answer when the call is worked through, and no place is held any more.</summary>
    private static async Task AnswerAfterAsync(HttpContext http, RequestDelegate next)
    {
        var line = http.Features.GetRequiredFeature<IHttpResponseBodyFeature>();
        await using var answer = new FileBufferingWriteStream(InMemory);
        http.Features.Set<IHttpResponseBodyFeature>(new StreamResponseBodyFeature(answer, line));
        try
        {
            await next(http);
        }
        finally
        {
            http.Features.Set(line);
        }

        await answer.DrainBufferAsync(line.Stream, http.RequestAborted);
    }
}
