using System.Net;
using System.Text.Json;
using Vellumkeep.Client;

namespace Vellumkeep.Cli;

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
            error.WriteLine(r.Message);
            return r.Status;
        }
        catch (ServiceProblem p)
        {
            error.WriteLine(p.Message);
            if (p.Body is { ValueKind: JsonValueKind.Object } body && body.TryGetProperty("problems", out var problems))
                foreach (
                    var one in problems
                        .EnumerateArray()
                        .Skip(p.Type.EndsWith(":unreadable-cells", StringComparison.Ordinal) ? 0 : 1)
                        .Take(20)
                )
                    error.WriteLine(
                        $"  {(p.Type.EndsWith(":unreadable-cells", StringComparison.Ordinal) ? "row" : "line")} {one.GetProperty("line")}, {one.GetProperty("field")}: {one.GetProperty("wrong")}. Right would be: {one.GetProperty("right")}"
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
            error.WriteLine("The service is not reachable. Is it running? Next: make demo, or set VELLUMKEEP_URL.");
            return 6;
        }
        catch (OperationCanceledException)
        {
            error.WriteLine(
                "Cut off before the service answered. What was asked may have been done: look before you ask again."
            );
            return 6;
        }
        catch (IOException e)
        {
            error.WriteLine($"{e.Message.TrimEnd('.')}. Nothing more was done.");
            return 6;
        }
        catch (Exception e)
        {
            // Nothing that should happen; whoever reads it can do more with one line than with our insides.
            error.WriteLine(
                $"Something failed here that should not have: {e.Message} Next: tell whoever looks after Vellumkeep what you typed."
            );
            return 6;
        }
    }
}
