using System.Net;
using System.Text.Json;
using Vellumkeep.Client;
using Vellumkeep.Core.Parsing;

namespace Vellumkeep.Cli.Terminal;

/// <summary>What goes wrong, as one line and an exit status; docs/command.md has the list.</summary>
internal static class Failures
{
    public static async Task<int> ToStatusAsync(TextWriter error, Func<Task<int>> run)
    {
        try
        {
            return await run();
        }
        catch (Refusal r)
        {
            error.WriteLine(Typed.WithoutKeys(r.Message));
            return r.Status;
        }
        catch (ServiceProblem p)
        {
            error.WriteLine(Typed.WithoutKeys(p.Message));
            if (p.Body is { ValueKind: JsonValueKind.Object } body && body.TryGetProperty("problems", out var problems))
                foreach (
                    var one in problems
                        .EnumerateArray()
                        .Skip(p.Type.EndsWith(":unreadable-cells", StringComparison.Ordinal) ? 0 : 1)
                        .Take(20)
                )
                    error.WriteLine(
                        $"  {PlaceOf(p, one)}{one.GetProperty("field")}: {one.GetProperty("wrong")}. Expected: "
                            + $"{one.GetProperty("right")}"
                    );
            return p.Status switch
            {
                HttpStatusCode.NotFound => 3,
                HttpStatusCode.Conflict when p.Type.EndsWith(":refused", StringComparison.Ordinal) => 5,
                HttpStatusCode.PreconditionFailed or HttpStatusCode.Conflict => 4,
                HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden or HttpStatusCode.TooManyRequests => 5,
                >= HttpStatusCode.InternalServerError => 6,
                _ => 2,
            };
        }
        catch (HttpRequestException)
        {
            error.WriteLine("The service is not reachable. Next: start it (make demo), or set VELLUMKEEP_URL.");
            return 6;
        }
        catch (OperationCanceledException)
        {
            error.WriteLine(
                "The connection ended before the service responded. The call can have been done: check before you repeat it."
            );
            return 6;
        }
        catch (IOException e)
        {
            error.WriteLine($"{Typed.WithoutKeys(e.Message).TrimEnd('.')}. Nothing else was done.");
            return 6;
        }
        catch (Exception e)
        {
            // Nothing that should happen; whoever reads it can do more with one line than with our insides.
            error.WriteLine($"The command failed: {Typed.WithoutKeys(e.Message)} Next: report it with what you typed.");
            return 6;
        }
    }

    /// <summary>The row or line of a problem; nothing where it stands in none.</summary>
    private static string PlaceOf(ServiceProblem problem, JsonElement one) =>
        one.GetProperty("line").GetInt32() is > 0 and var line
            ? $"{(problem.Type.EndsWith(":unreadable-cells", StringComparison.Ordinal) ? "row" : "line")} {line}, "
            : "";
}
