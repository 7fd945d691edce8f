using System.Net;
using System.Text.Json;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>
/// Number 3 of the doors, by HTTP and by command: nobody moves the window of what another one approved.
/// </summary>
[Collection(OneDemo.Name)]
public class FourEyesTests(DemoProcess demo)
{
    [Fact]
    public async Task The_author_cannot_move_an_approved_change_and_begin_and_the_record_says_what_was_outside()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        using var tomas = await demo.Service.ClientAsync("tomas");
        var start = DateTimeOffset.UtcNow.AddDays(3);
        var code = (
            await ines.DraftAsync(
                new DraftFree
                {
                    Tunnel = "BRI-SPARES",
                    Reason = "fit it",
                    Steps = [new("build", "A", "Fit it", 50, null, null)],
                    WindowStart = start,
                    WindowMinutes = 60,
                },
                Ct
            )
        ).Code;
        await ines.ActAsync(code, "submit", new(null, null), null, Ct);
        await ApproveAsync(tomas, code, "approve");
        // Too short, over, and then another one that fits.
        foreach (var (from, minutes) in new[] { (start, 10), (DateTimeOffset.UtcNow.AddDays(-3), 60) })
            (
                await Should.ThrowAsync<ServiceProblem>(ines.WindowAsync(code, new(from, minutes), Ct))
            ).Message.ShouldMatch("The steps take 5[0-9] minutes|The window ended before now");
        var moved = await ines.WindowAsync(code, new(start.AddDays(1), 60), Ct);
        (moved.State, moved.ApprovedBy).ShouldBe(("in review", null));
        moved.Verdict.ShouldContain(v => v.Says.Text.Contains("ines changed the window after tomas had approved it"));
        (await Should.ThrowAsync<ServiceProblem>(BeginAsync(ines, code, null))).Message.ShouldContain("in review");
        await Should.ThrowAsync<ServiceProblem>(ApproveAsync(ines, code, "confirm-window"));
        var (status, told, error) = await demo.Command("tomas", $"change confirm-window {code}");
        (status, told.Contains("is approved", StringComparison.Ordinal)).ShouldBe((0, true), told + error);

        (await Should.ThrowAsync<ServiceProblem>(BeginAsync(ines, code, null))).Message.ShouldContain(
            "Begin in the window, or give a reason"
        );
        await BeginAsync(ines, code, "the provider came early");
        foreach (var step in (await ines.ChangeAsync(code, Ct)).Steps)
            await ines.AttemptAsync(code, step.Number, new("done", null, null, null, null, "seen"), Ct);
        var closed = await ines.ActAsync(code, "close", new(null, null), null, Ct);
        string.Join(' ', closed.Verdict.Select(v => v.Says.Text))
            .ShouldSatisfyAllConditions(
                v => v.ShouldNotContain("as planned"),
                v => v.ShouldContain("outside its window: the provider came early"),
                v => v.ShouldContain("Begun by ines at ")
            );
        (await ines.TextAsync($"changes/{code}/record", Ct)).ShouldContain(
            "outside its window: the provider came early"
        );
    }

    [Fact]
    public async Task The_same_two_calls_make_one_thing()
    {
        using var ines = Asking.By(demo.Service, await demo.Service.ClientTokenAsync("ines"));
        ines.DefaultRequestHeaders.Add("Idempotency-Key", $"twice-{Guid.NewGuid()}");
        var answers = await Task.WhenAll(
            Enumerable
                .Range(0, 2)
                .Select(_ =>
                    Asking.PostAsync(
                        ines,
                        "changes",
                        """
                        {"kind":"free","tunnel":"BRI-SPARES","reason":"twice",
                         "steps":[{"part":"build","where":"A","do":"Fit it","minutes":5}]}
                        """,
                        Ct
                    )
                )
        );
        answers.ShouldAllBe(a => a.Status == HttpStatusCode.OK, string.Join('\n', answers.Select(a => a.Text)));
        using var client = await demo.Service.ClientAsync("ines");
        (await client.ChangesAsync(null, "BRI-SPARES", Ct)).Count(c => c.Title.Contains("twice")).ShouldBeLessThan(2);
        answers
            .Select(a => JsonDocument.Parse(a.Text).RootElement.TryGetProperty("records", out _))
            .Count(replayed => replayed)
            .ShouldBe(1);
    }

    private static async Task ApproveAsync(KeepClient by, string code, string act) =>
        await by.ActAsync(code, act, new(null, null), (await by.ChangeAsync(code, Ct)).Version, Ct);

    private static Task<ChangePage> BeginAsync(KeepClient by, string code, string? reason) =>
        by.ActAsync(code, "begin", new(reason, null), null, Ct);
}
