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
                Settings.Initiation,
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
                RowKey.AddressOf(responder.Name),
                new DoesNotStart(StartFault.AddressPending)
            );
        else if (entered.Value?.IsAny == true || (entered.Value is null && responder.AddressIsDynamic))
            Stops(
                Stage.Start,
                0,
                initiator.Name,
                "not sent",
                RowKey.AddressOf(responder.Name),
                new DoesNotStart(StartFault.AddressIsDynamic)
            );
        else if (entered.Value is null)
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

    /// <summary>Which peer entry of the responder's gateway takes a message from the initiator's address.</summary>
    /// <param name="at">When, with its distance from UTC.</param>
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
                    Silence,
                    RowKey.AddressOf(initiator.Name),
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
                        Silence,
                        RowKey.AddressOf(initiator.Name),
                        new NoPeerEntry(source, entered.ToString())
                    );
            }
        }

        if (entered.IsAny)
            TakesAny(at, nameKnown);
        var nearer = entered.IsAny && source is { } s ? entries.For(s, id).FirstOrDefault() : null;
        var mates = entered.IsAny ? entries.ForAny(id).Any() : source is { } exact && entries.For(exact, id).Any();
        if (nearer is null && !mates)
            return;
        // The identity sorts them out where the platform looks up by name, and where it is told before the entry
        // matters.
        var byName = responder.Platform.LooksUpBy?.Contains(Lookup.Name);
        var later = NameDecides(nameKnown);
        if (byName == true && later)
            assumed.Add((responder.Name, Assumption.IdentitySeparates));
        else if (nearer is not null && byName is not null)
            elsewhere = nearer;
        else if (byName is null || !Old)
            Asks(Stage.Entry, responder.Name, "which of several matching peer entries it selects", byName is null);
    }

    /// <summary>Whether the identity is told before the entry matters.</summary>
    private bool NameDecides(bool nameKnown) => !Old || nameKnown || MethodOf(responder) == Authentication.Certificate;

    /// <summary>An entry for any address needs a platform that looks a peer up without its address.</summary>
    private void TakesAny(int at, bool nameKnown)
    {
        if (responder.Platform.LooksUpBy is not { } by)
            Asks(Stage.Entry, responder.Name, "whether a peer entry for any address matches", true);
        else if (!by.Contains(Lookup.Any) && !(by.Contains(Lookup.Name) && NameDecides(nameKnown)))
            Stops(
                Stage.Entry,
                at,
                responder.Name,
                Silence,
                RowKey.AddressOf(initiator.Name),
                new NoPeerEntry(initiator.Outer, "any address, which its platform does not look up")
            );
    }

    /// <summary>
    /// The entry of another tunnel that fits more closely answers in place of this one's, and does not know the
    /// initiator.
    /// </summary>
    private void AnswersElsewhere(int at, EndName refusedBy, string notify)
    {
        if (elsewhere is { } other)
            Stops(
                refusedBy == responder.Name ? Stage.AtResponder : Stage.AtInitiator,
                at,
                refusedBy,
                notify,
                RowKey.AddressOf(initiator.Name),
                new LandsElsewhere(other)
            );
    }
}
