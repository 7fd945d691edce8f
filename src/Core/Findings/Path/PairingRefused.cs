using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>
/// PATH-17: a pairing of uplinks that the ends may use, and that would not come up although the preferred one does.
/// </summary>
public static class PairingRefused
{
    /// <summary>A pairing of uplinks that would not come up (PATH-17).</summary>
    public static readonly Check Check = new("PATH-17", "a pair of uplinks over which it would not come up", c =>
    {
        if (
            c.View.A.Uplinks.Take(2).Count() * c.View.B.Uplinks.Take(2).Count() <= 1
            || !c.Negotiations.Any(r => r.ComesUp)
        )
            return [];
        return Rehearse
            .Pairings(c.View)
            .Skip(1)
            .Select(p =>
                (p.A, p.B, p.View, Tried: Enum.GetValues<EndName>().Select(e => Rehearse.From(p.View, e)).ToArray())
            )
            .Where(p =>
                p.Tried.All(r => r.Outcome is Outcome.Down or Outcome.DoesNotStart or Outcome.IkeOnly)
                && p.Tried.Any(r => r.Outcome != Outcome.DoesNotStart)
            )
            .Select(p =>
            {
                var r = p.Tried.First(x => x.Outcome != Outcome.DoesNotStart);
                var why = FindingText.Why(new(p.View), r, r.Stop!);
                return new Finding
                {
                    Severity = Severity.Degrades,
                    Subject = $"{p.A.Label}/{p.B.Label}",
                    What =
                        $"Over {p.A.Label} at {EndName.A} and {p.B.Label} at {EndName.B} it would not come up: {why}",
                    Why = $"When the preferred uplink fails, this pair of uplinks remains.",
                    Do = ToDo(p.View, r.Stop!),
                    Consequence = $"Over {p.A.Label} and {p.B.Label} it would not come up.",
                    Evidence =
                    [
                        new Evidence(EndName.A, "Uplink", $"{p.A.Label} {p.A.OuterText}", c.View.A.Gateway.Code),
                        new Evidence(EndName.B, "Uplink", $"{p.B.Label} {p.B.OuterText}", c.View.B.Gateway.Code),
                    ],
                };
            });
    });

    /// <summary>What resolves this very stop, over these uplinks.</summary>
    private static Sentence ToDo(TunnelView view, Obstacle stop)
    {
        var (a, b) = (view.A.Uplinks[0].Label, view.B.Uplinks[0].Label);
        Sentence orRemove = $"or remove {a} at {EndName.A} or {b} at {EndName.B} from this tunnel";
        // The row names the end whose address is meant; the other one has it entered.
        var owner = stop.RowKey?.Owner == EndName.A ? view.A : view.B;
        if (Pair.PeerAddressWrong.Check.Meets(stop.Cause) && owner.Outer is { } outer)
            return $"Enter {outer} among the peer addresses at {owner.Other.Name} if {owner.Other.Platform.Title:w} takes "
                + $"several, {orRemove}.";
        if (InboundBlocked.Check.Meets(stop.Cause))
            return $"Allow IKE (UDP 500 and 4500) and ESP inbound over {owner.Uplinks[0].Label} at {owner.Name}, {orRemove}.";
        return $"Resolve {Checks.CodeOf(stop):w} for these uplinks, {orRemove}.";
    }
}
