using System.Net;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>
/// What a change's page offers is what the service does, for everybody in every state: what is offered is carried out,
/// what is not is refused with the reason that the page gives, and nothing is written by it.
/// </summary>
public class OfferedTests(DemoService demo) : IClassFixture<DemoService>
{
    private static readonly string[] People = ["ines", "tomas", "odile", "bram"];

    /// <summary>The states of a change, with the acts that bring a draft there: who does what.</summary>
    private static readonly Dictionary<string, (string Who, string Act)[]> Ways = new()
    {
        ["draft"] = [],
        ["in review"] = [("ines", "submit")],
        ["approved"] = [("ines", "submit"), ("tomas", "approve")],
        ["under way"] = [("ines", "submit"), ("tomas", "approve"), ("ines", "begin")],
        ["backed out"] = [("ines", "submit"), ("tomas", "approve"), ("ines", "begin"), ("ines", "back-out")],
        ["dropped"] = [("ines", "drop")],
        ["done"] = [("ines", "submit"), ("tomas", "approve"), ("ines", "begin"), ("ines", "work"), ("ines", "close")],
    };

    public static TheoryData<string> States => [.. Ways.Keys];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private KeepClient Client(string who) => new(demo.Service.Url, demo.Token(who));

    private async Task<string> ChangeInAsync(string state)
    {
        using var ines = Client("ines");
        var draft = await ines.DraftAsync(
            new DraftFree
            {
                Tunnel = "OTT-SKERROW",
                Reason = "to see what is offered",
                Steps = [new("prepare", "us", "Look at the sheet", 1, null, null)],
            },
            Ct
        );
        foreach (var (who, act) in Ways[state])
        {
            using var client = Client(who);
            if (act == "work")
                foreach (var step in (await client.ChangeAsync(draft.Code, Ct)).Steps)
                    await client.AttemptAsync(
                        draft.Code,
                        step.Number,
                        new("done", null, null, null, null, "confirmed"),
                        Ct
                    );
            else
                await DoAsync(client, who, draft.Code, act);
        }

        (await ines.ChangeAsync(draft.Code, Ct)).State.ShouldBe(state);
        return draft.Code;
    }

    /// <summary>An act with all that it may ask for, on the version that is there.</summary>
    private static async Task<ChangePage> DoAsync(KeepClient client, string who, string code, string act)
    {
        var seen = await client.ChangeAsync(code, Ct);
        return act switch
        {
            "window" => await client.WindowAsync(
                code,
                new(DateTimeOffset.UtcNow.Date.AddDays(40), 60) { Reason = "the provider asked" },
                Ct
            ),
            "fill" => await client.FillAsync(code, new(1, "203.0.113.171"), Ct),
            "urgent" => await client.UrgentAsync(code, new(who == "tomas" ? "odile" : "tomas", "it cannot wait"), Ct),
            "step" => await client.AttemptAsync(code, 1, new("done", null, null, null, null, "confirmed"), Ct),
            _ => await client.ActAsync(code, act, new("a remark", null), seen.Version, Ct),
        };
    }

    [Theory]
    [MemberData(nameof(States))]
    public async Task What_is_not_offered_is_refused_and_writes_nothing(string state)
    {
        var code = await ChangeInAsync(state);
        foreach (var who in People)
        {
            using var client = Client(who);
            var page = await client.ChangeAsync(code, Ct);
            page.Acts.Select(a => a.Act).ShouldBeUnique();
            foreach (var act in page.Acts.Where(a => !a.Allowed))
            {
                var about = $"{who}: {act.Act} while {state}";
                act.WhyNot.ShouldNotBeNullOrWhiteSpace(about);
                var refused = await Should.ThrowAsync<ServiceProblem>(DoAsync(client, who, code, act.Act), about);
                refused.Status.ShouldBeOneOf(
                    [HttpStatusCode.Forbidden, HttpStatusCode.Conflict, HttpStatusCode.UnprocessableEntity],
                    about
                );
                var now = await client.ChangeAsync(code, Ct);
                (now.Version, now.State).ShouldBe((page.Version, state), about);
            }
        }
    }

    [Theory]
    [MemberData(nameof(States))]
    public async Task What_is_offered_is_carried_out(string state)
    {
        // One of each role that may act: the author, and a reviewer.
        foreach (var who in new[] { "ines", "tomas" })
        {
            using var client = Client(who);
            var code = await ChangeInAsync(state);
            var offered = (await client.ChangeAsync(code, Ct)).Acts.Where(a => a.Allowed).Select(a => a.Act).ToArray();
            // What leaves the state alone is tried on one change; what moves it takes that one along, and asks for
            // another.
            foreach (var act in offered)
            {
                var before = await client.ChangeAsync(code, Ct);
                var after = await DoAsync(client, who, code, act);
                var about = $"{who}: {act} while {state}";
                after.Version.ShouldBeGreaterThan(before.Version, about);
                if (after.State == before.State)
                {
                    after.StatusHistory.Count.ShouldBe(before.StatusHistory.Count, about);
                    continue;
                }

                (after.StatusHistory[^1].To, after.StatusHistory[^1].By).ShouldBe((after.State, who), about);
                code = await ChangeInAsync(state);
            }
        }
    }

    [Theory]
    [MemberData(nameof(States))]
    public async Task A_reader_is_offered_nothing(string state)
    {
        using var bram = Client("bram");
        (await bram.ChangeAsync(await ChangeInAsync(state), Ct)).Acts.ShouldAllBe(a => !a.Allowed);
    }

    [Fact]
    public async Task The_author_is_told_why_they_cannot_approve_and_a_reviewer_can()
    {
        var code = await ChangeInAsync("in review");
        using var ines = Client("ines");
        using var tomas = Client("tomas");
        (await ines.ChangeAsync(code, Ct)).Acts.Single(a => a.Act == "approve").Allowed.ShouldBeFalse();
        (await tomas.ChangeAsync(code, Ct)).Acts.Single(a => a.Act == "approve").Allowed.ShouldBeTrue();
    }

    [Fact]
    public async Task Urgent_work_is_confirmed_by_whom_it_was_asked_of_and_by_nobody_else()
    {
        var code = await ChangeInAsync("draft");
        using var ines = Client("ines");
        await ines.UrgentAsync(code, new("tomas", "the press stands still"), Ct);
        foreach (var who in People)
        {
            using var client = Client(who);
            (await client.ChangeAsync(code, Ct))
                .Acts.Single(a => a.Act == "confirm-urgent")
                .Allowed.ShouldBe(who == "tomas", who);
        }

        using var tomas = Client("tomas");
        (await DoAsync(tomas, "tomas", code, "confirm-urgent")).State.ShouldBe("under way");
        (await tomas.ChangeAsync(code, Ct)).Acts.Single(a => a.Act == "review-after").Allowed.ShouldBeTrue();
        (await ines.ChangeAsync(code, Ct)).Acts.Single(a => a.Act == "review-after").Allowed.ShouldBeFalse();
    }
}
