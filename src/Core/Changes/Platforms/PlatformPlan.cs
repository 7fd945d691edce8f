using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Changes.Addresses;
using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Platforms;

/// <summary>
/// A gateway becomes another platform. Every setting that its tunnels have there, set, agreed or by default, is carried
/// over: kept, changed to what and why, or impossible. Where the other end has to follow, it does.
/// </summary>
internal static class PlatformPlan
{
    public static Planned Of(Inventory inventory, PlatformRequest request, DateOnly today, CancellationToken ct)
    {
        var gateway = inventory.Get<Gateway>(request.GatewayId);
        var (from, to) = (inventory.Get<Platform>(gateway.PlatformId), inventory.Get<Platform>(request.PlatformId));
        if (Refused(inventory, request, gateway, to) is { } refused)
            return Planned.No(refused);
        var ground = inventory.With(Replaced(gateway, to, request.Beside));
        var translations = new List<Translated>();
        var after = request
            .TunnelIds.Select(id =>
                Carried(new(inventory, inventory.Get<Tunnel>(id), today), ground, request, translations)
            )
            .ToArray();
        var maker = new PlanMaker(inventory, ground.With(after), request.TunnelIds, today, ct: ct)
        {
            Main = gateway.Id,
        };
        MakeSteps(maker, request, gateway, from, to);
        return Planned.Yes(
            maker.Done(
                $"Makes {gateway.Code} {Say.A(to.Title):w} instead of {Say.A(from.Title):w}, "
                    + $"{(request.Beside is null ? "in its place" : "built beside it"):w}, with "
                    + $"{Say.Count(request.TunnelIds.Length, "tunnel"):w}.",
                Told(maker, translations)
            ) with
            {
                Translations = [.. translations],
            }
        );
    }

    private static Refusal? Refused(Inventory inventory, PlatformRequest request, Gateway gateway, Platform to)
    {
        if (gateway.PlatformId == to.Id)
            return new(
                null,
                "platform",
                $"{gateway.Code} is {Say.A(to.Title):w} already.",
                $"Choose another platform profile."
            );
        if (request.TunnelIds.IsEmpty)
            return new(
                null,
                "gateway",
                $"No tunnel ends on {gateway.Code}.",
                $"Correct the platform in the gateway's record."
            );
        return request.Beside is { } taken && inventory.At(taken).FirstOrDefault() is { } there
            ? new(
                Findings.Addresses.AddressTwice.Check.Code,
                "beside",
                $"{taken} is the outer address of {there.Code}.",
                $"Use an outer address that no gateway has."
            )
            : null;
    }

    /// <summary>The gateway on the other platform, with the new device's outer address where it has its own.</summary>
    private static Gateway Replaced(Gateway gateway, Platform to, Address? beside)
    {
        var replaced = gateway with { PlatformId = to.Id };
        if (beside is not { } outer)
            return replaced;
        var first = gateway.Uplinks[0] with { Address = Recorded<UplinkAddress>.Known(new(outer, null)) };
        return replaced with { Uplinks = gateway.Uplinks.SetItem(0, first) };
    }

    /// <summary>A tunnel with what it has on the gateway carried over.</summary>
    /// <param name="request">What was asked for.</param>
    /// <param name="was">As it is.</param>
    /// <param name="ground">The records with the gateway replaced.</param>
    /// <param name="told">What becomes of each setting is added here.</param>
    private static Tunnel Carried(TunnelView was, Inventory ground, PlatformRequest request, List<Translated> told)
    {
        var gateway = was.Inventory.Get<Gateway>(request.GatewayId);
        var to = ground.Get<Platform>(request.PlatformId);
        var tunnel = request.Beside is { } now
            ? MovePlan.Followed(
                was.Tunnel,
                gateway.Id,
                new(gateway.Uplinks.FirstOrDefault()?.Outer, now)
                {
                    OldName = gateway.Uplinks.FirstOrDefault()?.Address.Value?.Name,
                }
            )
            : was.Tunnel;
        foreach (var end in was.Ends.Where(e => e.Gateway.Id == gateway.Id))
        {
            var translation = new Translation(end, to, tunnel);
            tunnel = translation.Carry();
            told.AddRange(translation.Told);
        }

        return new TunnelView(ground.With(tunnel), tunnel, was.Today).WithEntered(e => e.Gateway.Id == gateway.Id);
    }

    private static void MakeSteps(PlanMaker maker, PlatformRequest request, Gateway gateway, Platform from, Platform to)
    {
        var near = maker.Tunnels.SelectMany(t => t.Then.Ends).First(e => e.Gateway.Id == gateway.Id);
        var place = request.Beside is { } beside
            ? $" beside the old one, with the outer address {beside}"
            : ", with its own management access, not yet on the uplink";
        maker.Prepare();
        maker.Add(
            StepWords.At(
                near,
                StepKind.Install,
                Part.Prepare,
                $"prepare-device-{gateway.Code}",
                15,
                $"Install the {to.Title:w} at {near.Site.Name:w}{place:w}. Set its clock."
            )
        );
        maker.Safeguard();
        // The new device is filled while the old one carries; the other ends and the uplink move together.
        maker.WorkEnds((t, end) => t.Then.End(end).Gateway.Id == gateway.Id);
        if (request.Beside is null)
            maker.Add(Cut(near, from, to, request.TunnelIds.Length));
        maker.WorkEnds((t, end) => t.Then.End(end).Gateway.Id != gateway.Id);
        maker.Prove();
        maker.Record(
            StepWords.At(
                near,
                StepKind.SwitchOff,
                Part.Record,
                $"old-device-{gateway.Code}",
                3,
                $"Keep the old {from.Title:w} unchanged until the new one has worked for a full working day. Then "
                    + $"switch it off and delete its keys."
            ) with
            {
                TunnelId = null,
                NoReturn = true,
            }
        );
    }

    private static Step Cut(EndView near, Platform from, Platform to, int tunnels) =>
        StepWords.At(
            near,
            StepKind.Cut,
            Part.Switch,
            $"cut-{near.Gateway.Code}",
            5,
            $"Move the uplink from the old {from.Title:w} to the {to.Title:w}."
        ) with
        {
            Stops =
                $"Every tunnel of {near.Gateway.Code} is down until the {to.Title:w} is on the uplink: "
                + $"{Say.Count(tunnels, "tunnel"):w}.",
            Undo = $"Move the uplink back to the old {from.Title:w}.",
        };

    private static IEnumerable<VerdictPart> Told(PlanMaker maker, IReadOnlyList<Translated> translations)
    {
        int Count(Carries carries) => translations.Count(t => t.Carries == carries);
        yield return new(
            Tone.Plain,
            $"{Say.Count(Count(Carries.Kept), "setting"):w} kept, {Count(Carries.Changed)} changed, "
                + $"{Count(Carries.Impossible)} impossible."
        );
        foreach (var t in maker.Tunnels.Where(t => t.Then.Version == IkeVersion.IKEv1))
            if (
                t.Then.Ends.All(e => e.Platform.IkeVersions.Contains(IkeVersion.IKEv2))
                && CommonGround.Strongest(t.Then.A.Platform, t.Then.B.Platform, IkeVersion.IKEv2) is { } better
            )
                yield return new(
                    Tone.Plain,
                    $"{t.Then.Tunnel} keeps its proposals. Both ends then support {better.ToString()} in IKEv2; "
                        + $"plan that as a separate change."
                );
        foreach (var t in translations.Where(t => t.Carries == Carries.Impossible).Take(3))
            yield return new(Tone.Stops, $"{t.TunnelCode}, {t.What:w}: {t.Why}");
    }
}
