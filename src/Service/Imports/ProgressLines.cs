using System.Text.Json;
using System.Threading.Channels;

namespace Vellumkeep.Service.Imports;

/// <summary>
/// Long work told as it goes: one line of JSON for each step, and a last one with the outcome or the problem.
/// </summary>
public static class ProgressLines
{
    /// <summary>That what was told last is a problem, although the status said that all was well.</summary>
    public const string Failed = "failed";

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    public static async Task<IResult> RunAsync<T>(
        HttpContext http,
        bool? watched,
        Func<IProgress<Progressed>?, Task<T>> work
    )
    {
        if (watched != true)
            return Results.Ok(await work(null));
        http.Response.ContentType = "application/x-ndjson";
        // Only where it is now is of interest: a slow reader does not hold the work up.
        var steps = Channel.CreateBounded<Progressed>(
            new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropOldest }
        );
        var running = Task.Run(async () =>
        {
            try
            {
                return await work(new To(steps.Writer));
            }
            finally
            {
                steps.Writer.Complete();
            }
        });
        await foreach (var step in steps.Reader.ReadAllAsync(http.RequestAborted))
            await LineAsync(http, step);
        try
        {
            await LineAsync(http, new { outcome = await running });
        }
        catch (ProblemException problem)
        {
            http.Items[Failed] = true;
            await LineAsync(http, new { problem = problem.Details(), status = problem.Status });
        }

        return Results.Empty;
    }

    private static async Task LineAsync<T>(HttpContext http, T line)
    {
        await http.Response.WriteAsync(JsonSerializer.Serialize(line, Json) + "\n", http.RequestAborted);
        await http.Response.Body.FlushAsync(http.RequestAborted);
    }

    private sealed class To(ChannelWriter<Progressed> steps) : IProgress<Progressed>
    {
        public void Report(Progressed value) => steps.TryWrite(value);
    }
}
