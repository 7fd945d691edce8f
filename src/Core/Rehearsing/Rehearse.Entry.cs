using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>Which peer entry of the responder's gateway takes what the initiator sends.</summary>
public sealed partial class Rehearse
{
    /// <summary>How the responder's own entry for this tunnel fits the source.</summary>
    private enum EntryFit
    {
        /// <summary>It is for that address, or for the name of it.</summary>
        Exact,

        /// <summary>It is for any address.</summary>
        Any,

        /// <summary>It is for another address.</summary>
        Not,

        /// <summary>Nobody knows.</summary>
        Open,
    }

    /// <summary>
    /// The nearest entry for the source takes the message: one for that address, before one for any. Where another
    /// tunnel's is nearer, that one answers.
    /// </summary>
    /// <param name="at">The number of the message that looks for it.</param>
    /// <param name="nameKnown">Whether the first message carries the identity already (aggressive mode).</param>
    private void Entry(int at, bool nameKnown)
    {
        var entries = view.Inventory.EntriesOf(responder.Gateway.Id);
        var id = view.Tunnel.Id;
        var exact = initiator.Outer is { } source ? entries.For(source, id) : [];
        var forAny = entries.ForAny(id);
        switch (OwnEntry(at, nameKnown))
        {
            case EntryFit.Exact when exact.Any():
                Among(exact, nameKnown);
                break;
            case EntryFit.Any when exact.Any():
                if (responder.Platform.LooksUpBy?.Contains(Lookup.Name) == true && NameDecides(nameKnown))
                    Among(exact, nameKnown);
                else if (responder.Platform.LooksUpBy is null)
                    AsksWhich();
                else
                    elsewhere = exact.First();
                break;
            case EntryFit.Any when forAny.Any():
                Among(forAny, nameKnown);
                break;
            case EntryFit.Not:
                elsewhere = exact.FirstOrDefault() ?? (LooksUpAny(nameKnown) ? forAny.FirstOrDefault() : null);
                // What another tunnel's entry answers is refused there, and is no silence.
                if (elsewhere is null)
                    NoEntry(at);
                break;
        }
    }

    /// <summary>How the entry of this tunnel fits; what is not known is asked.</summary>
    private EntryFit OwnEntry(int at, bool nameKnown)
    {
        var source = initiator.Outer;
        if (responder.PeerAddress.Value is not { } entered)
        {
            // Nothing is entered and the source is not known either: whoever looks for it by address finds nothing.
            if (initiator.AddressIsDynamic)
                return EntryFit.Not;
            Asks(Stage.Entry, responder.Name, $"its peer address for {initiator.Name}");
            return EntryFit.Open;
        }

        if (entered.IsAny)
            return TakesAny(at, nameKnown) ? EntryFit.Any : EntryFit.Open;
        if (entered.Name is { } name)
        {
            if (initiator.Uplinks.FirstOrDefault()?.Address.Value?.Name == name)
                return EntryFit.Exact;
            if (source is null)
            {
                Asks(Stage.Entry, responder.Name, $"what {name} resolves to");
                return EntryFit.Open;
            }

            assumed.Add((responder.Name, Assumption.NameResolves));
            return EntryFit.Exact;
        }

        if (source == entered.Address)
            return EntryFit.Exact;
        if (source is not null || initiator.AddressIsDynamic)
            return EntryFit.Not;
        Asks(Stage.Entry, initiator.Name, "its outer address");
        return EntryFit.Open;
    }

    private void NoEntry(int at, string? entered = null) =>
        Stops(
            Stage.Entry,
            at,
            responder.Name,
            Silence,
            RowKey.AddressOf(initiator.Name),
            new NoPeerEntry(initiator.Outer, entered ?? responder.PeerAddress.Value?.ToString() ?? "nothing")
        );

    /// <summary>Whether the identity is told before the entry matters.</summary>
    private bool NameDecides(bool nameKnown) => !Old || nameKnown || MethodOf(responder) == Authentication.Certificate;

    /// <summary>Whether an entry for any address takes this message.</summary>
    private bool LooksUpAny(bool nameKnown) =>
        responder.Platform.LooksUpBy is { } by
        && (by.Contains(Lookup.Any) || (by.Contains(Lookup.Name) && NameDecides(nameKnown)));

    /// <summary>
    /// An entry for any address needs a platform that looks a peer up without its address. It takes one with a fixed
    /// address as well.
    /// </summary>
    private bool TakesAny(int at, bool nameKnown)
    {
        if (responder.Platform.LooksUpBy is null)
        {
            Asks(Stage.Entry, responder.Name, "whether a peer entry for any address matches", true);
            return true;
        }

        if (LooksUpAny(nameKnown))
            return true;
        NoEntry(at, "any address, which its platform does not look up");
        return false;
    }

