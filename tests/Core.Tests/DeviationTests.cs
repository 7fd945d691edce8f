using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Changes;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// What was set otherwise is bound to the very places where the inventory keeps it, and closing writes it there: on
/// that end, in that rule, in that list, and nowhere else.
/// </summary>
public class DeviationTests
{
    private static readonly DateTimeOffset At = new(2026, 11, 24, 22, 0, 0, TimeSpan.Zero);

    private static Change Adding(string tunnel, EndName end, string prefix) =>
        TestValues.Change(
            new SubnetsRequest(DemoInventory.Tunnel(tunnel).Id, end, [Prefix.Parse(prefix).Value], []),
            ChangeState.UnderWay
        );

    private static Next<Change> Attempt(Change c, Step step, Deviation? deviation) =>
        ChangeLife.Attempt(
            c,
            step.Key,
            new(AttemptOutcome.Done) { Deviation = deviation, Proof = "5 replies" },
            "tomas",
            At,
            TestValues.KeysOf(c)
        );

    /// <summary>Works every step as planned but one, and gives the records as they were built.</summary>
    private static Inventory Built(Change c, Step otherwise, Deviation deviation)
    {
        c = c with { Plan = c.Plan with { Pending = [] } };
        foreach (var step in c.Plan.Steps)
        {
            var (next, refused) = Attempt(c, step, step.Key == otherwise.Key ? deviation : null);
            c = next ?? throw new InvalidOperationException(refused!.Wrong.ToString());
        }

        var (closed, stopped) = ChangeLife.Close(c, DemoInventory.All, "tomas", At);
        return DemoInventory.All.With(
            (closed ?? throw new InvalidOperationException(stopped!.Wrong.ToString())).AsBuilt
        );
    }

    private static Step StepOf(Change c, string begins, Where where) =>
        c.Plan.Steps.First(s => s.Key.StartsWith(begins, StringComparison.Ordinal) && s.Where == where);

    [Fact]
    public void One_side_of_a_rule_is_written_in_that_rule_alone()
    {
        var c = Adding("BRI-ASHLOW", EndName.A, "10.61.40.0/24");
        var built = Built(c, StepOf(c, "rule-in", Where.B), new("10.61.40.0/24", "10.61.40.128/25", "r"));
        var rules = built.Get<Tunnel>(c.Request.Tunnels[0]).B.Rules!.Value!.Items;
        rules.ShouldContain(new Rule(RuleDirection.In, P("10.62.4.0/24"), P("10.61.40.128/25")));
        rules.ShouldContain(new Rule(RuleDirection.Out, P("10.62.4.0/24"), P("10.61.40.0/24")));
        rules.ShouldNotContain(new Rule(RuleDirection.In, P("10.62.4.0/24"), P("10.61.40.0/24")));
    }

    [Fact]
    public void A_prefix_in_a_list_is_written_in_that_list_and_the_rest_of_it_stays()
    {
        var c = Adding("BRI-ASHLOW", EndName.A, "10.61.40.0/24");
        var built = Built(c, StepOf(c, "subnets-remote", Where.B), new("10.61.40.0/24", "10.61.40.0/25", "r"));
        var tunnel = built.Get<Tunnel>(c.Request.Tunnels[0]);
        tunnel.B.Subnets!.Remote!.Value.ShouldBe([P("10.61.0.0/24"), P("10.61.8.0/22"), P("10.61.40.0/25")]);
        // What was agreed stays what was agreed.
        tunnel.Agreed.Pairs.Select(p => p.A).ShouldContain(P("10.61.40.0/24"));
        tunnel.B.Rules!.Value!.Items.ShouldAllBe(r => r.Remote != P("10.61.40.0/25"));
    }

    [Fact]
    public void A_copied_list_is_kept_on_the_gateway_with_what_was_really_in_it()
    {
        var c = Adding("BRI-ASHLOW", EndName.A, "10.61.40.0/24");
        var copy = StepOf(c, "copy-list", Where.A);
        var built = Built(c, copy, new("10.61.40.0/24", "10.61.40.0/26", "r"));
        var gateway = built.ByCode<Gateway>("churn-gw1")!;
        gateway.Held("bri-ashlow-nets")!.Members.ShouldContain(P("10.61.40.0/26"));
        gateway.Held("bri-ashlow-nets")!.Members.ShouldNotContain(P("10.61.40.0/24"));
        gateway
            .Held("bri-lan")!
            .Members.ShouldBe(DemoInventory.All.ByCode<Gateway>("churn-gw1")!.Held("bri-lan")!.Members);
    }

