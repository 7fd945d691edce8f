using System.CommandLine;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using static Vellumkeep.Cli.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>Changes drafted: each kind asks for what it needs.</summary>
internal static class DraftCommands
{
    public static Command Make(Frame frame)
    {
        var screen = frame.Screen;
        var tunnel = new Argument<string>("tunnel") { Description = "code of the tunnel" };
        var side = new Option<string>("--end")
        {
            Description = "the side that the prefixes are on: A or B",
            Required = true,
        };
        var add = new Option<string[]>("--add")
        {
            Description = "prefixes, such as 10.61.40.0/24",
            AllowMultipleArgumentsPerToken = true,
        };
        var remove = new Option<string[]>("--remove")
        {
            Description = "prefixes that are to go",
            AllowMultipleArgumentsPerToken = true,
        };
        var (addOther, removeOther) = (
            new Option<string[]>("--add-other")
            {
                Description = "prefixes to add on the other side, in the same change",
                AllowMultipleArgumentsPerToken = true,
            },
            new Option<string[]>("--remove-other")
            {
                Description = "prefixes that are to go on the other side",
                AllowMultipleArgumentsPerToken = true,
            }
        );
        var also = new Option<string[]>("--also")
        {
            Description = "further tunnels",
            AllowMultipleArgumentsPerToken = true,
        };
        var suite = Text("--suite", "suite with its version; the strongest that both ends can do when left out");
        var gateway = new Argument<string>("gateway") { Description = "code of the gateway" };
        var platform = new Argument<string>("platform")
        {
            Description = "platform profile with its version, such as alderquay-major@1",
        };
        var beside = Text("--beside", "outer address of the new device, when it is built beside the old one");
        var uplink = Text("--uplink", "label of the uplink; the first when left out");
        var address = new Argument<string>("address") { Description = "the new outer address" };
        var built = new Argument<string?>("tunnel")
        {
            Description = "a tunnel that is recorded as planned; left out with --code",
            Arity = ArgumentArity.ZeroOrOne,
        };
        var (newCode, newName, customer) = (
            Text("--code", "code of a tunnel that is not there yet"),
            Text("--name", "its name"),
            Text("--customer", "whose it is; the owner of gateway A when left out")
        );
        var (gatewayA, gatewayB, uplinkA, uplinkB) = (
            Text("--a", "gateway at end A"),
            Text("--b", "gateway at end B"),
            Text("--uplink-a", "uplink at end A"),
            Text("--uplink-b", "uplink at end B")
        );
        var pairs = new Option<string[]>("--pair")
        {
            Description = "pairs wanted, A first: 10.50.0.0/24,10.51.0.0/24",
            AllowMultipleArgumentsPerToken = true,
        };
        var byHand = new Option<string[]>("--step")
        {
            Description = "a step: part, where and what, such as: build B Fit the spare power supply",
        };
        var leftFrom = Text("--left-from", "a change that is done: the steps that it skipped");
        var (named, because) = (
            new Option<string>("--named")
            {
                Description = "sign-in name of the second person: somebody who may approve the change",
                Required = true,
            },
            new Option<string>("--why") { Description = "why it cannot wait", Required = true }
        );
        var reach = new Option<string[]>("--reach")
        {
            Description = "prefixes on the other side; all when left out",
            AllowMultipleArgumentsPerToken = true,
        };
        var why = new Option<string>("--why") { Description = "what it is for", Required = true };
        var title = Text("--title", "title");
        var start = new Option<DateTimeOffset?>("--start")
        {
            Description = "begin of the window, such as 2026-11-26T22:00Z",
        };
        var minutes = new Option<int?>("--minutes") { Description = "length of the window" };
        var step = new Argument<int>("step") { Description = "number of the step" };
        var (done, failed) = (new Option<bool>("--done"), new Option<bool>("--failed"));
        var (set, reason, planned) = (
            Text("--set", "what was set instead"),
            Text("--reason", "why"),
            Text("--planned", "which value it stands for, where the step has several")
        );

        DraftChange Of(ParseResult p, Argument<string>? about) =>
            new()
            {
                Tunnel = about is null ? null : p.GetValue(about),
                Title = p.GetValue(title),
                Why = p.GetValue(why)!,
                WindowStart = p.GetValue(start),
                WindowMinutes = p.GetValue(minutes),
            };
        string[]? Some(ParseResult p, Option<string[]> option) =>
            p.GetValue(option) is { Length: > 0 } list ? list : null;
        FreeStepGiven FreeStep(string text) =>
            text.Split(' ', 3, StringSplitOptions.RemoveEmptyEntries) is [var part, var where, var what]
                ? new(part, where, what, null, null, null)
                : throw new Refusal(
                    2,
                    $"'{text}' is not a step. Right would be: part, where and what, such as: build B Fit the spare power supply"
                );
        Command Draft(string verb, string about, Func<ParseResult, DraftChange> given, params Symbol[] takes) =>
            Drafted(verb, about, (p, _, _) => Task.FromResult(given(p)), takes);
        Command Drafted(
            string verb,
            string about,
            Func<ParseResult, KeepClient, CancellationToken, Task<DraftChange>> given,
            params Symbol[] takes
        ) =>
            frame.Verb(
                verb,
                about,
                async (p, c, ct) =>
                {
                    var made = await c.DraftAsync(await given(p, c, ct), ct);
                    frame.Shows(p, made, () => Printing.Change(screen, made));
                    return Blocks(made.FindingsAdded.Select(f => f.Severity));
                },
                [.. takes, why, title, start, minutes]
            );

        return Thing(
            "draft",
            "say what should be different; the plan is computed",
            Draft(
                "subnets",
                "these prefixes, on this side of this tunnel, and of others that the network joins",
                p =>
                    Of(p, tunnel) with
                    {
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
            ),
            Draft(
                "tunnel",
                "build a tunnel: one that is recorded as planned, or a new one between two gateways",
                p =>
                    p.GetValue(newCode) is { } made
                        ? Of(p, null) with
                        {
                            Kind = "new tunnel",
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
                        : Of(p, null) with
                        {
                            Kind = "new tunnel",
                            Tunnel = p.GetValue(built),
                        },
                built,
                newCode,
                newName,
                gatewayA,
                gatewayB,
                uplinkA,
                uplinkB,
                customer,
                pairs,
                suite
            ),
            Draft(
                "rekey",
                "new keys for these tunnels",
                p => Of(p, tunnel) with { Kind = "rekey", Also = Some(p, also) },
                tunnel,
                also
            ),
            Draft(
                "strengthen",
                "better protection for a tunnel",
                p => Of(p, tunnel) with { Kind = "strengthen", Suite = p.GetValue(suite) },
                tunnel,
                suite
            ),
            Draft(
                "platform",
                "another platform for a gateway, with every tunnel that ends on it",
                p =>
                    Of(p, null) with
                    {
                        Kind = "replace platform",
                        Gateway = p.GetValue(gateway),
                        Platform = p.GetValue(platform),
                        Beside = p.GetValue(beside),
                    },
                gateway,
                platform,
                beside
            ),
            Draft(
                "address",
                "another outer address for a gateway",
                p =>
                    Of(p, null) with
                    {
                        Kind = "address move",
                        Gateway = p.GetValue(gateway),
                        Address = p.GetValue(address),
                        Uplink = p.GetValue(uplink),
                    },
                gateway,
                address,
                uplink
            ),
            Draft(
                "retire",
                "take a tunnel out of service, at both ends",
                p => Of(p, tunnel) with { Kind = "retire" },
                tunnel
            ),
            Drafted(
                "free",
                "steps written by hand, for what no kind covers, or what a change left over",
                async (p, c, ct) =>
                {
                    var left = p.GetValue(leftFrom) is { } from ? await c.ChangeAsync(from, ct) : null;
                    if (left is { LeftSteps.Count: 0 })
                        throw new Refusal(
                            2,
                            $"{left.Code} left no step over. Right would be: a change that is done and skipped one."
                        );
                    FreeStepGiven[] steps = [.. left?.LeftSteps ?? [], .. (p.GetValue(byHand) ?? []).Select(FreeStep)];
                    return steps.Length > 0
                        ? Of(p, tunnel) with
                        {
                            Kind = "free",
                            Steps = steps,
                        }
                        : throw new Refusal(
                            2,
                            "No step is named. Right would be: --step, once for each, or --left-from with the change that left steps over."
                        );
                },
                tunnel,
                byHand,
                leftFrom
            )
        );
    }
}