    /// <summary>
    /// Several entries fit alike. The identity tells them apart where the platform looks up by it, where it is told in
    /// time, and where the entries expect unlike ones.
    /// </summary>
    private void Among(IEnumerable<Tunnel> others, bool nameKnown)
    {
        var byName = responder.Platform.LooksUpBy?.Contains(Lookup.Name);
        // Main mode with a pre-shared key finds the key by the source alone (RFC 2409 section 5.4).
        if (others.FirstOrDefault(o => !NameDecides(nameKnown) || ExpectsTheSame(o)) is { } twin && !ForAnyInMainMode)
        {
            if (MethodOf(responder) == Authentication.Certificate)
                assumed.Add((responder.Name, Assumption.SelectorsSeparate));
            else
                Asks(
                    Stage.Entry,
                    responder.Name,
                    $"which entry it selects: nothing separates {view.Tunnel.Code} from {twin.Code} there (the same "
                        + $"peer address{(NameDecides(nameKnown) ? " and identity" : "")}, unlike keys)"
                );
        }
        else if (byName is null)
            AsksWhich();
        else if (byName == true && NameDecides(nameKnown))
            assumed.Add((responder.Name, Assumption.IdentitySeparates));
        else if (!Old)
            AsksWhich();
    }

    // Peer entries for any address in main mode are told by the look-up of the key.
    private bool ForAnyInMainMode => Old && responder.PeerAddress.Value?.IsAny == true;

    private void AsksWhich() =>
        Asks(
            Stage.Entry,
            responder.Name,
            "which of several matching peer entries it selects",
            responder.Platform.LooksUpBy is null
        );

    /// <summary>Whether another tunnel's entry at the responder expects the identity that this one's does.</summary>
    private bool ExpectsTheSame(Tunnel other)
    {
        if ((responder.IdentityExpected.Value ?? initiator.IdentitySent.Value) is not { } here)
            return false;
        var end = EndAtResponder(other);
        // A hub has thousands of entries: most say themselves that they expect another.
        var said = other.End(end).IdentityExpected?.Value ?? other.Agreed.IdentityOf(end.Other());
        return (said is null || said == here) && EntryOf(other).IdentityExpected.Value == here;
    }

    private EndName EndAtResponder(Tunnel other) => other.A.GatewayId == responder.Gateway.Id ? EndName.A : EndName.B;

    /// <summary>The end of another tunnel at the responder's gateway.</summary>
    private EndView EntryOf(Tunnel other) =>
        new TunnelView(view.Inventory, other, view.Today).End(EndAtResponder(other));

    /// <summary>
    /// The entry of another tunnel answers in place of this one's. It has a key of its own; by certificate it knows the
    /// initiator where it expects the identity that is sent.
    /// </summary>
    private void AnswersElsewhere(int at, EndName refusedBy, string notify)
    {
        if (elsewhere is not { } other || KnownElsewhere(other))
            return;
        Stops(
            refusedBy == responder.Name ? Stage.AtResponder : Stage.AtInitiator,
            at,
            refusedBy,
            notify,
            RowKey.AddressOf(initiator.Name),
            new LandsElsewhere(other, Entered(other), Authenticated: false)
        );
    }

    /// <summary>The other tunnel's entry takes the initiator, and answers with that tunnel's subnets.</summary>
    private void SelectsElsewhere(Func<SubnetPair, int> at, string notify, List<SubnetPair> agreed)
    {
        if (elsewhere is not { } other || !KnownElsewhere(other))
            return;
        var entry = EntryOf(other);
        ImmutableArray<SubnetPair> refused =
        [
            .. agreed.Where(p =>
                entry.Selects(entry.Name == responder.Name ? p : new(p.B, p.A, p.Only?.Turned)) != true
            ),
        ];
        if (refused.IsEmpty)
            return;
        Stops(
            Stage.Selectors,
            at(refused[0]),
            responder.Name,
            notify,
            RowKey.AddressOf(initiator.Name),
            new LandsElsewhere(other, Entered(other), Authenticated: true),
            refused
        );
        agreed.RemoveAll(refused.Contains);
    }

    private bool KnownElsewhere(Tunnel other) =>
        MethodOf(responder) == Authentication.Certificate
        && EntryOf(other) is var entry
        && entry.Get(Settings.Authentication).Value?.Value == Authentication.Certificate
        && initiator.IdentitySent.Value is { } sent
        && entry.IdentityExpected.Value == sent;

    /// <summary>What the other tunnel's entry at the responder is for, as it is entered.</summary>
    private string Entered(Tunnel other) => EntryOf(other).PeerAddress.Value?.ToString() ?? "nothing";
}