    [Fact]
    public void A_whole_list_that_was_set_otherwise_is_what_was_set()
    {
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        var c = TestValues.Change(
            new SubnetsRequest(tunnel.Id, EndName.A, [], [])
            {
                Remove = [P("10.61.8.0/22")],
                Also = [new(DemoInventory.Tunnel("BRI-PETHER").Id, EndName.A)],
            },
            ChangeState.UnderWay
        );
        var step = c.Plan.Steps.First(s =>
            s.Where == Where.B && s.TunnelId == tunnel.Id && s.Enter.Any(v => v.Label == "remote subnets")
        );
        var built = Built(c, step, new("remote subnets", "10.61.0.0/24, 10.61.9.0/24", "the device held another"));
        built.Get<Tunnel>(tunnel.Id).B.Subnets!.Remote!.Value.ShouldBe([P("10.61.0.0/24"), P("10.61.9.0/24")]);
        built.Get<Tunnel>(tunnel.Id).B.Subnets!.Confirmed!.By.ShouldBe("tomas");
        // The other tunnel of the change is as planned.
        built
            .Get<Tunnel>(DemoInventory.Tunnel("BRI-PETHER").Id)
            .B.Subnets!.Remote!.Value.ShouldBe([P("10.61.0.0/24")]);
    }

    [Fact]
    public void A_route_and_a_tunnel_address_are_written_as_they_were_set()
    {
        var tunnel = DemoInventory.Tunnel("THR-PLATES-2");
        var c = TestValues.Change(new NewTunnelRequest(tunnel.Id), ChangeState.UnderWay);
        c = c with { Plan = c.Plan with { Pending = [], Steps = [.. c.Plan.Steps.Select(Known)] } };
        var discard = c.Plan.Steps.First(s => s.Where == Where.A && s.Enter.Any(v => v.Label == "discard route to"));
        var to = discard.Enter.First(v => v.Label == "discard route to").Text;
        var built = Built(c, discard, new(to, "10.51.0.0/16", "r")).Get<Tunnel>(tunnel.Id);
        built.A.Routes!.Value!.Items.ShouldContain(new Route(P("10.51.0.0/16"), Discard: true));
        built.A.Routes.Value.Items.ShouldNotContain(new Route(P(to), Discard: true));
        var inner = c.Plan.Steps.First(s => s.Where == Where.A && s.Enter.Any(v => v.Label == "tunnel address"));
        Built(c, inner, new("tunnel address", "10.255.50.9/31", "r"))
            .Get<Tunnel>(tunnel.Id)
            .A.TunnelAddress!.Value!.ToString()
            .ShouldBe("10.255.50.9/31");
    }

    private static Step Known(Step step) => step with { Enter = [.. step.Enter.Select(v => v with { Waits = null })] };

    [Theory]
    [InlineData("10.61.40.0/24", "10.61.40.0/25", "", "has no reason")]
    [InlineData("10.61.40.0/24", "10.61.40.1/24", "r", "host bits")]
    [InlineData("10.99.0.0/24", "10.99.0.0/25", "r", "sets no 10.99.0.0/24")]
    [InlineData("remote subnet", "a wall", "r", "remote subnet cannot be 'a wall'")]
    public void What_cannot_be_is_refused_and_nothing_is_noted(string planned, string set, string reason, string wrong)
    {
        var c = Adding("BRI-ASHLOW", EndName.A, "10.61.40.0/24");
        var (next, refused) = Attempt(c, StepOf(c, "subnets-remote", Where.B), new(planned, set, reason));
        next.ShouldBeNull();
        refused!.Wrong.ToString().ShouldContain(wrong);
    }

    [Fact]
    public void What_the_inventory_does_not_keep_is_noted_with_the_attempt_alone()
    {
        var c = Adding("BRI-ASHLOW", EndName.A, "10.61.40.0/24");
        var step = StepOf(c, "rule-in", Where.B);
        var name = step.Enter.First(v => v.Label == "name").Text;
        var noted = Attempt(Worked(c), step, new("name", "cold-in", "the name was taken"))
            .Value!.Attempts[^1]
            .Deviation!;
        (noted.Planned, noted.Set, noted.At.Length).ShouldBe((name, "cold-in", 0));
        Built(c, step, new("name", "cold-in", "the name was taken"))
            .Get<Tunnel>(c.Request.Tunnels[0])
            .B.Rules!.Value!.Items.ShouldContain(new Rule(RuleDirection.In, P("10.62.4.0/24"), P("10.61.40.0/24")));
    }

    [Fact]
    public void A_deviation_keeps_its_places_through_the_store()
    {
        var c = Adding("BRI-ASHLOW", EndName.A, "10.61.40.0/24");
        var attempted = Attempt(
            Worked(c),
            StepOf(c, "subnets-remote", Where.B),
            new("10.61.40.0/24", "10.61.40.0/25", "r")
        ).Value!;
        var read = (Change)
            Storage.Bodies.RecordBody.Read(RecordKind.Change, attempted.Id, Storage.Bodies.RecordBody.Bytes(attempted));
        read.Attempts[^1].Deviation!.At.ShouldBe(attempted.Attempts[^1].Deviation!.At);
        read.Attempts[^1]
            .Deviation!.At.ShouldHaveSingleItem()
            .Path.ShouldBe(EndPaths.B.RemoteSubnets.Item("10.61.40.0/24"));
    }

