using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>Beginning: who initiates, and whether anything arrives.</summary>
public sealed partial class Rehearse
{
    // Before the first message

    private void Begin()
    {
        var start = initiator.Get(Settings.Initiation);
        if (!start.Known)
            Asks(
                Stage.Start,
                initiator.Name,
                "whether it initiates",
                initiator.End.Set.Get(Settings.Initiation) is null && initiator.Platform.Defaults.IsEmpty
            );
        else if (start.Value!.Value == Initiation.RespondsOnly)
            Stops(
                Stage.Start,
                0,
                initiator.Name,
                "not sent",
                Settings.Initiation,
                new DoesNotStart(StartFault.RespondsOnly)
            );
        if (StartFaults.NoDestination(initiator) is { } fault)
            Stops(
                Stage.Start,
                0,
                initiator.Name,
                "not sent",
                RowKey.AddressOf(responder.Name),
                new DoesNotStart(fault)
            );
        else if (!initiator.PeerAddress.Known)
            Asks(Stage.Start, responder.Name, "its outer address");
        // RFC 4301 section 4.4.1.2: both outer addresses of an SA are of one version.
        if (initiator.Outer is { } from && responder.Outer is { } to && from.Family != to.Family)
            Stops(
                Stage.Start,
                0,
                initiator.Name,
                "not sent",
                RowKey.AddressOf(responder.Name),
                new NoFamilyInCommon(from, to)
            );
    }

    private void Reach()
    {
        // Who does not know where to send sends nothing that could be lost on the way.
        if (obstacles.Any(o => o.Cause is NoFamilyInCommon or DoesNotStart { Fault: not StartFault.RespondsOnly }))
            return;
        const int first = 1;
        if (initiator.PeerAddress.Value is { IsAny: false } peer)
        {
            var real = responder.Uplinks.FirstOrDefault();
            if (peer.Address is { } at && responder.Outer is { } outer)
            {
                if (at != outer)
                    Stops(
                        Stage.Reach,
                        first,
                        null,
                        Silence,
                        RowKey.AddressOf(responder.Name),
                        new WrongAddress(peer.ToString(), outer.ToString())
                    );
            }
            else if (peer.Address is not null && responder.AddressIsDynamic)
                Stops(
                    Stage.Reach,
                    first,
                    null,
                    Silence,
                    RowKey.AddressOf(responder.Name),
                    new WrongAddress(peer.ToString(), "dynamic")
                );
            else if (peer.Address is not null)
                Asks(Stage.Reach, responder.Name, real?.Nat is null ? "its outer address" : "its public address");
            else if (peer.Name is not null && real?.Address.Value?.Name != peer.Name)
            {
                if (responder.Outer is null)
                    Asks(Stage.Reach, initiator.Name, $"what {peer.Name} resolves to");
                else
                    assumed.Add((initiator.Name, Assumption.NameResolves));
            }
            else if (peer.Name is not null)
                assumed.Add((initiator.Name, Assumption.NameResolves));
        }

        if (responder.Uplinks.FirstOrDefault() is { } uplink)
        {
            if (uplink.Reached(Inbound.Ike) is { } reached)
            {
                if (!reached)
                    Stops(
                        Stage.Reach,
                        first,
                        null,
                        Silence,
                        RowKey.AddressOf(responder.Name),
                        new NotReached(Inbound.Ike, uplink.AllowsInbound?.Contains(Inbound.Ike) != false)
                    );
            }
            else
            {
                if (uplink.AllowsInbound is null)
                    assumed.Add((responder.Name, Assumption.LetIn));
                if (uplink.Nat is { Forwards: null })
                    assumed.Add((responder.Name, Assumption.StaticNatForwards));
            }
        }
    }

    private void Versions()
    {
        var (a, b) = (view.A.Get(Settings.IkeVersions), view.B.Get(Settings.IkeVersions));
        foreach (var (end, value) in new[] { (view.A, a), (view.B, b) })
            if (!value.Known)
                Asks(Stage.Version, end.Name, "its IKE version", end.Platform.IkeVersions.IsEmpty);
        if (a.Known && b.Known)
            Stops(Stage.Version, 1, responder.Name, Silence, Settings.IkeVersions, new VersionsMismatch());
    }

    /// <summary>A version that was only agreed counts where the platform's profile says that it is supported.</summary>
    private void VersionSupported()
    {
        foreach (var end in view.Ends)
            if (end.Get(Settings.IkeVersions).Source == Source.Agreed && end.Platform.IkeVersions.IsEmpty)
                Asks(Stage.Version, end.Name, $"whether it supports {version}", true);
    }

    /// <summary>
    /// An initiator that has IKEv2 too begins with it; no standard has it begin again with IKEv1 when nobody answers.
    /// </summary>
    private void FallBack()
    {
        if (!Old || initiator.Get(Settings.IkeVersions).Value?.Items.Contains(IkeVersion.IKEv2) != true)
            return;
        switch (initiator.Platform.FallsBackToIkev1)
        {
            case true:
                assumed.Add((initiator.Name, Assumption.FallsBack));
                break;
            case false:
                Stops(Stage.Version, 1, responder.Name, Silence, Settings.IkeVersions, new NoFallBack());
                break;
            default:
                Asks(Stage.Version, initiator.Name, "whether it tries IKEv1 when its IKEv2 is not answered", true);
                break;
        }
    }
}
