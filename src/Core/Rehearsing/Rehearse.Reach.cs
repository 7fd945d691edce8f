using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>Beginning: who starts, whether anything arrives, and which entry of the other end it meets.</summary>
public sealed partial class Rehearse
{
    // Before the first message

    private void Begin()
    {
        var start = starter.Get(Settings.Start);
        if (!start.Known)
            Asks(
                Stage.Start,
                starter.Name,
                "whether it starts by itself",
                starter.End.Set.Get(Settings.Start) is null && starter.Platform.Defaults.IsEmpty
            );
        else if (start.Value!.Value == Start.OnlyAnswer)
            Stops(
                Stage.Start,
                0,
                starter.Name,
                "not sent",
                "PAIR-13",
                Settings.Start.Key,
                new DoesNotStart(StartFault.OnlyAnswers)
            );
        var entered = starter.PeerAddress;
        if (
            entered.Pending is not null
            || (entered.Value is null && answerer.Uplinks.FirstOrDefault()?.Address.Pending is not null)
        )
            Stops(
                Stage.Start,
                0,
                starter.Name,
                "not sent",
                "PAIR-13",
                $"addressOf{answerer.Name}",
                new DoesNotStart(StartFault.AddressPending)
            );
        else if (entered.Value?.IsAny == true || (entered.Value is null && answerer.AddressMoves))
            Stops(
                Stage.Start,
                0,
                starter.Name,
                "not sent",
                "PAIR-13",
                $"addressOf{answerer.Name}",
                new DoesNotStart(StartFault.AddressMoves)
            );
        else if (entered.Value is null)
            Asks(Stage.Start, answerer.Name, "what its outer address is");
    }

    private void Reach()
    {
        // Who does not know where to send sends nothing that could be lost on the way.
        if (obstacles.Any(o => o.Cause is DoesNotStart { Fault: not StartFault.OnlyAnswers }))
            return;
        const int first = 1;
        if (starter.PeerAddress.Value is { IsAny: false } peer)
        {
            var real = answerer.Uplinks.FirstOrDefault();
            if (peer.Address is { } at && answerer.Outer is { } outer)
            {
                if (at != outer)
                    Stops(
                        Stage.Reach,
                        first,
                        null,
                        "no answer",
                        "PAIR-08",
                        $"addressOf{answerer.Name}",
                        new WrongAddress(peer.ToString(), outer.ToString())
                    );
            }
            else if (peer.Address is not null && answerer.AddressMoves)
                Stops(
                    Stage.Reach,
                    first,
                    null,
                    "no answer",
                    "PAIR-08",
                    $"addressOf{answerer.Name}",
                    new WrongAddress(peer.ToString(), "not fixed")
                );
            else if (peer.Name is not null && real?.Address.Value?.Name != peer.Name)
            {
                if (answerer.Outer is null)
                    Asks(Stage.Reach, starter.Name, $"what {peer.Name} resolves to");
                else
                    assumed.Add((starter.Name, Assumption.NameResolves));
            }
            else if (peer.Name is not null)
                assumed.Add((starter.Name, Assumption.NameResolves));
        }

        if (answerer.Uplinks.FirstOrDefault() is { } uplink)
        {
            if (uplink.Reached("IKE") is { } reached)
            {
                if (!reached)
                    Stops(
                        Stage.Reach,
                        first,
                        null,
                        "no answer",
                        "PATH-11",
                        $"addressOf{answerer.Name}",
                        new NotReached("IKE", uplink.LetsIn?.Contains("IKE") != false)
                    );
            }
            else
            {
                if (uplink.LetsIn is null)
                    assumed.Add((answerer.Name, Assumption.LetIn));
                if (uplink.Translator is { Forwards: null })
                    assumed.Add((answerer.Name, Assumption.OneToOneForwards));
            }
        }
    }

    private void Versions()
    {
        var (a, b) = (view.A.Get(Settings.IkeVersions), view.B.Get(Settings.IkeVersions));
        foreach (var (end, value) in new[] { (view.A, a), (view.B, b) })
            if (!value.Known)
                Asks(Stage.Version, end.Name, "which IKE version it speaks", end.Platform.IkeVersions.IsEmpty);
        if (a.Known && b.Known)
            Stops(
                Stage.Version,
                1,
                answerer.Name,
                "no answer",
                "PAIR-01",
                Settings.IkeVersions.Key,
                new VersionsApart()
            );
    }

    /// <summary>Which peer entry of the responder's gateway takes a message from the starter's address.</summary>
    /// <param name="nameKnown">Whether the first message carries the identity already (aggressive mode).</param>
    private void Entry(int at, bool nameKnown)
    {
        var source = starter.Outer;
        var entered = answerer.PeerAddress.Value;
        var entries = view.Inventory.EntriesOf(answerer.Gateway.Id);
        var id = view.Tunnel.Id;
        if (entered is null)
        {
            // Nothing is entered and the source is not known either: whoever looks for it by address finds nothing.
            if (starter.AddressMoves)
                Stops(
                    Stage.Entry,
                    at,
                    answerer.Name,
                    "no answer",
                    "PAIR-08",
                    $"addressOf{starter.Name}",
                    new NoPeerEntry(source, "nothing")
                );
            else
                Asks(Stage.Entry, answerer.Name, $"which address it has entered for {starter.Name}");
            return;
        }

        if (!entered.IsAny)
        {
            if (entered.Name is { } name)
            {
                if (starter.Uplinks.FirstOrDefault()?.Address.Value?.Name != name)
                {
                    if (source is null)
                        Asks(Stage.Entry, answerer.Name, $"what {name} resolves to");
                    else
                        assumed.Add((answerer.Name, Assumption.NameResolves));
                }
            }
            else if (source != entered.Address)
            {
                if (source is null && !starter.AddressMoves)
                    Asks(Stage.Entry, starter.Name, "what its outer address is");
                else
                    Stops(
                        Stage.Entry,
                        at,
                        answerer.Name,
                        "no answer",
                        "PAIR-08",
                        $"addressOf{starter.Name}",
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
        var byName = answerer.Platform.LooksUpBy?.Contains(Lookup.Name);
        var later = !Old || nameKnown || MethodOf(answerer) == Authentication.Certificate;
        if (byName == true && later)
            assumed.Add((answerer.Name, Assumption.IdentityTellsApart));
        else if (nearer is not null && byName is not null)
            Stops(
                Stage.Entry,
                at,
                answerer.Name,
                "no answer",
                "PAIR-08",
                $"addressOf{starter.Name}",
                new LandsElsewhere(nearer)
            );
        else if (byName is null || !Old)
            Asks(Stage.Entry, answerer.Name, "which of several matching peer entries takes the call", byName is null);
    }
}