    private static string Id(string tunnel) => DemoInventory.Tunnel(tunnel).Id;

    public static TheoryData<ChangeRequest> EveryKind =>
        [
            new SubnetsRequest(Id("BRI-ASHLOW"), EndName.A, [P("10.61.40.0/24")], []),
            new SubnetsRequest(Id("QUI-BRI"), EndName.B, [P("10.61.40.0/24")], []),
            new NewTunnelRequest(Id("THR-PLATES-2")),
            new RekeyRequest([Id("BRI-ASHLOW"), Id("QUI-BRI")]),
            new StrengthenRequest(Id("QUI-SAL"), null),
            new AddressRequest(
                DemoInventory.All.ByCode<Gateway>("churn-gw1")!.Id,
                DemoInventory.All.ByCode<Gateway>("churn-gw1")!.Uplinks[0].Label,
                Address.Parse("203.0.113.250").Value,
                [.. DemoInventory.All.On(DemoInventory.All.ByCode<Gateway>("churn-gw1")!.Id).Select(o => o.Tunnel.Id)]
            ),
        ];

    /// <summary>
    /// Whatever a step enters can have been set otherwise: keys, names, addresses and neighbours as well as prefixes.
    /// </summary>
    [Theory, MemberData(nameof(EveryKind))]
    public void Every_value_that_a_step_enters_can_be_recorded_as_a_deviation(ChangeRequest request)
    {
        var c = TestValues.Change(request, ChangeState.UnderWay);
        c = Worked(c with { Plan = c.Plan with { Pending = [] } });
        var tried = 0;
        foreach (var step in c.Plan.Steps)
        foreach (var value in step.Enter.Where(v => v.Waits is null))
        {
            var whole = Attempt(c, step, new(value.Label, Otherwise(value.Text), "the device says so"));
            // What is kept in parts is set otherwise part by part.
            var refused =
                whole.Refused?.Wrong.ToString().Contains("several parts", StringComparison.Ordinal) == true
                    ? value
                        .Parts.Select(p => Attempt(c, step, new(p.Text, p.Text, "the device says so")).Refused)
                        .FirstOrDefault(r => r is not null)
                    : whole.Refused;
            (refused?.Wrong.ToString() ?? "").ShouldBe("", $"{value.Label} {value.Text}");
            tried++;
        }

        tried.ShouldBeGreaterThan(2);

        // A version that exists, or the very value where any other would have to be of another kind.
        static string Otherwise(string text) => text.Split(": ")[^1];
    }

    [Fact]
    public void A_key_that_was_entered_otherwise_is_a_version_that_exists()
    {
        var c = Worked(TestValues.Change(new RekeyRequest([Id("BRI-ASHLOW")]), ChangeState.UnderWay));
        var step = c.Plan.Steps.First(s => s.Kind == StepKind.Enter && s.Where == Where.B);
        Attempt(c, step, new("pre-shared key", "version 9", "r")).Refused!.Wrong.ToString().ShouldContain("never made");
        var old = c.Plan.Keys[0].Replaces[0];
        Attempt(c, step, new("pre-shared key", $"version {old}", "the new one was refused"))
            .Value!.Attempts[^1]
            .Deviation!.At.ShouldHaveSingleItem()
            .Path.IsWithin(EndPaths.B.KeyHeld)
            .ShouldBeTrue();
    }

    [Fact]
    public void An_outer_address_that_was_set_otherwise_is_what_the_gateway_then_has()
    {
        var gateway = DemoInventory.All.ByCode<Gateway>("churn-gw1")!;
        var c = TestValues.Change((ChangeRequest)EveryKind.Last().Data, ChangeState.UnderWay);
        var step = c.Plan.Steps.Single(s => s.Kind == StepKind.MoveAddress);
        var built = Built(c, step, new("outer address", "203.0.113.251", "the provider gave another one"));
        built.Get<Gateway>(gateway.Id).Uplinks[0].Outer.ShouldBe(Address.Parse("203.0.113.251").Value);
    }

    /// <summary>Every step done, so that none waits.</summary>
    private static Change Worked(Change c) =>
        c with
        {
            Attempts = [.. c.Plan.Steps.Select(s => new Attempt(s.Key, AttemptOutcome.Done, "tomas", At, null, null))],
        };

    private static Prefix P(string text) => Prefix.Parse(text).Value;
}
