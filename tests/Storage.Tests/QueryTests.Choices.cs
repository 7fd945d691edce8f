using Vellumkeep.Core.Forms;
using Vellumkeep.Storage.Bodies;

namespace Vellumkeep.Storage.Tests;

public abstract partial class QueryTests
{
    [Theory]
    [MemberData(nameof(Askers))]
    public async Task A_choice_is_found_by_its_code_and_offered_only_to_who_may_see_it(string asker)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        var list = new ChoiceList(context);
        foreach (var gateway in All.All.OfType<Gateway>())
        {
            var found = await list.ChoicesAsync(scope, RecordKind.Gateway, gateway.Code.ToUpperInvariant(), 20, Ct);
            if (scope.Sees(OwnerOf(gateway)))
                found[0].Code.ShouldBe(gateway.Code);
            else
                found.ShouldNotContain(c => c.Code == gateway.Code);
        }
    }

    [Theory]
    [InlineData("churn", "churn-gw1")]
    [InlineData("203.0.113.77", "ashlow-gw")]
    [InlineData("198.51.100.0/24", "churn-gw1")]
    public async Task A_gateway_is_found_by_its_address_too_and_says_what_tells_it_apart(string text, string code)
    {
        await using var context = demo.Databases.Open();
        var found = await new ChoiceList(context).ChoicesAsync(Scope.Everything, RecordKind.Gateway, text, 50, Ct);
        var choice = found.Single(c => c.Code == code);
        var gateway = All.ByCode<Gateway>(code)!;
        choice.Detail.ShouldContain(All.Get<Site>(gateway.SiteId).Name);
        choice.Detail.ShouldContain(gateway.Uplinks[0].OuterText);
        var listed = await new GatewayList(context).GatewaysAsync(Scope.Everything, null, text, null, 500, Ct);
        listed.Select(g => g.Code).ShouldBe(found.Select(c => c.Code), ignoreOrder: true);
    }

    [Fact]
    public async Task Retired_records_are_not_offered_and_nothing_fits_nonsense()
    {
        await using var context = demo.Databases.Open();
        var list = new ChoiceList(context);
        var offered = await list.ChoicesAsync(Scope.Everything, RecordKind.Tunnel, "", 500, Ct);
        offered
            .Select(c => c.Code)
            .ShouldBe(
                All.Tunnels.Where(t => t.State != TunnelState.Retired)
                    .Select(t => t.Code)
                    .OrderBy(c => c.ToUpperInvariant(), StringComparer.Ordinal)
            );
        (await list.ChoicesAsync(Scope.Everything, RecordKind.Tunnel, "zzz", 500, Ct)).ShouldBeEmpty();
    }

    [Theory]
    [MemberData(nameof(Askers))]
    public async Task What_falls_due_is_what_the_records_say(string asker)
    {
        await using var context = demo.Databases.Open();
        var scope = ScopeOf(asker);
        var until = DemoInventory.Today.AddDays(90);
        var due = await new DueList(context).DueAsync(scope, DemoInventory.Today, until, 5000, Ct);
        var wanted = All
            .All.Where(r => r is not Change && scope.Sees(OwnerOf(r)) && r.Retired is null)
            .Where(r => r is not Tunnel { State: TunnelState.Retired })
            .SelectMany(r => DueDates.Of(RecordBody.Form(r)).Select(d => (r.Code, Due: d)))
            .Where(d => d.Due.On <= until)
            .Where(d => d.Due.Kind != DueKind.Confirmation || d.Due.On >= DemoInventory.Today)
            .Select(d => (d.Code, DueDates.Kinds.Of(d.Due.Kind), d.Due.Path))
            .Distinct();
        due.Where(d => d.Of is not RecordKind.Change and not RecordKind.Platform and not RecordKind.Suite)
            .Select(d => (d.Code, d.Kind, d.Path))
            .ShouldBe(wanted, ignoreOrder: true);
        due.Select(d => d.On).ShouldBeInOrder(SortDirection.Ascending);
        if (asker == "all")
            due.Select(d => d.Kind).ShouldContain("temporary value");
    }
}
