using Microsoft.Extensions.FileProviders;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// What every answer goes through: its headers, the gate, and what is told where there is no endpoint.
/// </summary>
public static class Pipeline
{
    private const string Policy =
        "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; object-src 'none'; base-uri "
        + "'none'; form-action 'self'; frame-ancestors 'none'";

    public static void UsePipeline(this WebApplication app)
    {
        app.UseForwardedHeaders();
        app.UseExceptionHandler();
        app.UseStatusCodePages(context => StatusAsync(context.HttpContext));
        app.UseResponseCompression();
        app.Use(
            async (http, next) =>
            {
                http.Response.Headers.ContentSecurityPolicy = Policy;
                http.Response.Headers.XContentTypeOptions = "nosniff";
                http.Response.Headers["Referrer-Policy"] = "same-origin";
                // What the interface answers is of the moment and of the asker.
                if (IsApi(http))
                    http.Response.Headers.CacheControl = "no-store";
                await next();
            }
        );
        app.UseRouting();
        app.UseAuthentication();
        app.UseGate();
        app.UseAdmission();
        app.UseDoorway();
        app.UseRateLimiter();
        app.UseIdempotencyKeys();
    }

    /// <summary>The console's files, and its first page under every address that is none of the interface.</summary>
    public static void UseConsole(this WebApplication app)
    {
        var folder = Path.Combine(app.Environment.ContentRootPath, "wwwroot");
        var scripts = Path.Combine(folder, "first-page.txt");
        if (Directory.Exists(folder))
        {
            app.Use((http, next) => Smaller(http, folder, next));
            app.UseStaticFiles(
                new StaticFileOptions
                {
                    // What is compressed has no type of its own; it is told when it is sent.
                    ServeUnknownFileTypes = true,
                    FileProvider = new PhysicalFileProvider(folder),
                    OnPrepareResponse = file => Prepare(file.Context),
                }
            );
        }

        app.Use(
            async (http, next) =>
            {
                var first = Path.Combine(folder, "index.html");
                if (http.GetEndpoint() is not null)
                {
                    await next();
                    return;
                }

                if (
                    IsApi(http)
                    || !(HttpMethods.IsGet(http.Request.Method) || HttpMethods.IsHead(http.Request.Method))
                    || Path.HasExtension(http.Request.Path.Value)
                    || http.Request.Path.StartsWithSegments("/assets")
                    || !File.Exists(first)
                )
                    throw new ProblemException(
                        404,
                        "not-found",
                        "Not found",
                        $"There is nothing at {Typed.Short(http.Request.Path.Value ?? "/")}."
                    );
                Kept(http);
                if (http.User.Identity is { IsAuthenticated: true })
                    http.Response.Headers.Link = await AnnouncedAsync(http, scripts);
                http.Response.ContentType = "text/html; charset=utf-8";
                await http.Response.SendFileAsync(first, http.RequestAborted);
            }
        );
    }

    /// <summary>
    /// What the browser will ask for as soon as its script runs, so that it comes with the script (RFC 8288): what
    /// waits, which every page counts, and the scripts of the first page.
    /// </summary>
    private static async Task<string> AnnouncedAsync(HttpContext http, string scripts)
    {
        const string waits = "</api/v1/today>; rel=preload; as=fetch; crossorigin=anonymous";
        if (http.Request.Path != "/" || !File.Exists(scripts))
            return waits;
        var names = await File.ReadAllLinesAsync(scripts, http.RequestAborted);
        return string.Join(", ", names.Select(s => $"<{s}>; rel=modulepreload").Prepend(waits));
    }

    /// <summary>
    /// A script or style that was compressed when it was built goes out so to whoever takes it (RFC 9110, section
    /// 12.5.3).
    /// </summary>
    private static Task Smaller(HttpContext http, string folder, RequestDelegate next)
    {
        var path = http.Request.Path.Value ?? "";
        var takes = http.Request.Headers.AcceptEncoding.ToString().Contains("br", StringComparison.Ordinal);
        if (takes && path.StartsWith("/assets/", StringComparison.Ordinal) && File.Exists($"{folder}{path}.br"))
            http.Request.Path = $"{path}.br";
        return next(http);
    }

    private static void Prepare(HttpContext http)
    {
        Kept(http);
        http.Response.Headers.Vary = "Accept-Encoding";
        var path = http.Request.Path.Value ?? "";
        if (!path.EndsWith(".br", StringComparison.Ordinal))
            return;
        http.Response.Headers.ContentEncoding = "br";
        http.Response.ContentType = path.EndsWith(".css.br", StringComparison.Ordinal) ? "text/css" : "text/javascript";
    }

    private static bool IsApi(HttpContext http) => http.Request.Path.StartsWithSegments("/api");

    /// <summary>
    /// A file with a digest in its name never changes (RFC 8246); the page that names them is asked for each time.
    /// </summary>
    private static void Kept(HttpContext http) =>
        http.Response.Headers.CacheControl = http.Request.Path.StartsWithSegments("/assets")
            ? "public, max-age=31536000, immutable"
            : "no-cache";

    /// <summary>A status without a word gets its problem.</summary>
    private static Task StatusAsync(HttpContext http)
    {
        var problem = http.Response.StatusCode switch
        {
            404 => new ProblemException(
                404,
                "not-found",
                "Not found",
                $"There is nothing at {Typed.Short(http.Request.Path.Value ?? "/")}."
            ),
            405 => new ProblemException(
                405,
                "wrong-method",
                "Wrong method",
                $"{http.Request.Method} is not a method of this address. Expected: {http.Response.Headers.Allow}."
            ),
            415 => new ProblemException(
                415,
                "unreadable",
                "Wrong content type",
                "This call takes another content type: application/json, unless the description of the interface says otherwise."
            ),
            400 => new ProblemException(
                400,
                "unreadable",
                "The request cannot be read",
                "A value is missing or is not of the kind that this call takes; see the description of the interface."
            ),
            413 => AccessControl.TooLarge(http.GetEndpoint()?.Metadata.GetMetadata<TakesUpTo>()?.Octets ?? Bounds.Body),
            var status => new ProblemException(status, "refused", "Refused", $"The call was refused with {status}."),
        };
        return ProblemHandler.WriteAsync(http, problem, http.RequestAborted);
    }
}
