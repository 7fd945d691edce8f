using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>Beginning: who initiates, whether anything arrives, and which entry of the other end it meets.</summary>
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
                "PAIR-13",
                Settings.Initiation.Key,
                new DoesNotStart(StartFault.RespondsOnly)
            );
        var entered = initiator.PeerAddress;
        if (
            entered.Pending is not null
            || (entered.Value is null && responder.Uplinks.FirstOrDefault()?.Address.Pending is not null)
        )
            Stops(
                Stage.Start,
                0,
                initiator.Name,
                "not sent",
                "PAIR-13",
                $"addressOf{responder.Name}",
                new DoesNotStart(StartFault.AddressPending)
            );
        else if (entered.Value?.IsAny == true || (entered.Value is null && responder.AddressIsDynamic))
            Stops(
                Stage.Start,
                0,
                initiator.Name,
                "not sent",
                "PAIR-13",
                $"addressOf{responder.Name}",
                new DoesNotStart(StartFault.AddressIsDynamic)
            );
        else if (entered.Value is null)
            Asks(Stage.Start, responder.Name, "its outer address");
    }

    private void Reach()
    {
        // Who does not know where to send sends nothing that could be lost on the way.
        if (obstacles.Any(o => o.Cause is DoesNotStart { Fault: not StartFault.RespondsOnly }))
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
                        "no response",
                        "PAIR-08",
                        $"addressOf{responder.Name}",
                        new WrongAddress(peer.ToString(), outer.ToString())
                    );
            }
            else if (peer.Address is not null && responder.AddressIsDynamic)
                Stops(
                    Stage.Reach,
                    first,
                    null,
                    "no response",
                    "PAIR-08",
                    $"addressOf{responder.Name}",
                    new WrongAddress(peer.ToString(), "dynamic")
                );
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
            if (uplink.Reached("IKE") is { } reached)
            {
                if (!reached)
                    Stops(
                        Stage.Reach,
                        first,
                        null,
                        "no response",
                        "PATH-11",
                        $"addressOf{responder.Name}",
                        new NotReached("IKE", uplink.AllowsInbound?.Contains("IKE") != false)
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
            Stops(
                Stage.Version,
                1,
                responder.Name,
                "no response",
                "PAIR-01",
                Settings.IkeVersions.Key,
                new VersionsMismatch()
            );
    }

    /// <summary>Which peer entry of the responder's gateway takes a message from the initiator's address.</summary>
    /// <param name="nameKnown">Whether the first message carries the identity already (aggressive mode).</param>
    private void Entry(int at, bool nameKnown)
    {
        var source = initiator.Outer;
        var entered = responder.PeerAddress.Value;
        var entries = view.Inventory.EntriesOf(responder.Gateway.Id);
        var id = view.Tunnel.Id;
        if (entered is null)
        {
            // Nothing is entered and the source is not known either: whoever looks for it by address finds nothing.
            if (initiator.AddressIsDynamic)
                Stops(
                    Stage.Entry,
                    at,
                    responder.Name,
                    "no response",
                    "PAIR-08",
                    $"addressOf{initiator.Name}",
                    new NoPeerEntry(source, "nothing")
                );
            else
                Asks(Stage.Entry, responder.Name, $"its peer address for {initiator.Name}");
            return;
        }

        if (!entered.IsAny)
        {
            if (entered.Name is { } name)
            {
                if (initiator.Uplinks.FirstOrDefault()?.Address.Value?.Name != name)
                {
                    if (source is null)
                        Asks(Stage.Entry, responder.Name, $"what {name} resolves to");
                    else
                        assumed.Add((responder.Name, Assumption.NameResolves));
                }
            }
            else if (source != entered.Address)
            {
                if (source is null && !initiator.AddressIsDynamic)
                    Asks(Stage.Entry, initiator.Name, "its outer address");
                else
                    Stops(
                        Stage.Entry,
                        at,
                        responder.Name,
                        "no response",
                        "PAIR-08",
                        $"addressOf{initiator.Name}",
                        new NoPeerEntry(source, entered.ToString())
                    );
            }
        }

        var nearer = entered.IsAny && source is { } s ? entries.For(s, id).FirstOrDefault() : null;
        var mates = entered.IsAny ? entries.ForAny(id).Any() : source is { } exact && entries.For(exact, id).Any();
        if (nearer is null && !mates)
            return;
        // The identity sorts them out where the platform looks up by name, and where it is told before the entry
        // matters.
        var byName = responder.Platform.LooksUpBy?.Contains(Lookup.Name);
        var later = !Old || nameKnown || MethodOf(responder) == Authentication.Certificate;
        if (byName == true && later)
            assumed.Add((responder.Name, Assumption.IdentitySeparates));
        else if (nearer is not null && byName is not null)
            Stops(
                Stage.Entry,
                at,
                responder.Name,
                "no response",
                "PAIR-08",
                $"addressOf{initiator.Name}",
                new LandsElsewhere(nearer)
            );
        else if (byName is null || !Old)
            Asks(Stage.Entry, responder.Name, "which of several matching peer entries it selects", byName is null);
    }
}
