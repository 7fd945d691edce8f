using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-11, read off the rehearsal: IKE or ESP does not reach an end.</summary>
public static class InboundBlocked
{
    /// <summary>IKE or ESP not allowed inbound or not forwarded (PATH-11).</summary>
    public static readonly Check Check = new("PATH-11", "IKE or ESP not allowed inbound or not forwarded", Run)
    {
        Meets = cause => cause is NotReached or PacketsLost && !Pair.EspLost.Check.Meets(cause),
    };

    private static IEnumerable<Finding> Run(Checked c)
    {
        foreach (var (r, o) in c.Met(Check))
        {
            var at = o.Cause is PacketsLost lost ? lost.Towards : r.Initiator.Other();
            var end = c.View.End(at);
            var blocked = o.Cause is NotReached n ? n.What : Inbound.Esp;
            var what = Nat.Forwardable.Of(blocked);
            // An end that never has to answer loses nothing by hiding behind its nat.
            var matters = o.Cause is PacketsLost || r.Outcome != Outcome.DoesNotStart;
            yield return new()
            {
                Severity =
                    !matters ? Severity.Note
                    : c.Negotiations.Any(x => x.ComesUp) ? Severity.Degrades
                    : Severity.Blocks,
                Subject = $"{at}:{what}",
                RowKey = RowKey.AddressOf(at),
                What = FindingText.Why(c, r, o),
                Why = $"{r.Initiator} gets no reply to its first packet, and neither device logs why.",
                Do =
                    $"Allow {(blocked == Inbound.Ike ? "UDP 500 and 4500" : "ESP or UDP 4500"):w} inbound to "
                    + $"{end.Gateway.Code}{OrInitiate(c, at):w}.",
                Consequence = matters ? Sentence.Of($"{what:w} does not reach {at}.") : null,
                Standard = "RFC 7296 section 2.23",
                Evidence = Checked.Of(c.Row(RowKey.AddressOf(at))),
            };
        }
    }

    /// <summary>
    /// The other way out, where it is one: the end that is not reached initiates, and the tunnel comes up.
    /// </summary>
    private static string OrInitiate(Checked c, EndName at)
    {
        if (c.Negotiated(at) is { ComesUp: true })
            return $"; {at} initiates already, so that {at.Other()} may respond only";
        var always = Recorded<Word<Initiation>>.Known(new(Initiation.Always, WordsOf.Initiations));
        var tunnel = c.View.Tunnel.WithEnd(at, e => e with { Set = e.Set.With(Settings.Initiation, always) });
        var then = new TunnelView(c.View.Inventory.With([tunnel]), tunnel, c.View.Today);
        return Rehearse.From(then, at).ComesUp ? $", or set {at} to initiate" : "";
    }
}
