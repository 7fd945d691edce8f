using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Fixes;

/// <summary>One message as it is drawn.</summary>
/// <param name="Number">From 1, down the ladder.</param>
/// <param name="Name">As the standards have it.</param>
/// <param name="From">The end that sends it.</param>
/// <param name="Carries">What it carries that matters.</param>
/// <param name="Decides">What the receiver decides; null where nothing is decided.</param>
/// <param name="IfFixed">Whether it is sent only once the stop is fixed.</param>
public sealed record Rung(int Number, string Name, EndName From, Sentence Carries, Sentence? Decides, bool IfFixed);

/// <summary>
/// The messages of a rehearsal as they are sent: up to the stop, the notify that answers it, and then, if there is a
/// fix, those of the negotiation with that fix. After a stop that nothing fixes nothing is shown, because nothing is
/// sent.
/// </summary>
public static class Ladder
{
    /// <param name="about">The tunnel as it is.</param>
    /// <param name="r">The rehearsal of one side.</param>
    /// <param name="fix">The first fix of its stop; null when there is none.</param>
    public static ImmutableArray<Rung> Of(Checked about, Rehearsal r, Fix? fix)
    {
        var stop = FullStop(about, r);
        var sent = r.Exchanges.Where(x => stop is null || x.Number <= stop.Exchange);
        var rungs = sent.Select(x => Drawn(about, r, x, x.Number, false)).ToList();
        if (stop is null)
            return [.. rungs];
        var answersItself = stop.Exchange > 0 && r.Exchanges[stop.Exchange - 1].From == stop.RefusedBy;
        if (!answersItself && Refusal(r, stop, rungs.Count + 1) is { } refusal)
            rungs.Add(refusal);
        if (fix is null)
            return [.. rungs];
        var then = new Checked(new(about.View.Inventory.With([fix.Fixed]), fix.Fixed, about.View.Today));
        var from = Math.Min(answersItself ? stop.Exchange : stop.Exchange + 1, Alike(r, fix.Then) + 1);
        var next = FullStop(then, fix.Then);
        foreach (var x in fix.Then.Exchanges.Where(x => x.Number >= from && !(x.Number > next?.Exchange)))
            rungs.Add(Drawn(then, fix.Then, x, rungs.Count + 1, true));
        return [.. rungs];
    }

    /// <summary>
    /// How many messages of the two are the same. A fix can make it another exchange: IKEv2 in place of main mode, or one
    /// that asks again with another group.
    /// </summary>
    private static int Alike(Rehearsal one, Rehearsal other) =>
        one
            .Exchanges.Zip(other.Exchanges)
            .TakeWhile(x => x.First.Message == x.Second.Message && x.First.From == x.Second.From)
            .Count();

    /// <summary>The first obstacle that stops every pair; null when there is none.</summary>
    public static Obstacle? FullStop(Checked about, Rehearsal r) =>
        r.Obstacles.FirstOrDefault(o => o.Pairs.IsEmpty || o.Pairs.Length == about.View.Tunnel.Agreed.Pairs.Length);

    private static Rung Drawn(Checked about, Rehearsal r, Exchange x, int number, bool ifFixed) =>
        new(
            number,
            FindingText.Name(x.Message),
            x.From,
            FindingText.Carries(about, r, x),
            FindingText.Decides(about, r, x),
            ifFixed
        );

    /// <summary>
    /// The message that carries the notify: the answer of the same exchange (RFC 7296 section 2.21), or an exchange of
    /// its own where the refused message was an answer itself, and under IKEv1 (RFC 2408 section 4.8). Null where
    /// nothing is answered.
    /// </summary>
    private static Rung? Refusal(Rehearsal r, Obstacle stop, int number)
    {
        if (stop is not { Kind: ObstacleKind.Refused, RefusedBy: { } by, Exchange: > 0 })
            return null;
        var message = r.Exchanges[stop.Exchange - 1].Message;
        var name = FindingText.Name(message);
        var answered = name.EndsWith(Request, StringComparison.Ordinal);
        return new(
            number,
            answered ? $"{name[..^Request.Length]}response" : FindingText.Name(Message.Refusal),
            by,
            Sentence.Of($"{stop.Notify:w}"),
            null,
            false
        );
    }

    private const string Request = "request";
}
