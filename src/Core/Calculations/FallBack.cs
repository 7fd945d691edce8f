using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Calculations;

/// <summary>
/// What carries the traffic when a tunnel in a fallback order is dead: the next place, and after how long at each end.
/// </summary>
public static class FallBack
{
    /// <summary>One sentence; null when the tunnel is in no order, or is the last of it.</summary>
    public static Sentence? Of(TunnelView view)
    {
        if (view.Tunnel.Fallback is not { } place)
            return null;
        var next = view
            .Ends.SelectMany(e => view.Inventory.On(e.Gateway.Id))
            .Select(o => o.Tunnel)
            .Where(t => t.Id != view.Tunnel.Id && t.Fallback?.Order == place.Order && t.Fallback.Place > place.Place)
            .DistinctBy(t => t.Id)
            .OrderBy(t => t.Fallback!.Place)
            .FirstOrDefault();
        if (next is null)
            return null;
        string At(EndView e) =>
            Detection.Of(e, "", "").Seconds is { } s
                ? $"after {s.ToString("#,0.#", CultureInfo.InvariantCulture)} s"
                : "after an unknown time";
        Sentence when = $"traffic from {EndName.A} {At(view.A):w}, traffic from {EndName.B} {At(view.B):w}";
        if (
            view.Inventory.Find<Gateway>(next.A.GatewayId) is null
            || view.Inventory.Find<Gateway>(next.B.GatewayId) is null
        )
            return $"Next in {place.Order} is {next}: {when}.";
        var other = new TunnelView(view.Inventory, next, view.Today);
        var sides = Enum.GetValues<EndName>().Select(e => Rehearse.From(other, e)).ToArray();
        Sentence stands =
            !sides.Any(r => r.ComesUp) ? Sentence.Plain("; but as recorded that tunnel does not come up")
            : other.Ends.Any(e => e.Get(Settings.Initiation).Value?.Value == Initiation.Always)
                ? Sentence.Plain("; it is up already, so nothing needs to be negotiated")
            : Sentence.Plain("; it initiates on traffic, so add the time of a negotiation");
        return $"Next in {place.Order} is {next}: {when}{stands}.";
    }
}
