using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Core.Parsing;
using static Vellumkeep.Cli.Terminal.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Changes drafted: each kind asks for what it needs.</summary>
internal sealed partial class DraftCommands(Frame frame)
{
    private readonly Screen screen = frame.Screen;
    private readonly Argument<string> tunnel = new Argument<string>("tunnel") { Description = "code of the tunnel" };
    private readonly Option<string> side = new Option<string>("--end")
    {
        Description = "the end that the prefixes are behind: A or B",
        Required = true,
    };
    private readonly Option<string[]> add = new Option<string[]>("--add")
    {
        Description = "prefixes, such as 10.61.40.0/24",
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string[]> remove = new Option<string[]>("--remove")
    {
        Description = "prefixes to remove",
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string[]> addOther = new Option<string[]>("--add-other")
    {
        Description = "prefixes to add behind the other end, in the same change",
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string[]> removeOther = new Option<string[]>("--remove-other")
    {
        Description = "prefixes to remove behind the other end",
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string[]> also = new Option<string[]>("--also")
    {
        Description = "more tunnels",
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string?> suite = Text(
        "--suite",
        "suite with its version; the strongest that both ends support when left out"
    );
    private readonly Argument<string> gateway = new Argument<string>("gateway") { Description = "code of the gateway" };
    private readonly Argument<string> platform = new Argument<string>("platform")
    {
        Description = "platform profile with its version, such as alderquay-major@1",
    };
    private readonly Option<string?> beside = Text(
        "--beside",
        "outer address of the new device, when it is built beside the old one"
    );
    private readonly Option<string?> uplink = Text("--uplink", "label of the uplink; the first when left out");
    private readonly Argument<string> address = new Argument<string>("address")
    {
        Description = "the new outer address",
    };
    private readonly Argument<string?> built = new Argument<string?>("tunnel")
    {
        Description = "a tunnel that is recorded as planned; left out with --code",
        Arity = ArgumentArity.ZeroOrOne,
    };
    private readonly Option<string?> newCode = Text("--code", "code of a new tunnel");
    private readonly Option<string?> newName = Text("--name", "its name");
    private readonly Option<string?> customer = Text(
        "--customer",
        "its customer; the owner of gateway A when left out"
    );
    private readonly Option<string?> gatewayA = Text("--a", "gateway at end A");
    private readonly Option<string?> gatewayB = Text("--b", "gateway at end B");
    private readonly Option<string?> uplinkA = Text("--uplink-a", "uplink at end A");
    private readonly Option<string?> uplinkB = Text("--uplink-b", "uplink at end B");
    private readonly Option<string[]> pairs = new Option<string[]>("--pair")
    {
        Description = "pairs wanted, A first: 10.50.0.0/24,10.51.0.0/24",
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string[]> manual = new Option<string[]>("--step")
    {
        Description = "a step: part, where and what, such as: build B Fit the spare power supply",
    };
    private readonly Option<string?> leftFrom = Text("--left-from", "a closed change: the steps that it skipped");
    private readonly Option<string[]> reach = new Option<string[]>("--reach")
    {
        Description = "prefixes behind the other end; all when left out",
        AllowMultipleArgumentsPerToken = true,
    };
    private readonly Option<string> why = new Option<string>("--reason")
    {
        Description = "what it is for",
        Required = true,
    };
    private readonly Option<string?> title = Text("--title", "title");
    private readonly Option<DateTimeOffset?> start = new Option<DateTimeOffset?>("--start")
    {
        Description = "start of the window, such as 2026-11-26T22:00Z",
    };
    private readonly Option<bool> dryRun = new Option<bool>("--dry-run")
    {
        Description = "show the plan; nothing is kept and no number is used",
    };
    private readonly Option<int?> minutes = new Option<int?>("--minutes") { Description = "length of the window" };
    private readonly Option<string?> whyShort = Text(
        "--why-short",
        "why the window is long enough although the planned work takes longer"
    );

    public static Command Make(Frame frame) => new DraftCommands(frame).Make();

    private Command Make() =>
        Thing(
            "draft",
            "plan a change: give what should be different",
            DraftSubnets(),
            DraftTunnel(),
            DraftRekey(),
            DraftStrengthen(),
            DraftPlatform(),
            DraftAddress(),
            DraftRetire(),
            DraftFree()
        );

    private Command DraftSubnets() =>
        Draft(
            "subnets",
            "add or remove prefixes behind one end of a tunnel, and of more tunnels",
            p => new DraftSubnets
            {
                Tunnel = p.GetValue(tunnel),
                End = p.GetValue(side),
                Add = p.GetValue(add),
                Reach = Some(p, reach),
                Remove = Some(p, remove),
                Also = Some(p, also),
                AddOther = Some(p, addOther),
                RemoveOther = Some(p, removeOther),
            },
            tunnel,
            side,
            add,
            remove,
            reach,
            also,
            addOther,
            removeOther
        );

    private Command DraftTunnel() =>
        Draft(
            "tunnel",
            "build a tunnel: one that is recorded as planned, or a new one between two gateways",
            p =>
                p.GetValue(newCode) is { } made
                    ? new DraftNewTunnel
                    {
                        Suite = p.GetValue(suite),
                        New = new(
                            made,
                            p.GetValue(newName),
                            p.GetValue(customer),
                            p.GetValue(gatewayA) ?? "",
                            p.GetValue(gatewayB) ?? "",
                            p.GetValue(uplinkA),
                            p.GetValue(uplinkB),
                            p.GetValue(pairs) ?? []
                        ),
                    }
                    : new DraftNewTunnel { Tunnel = p.GetValue(built), Also = Some(p, also) },
            built,
            newCode,
            newName,
            gatewayA,
            gatewayB,
            uplinkA,
            uplinkB,
            customer,
            pairs,
            suite,
            also
        );

    private Command DraftRekey() =>
        Draft(
            "rekey",
            "new keys for these tunnels",
            p => new DraftRekey { Tunnel = p.GetValue(tunnel), Also = Some(p, also) },
            tunnel,
            also
        );

    private Command DraftStrengthen() =>
        Draft(
            "strengthen",
            "better protection for a tunnel",
            p => new DraftStrengthen { Tunnel = p.GetValue(tunnel), Suite = p.GetValue(suite) },
            tunnel,
            suite
        );

    private Command DraftPlatform() =>
        Draft(
            "platform",
            "replace the platform of a gateway, with all its tunnels",
            p => new DraftPlatform
            {
                Gateway = p.GetValue(gateway),
                Platform = p.GetValue(platform),
                Beside = p.GetValue(beside),
            },
            gateway,
            platform,
            beside
        );

    private Command DraftAddress() =>
        Draft(
            "address",
            "change the outer address of a gateway",
            p => new DraftAddress
            {
                Gateway = p.GetValue(gateway),
                Address = p.GetValue(address),
                Uplink = p.GetValue(uplink),
            },
            gateway,
            address,
            uplink
        );

    private Command DraftRetire() =>
        Draft(
            "retire",
            "take a tunnel out of service, at both ends",
            p => new DraftRetire { Tunnel = p.GetValue(tunnel) },
            tunnel
        );

    private Command DraftFree() =>
        Drafted(
            "free",
            "your own steps, for work that no other kind covers, or steps that a change skipped",
            async (p, c, ct) =>
            {
                var left = p.GetValue(leftFrom) is { } from ? await c.ChangeAsync(from, ct) : null;
                if (left is { LeftSteps.Count: 0 })
                    throw new Refusal(
                        2,
                        $"{left.Code} has no skipped step. Expected: a closed change with a skipped step."
                    );
                FreeStepGiven[] steps = [.. left?.LeftSteps ?? [], .. (p.GetValue(manual) ?? []).Select(FreeStep)];
                return steps.Length > 0
                    ? new DraftFree { Tunnel = p.GetValue(tunnel), Steps = steps }
                    : throw new Refusal(
                        2,
                        "No step is given. Expected: --step, once for each step, or --left-from with the change "
                            + "that skipped steps."
                    );
            },
            tunnel,
            manual,
            leftFrom
        );
}
