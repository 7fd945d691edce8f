using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Timing;

/// <summary>When an end rekeys an SA, and when it drops it (RFC 7296 section 2.8).</summary>
public static class Rekeying
{
    /// <summary>
    /// Seconds after which the end rekeys by time: its lifetime less its margin, earlier still by its jitter. Null when
    /// lifetime or margin is not known.
    /// </summary>
    /// <param name="end">The end that it is asked of.</param>
    /// <param name="setting">The setting it is about.</param>
    /// <param name="initiator">The end that began: under IKEv1 it decides which lifetime holds.</param>
    public static Span? Rekeys(EndView end, Setting<Life> setting, EndName initiator)
    {
        if (LifeInForce.Of(end, setting, initiator) is not { } life || end.MarginRuleOf(setting) is not { } margin)
            return null;
        var latest = Math.Max(1, life.Time.InSeconds - margin.Of(life.Time));
        return new(Math.Max(1, latest - (life.Time.InSeconds * (end.Platform.Jitter ?? 0) / 100)), latest);
    }

    /// <summary>Seconds after which the end drops the SA by time; null when its lifetime is not known.</summary>
    public static long? Drops(EndView end, Setting<Life> setting, EndName initiator) =>
        LifeInForce.Of(end, setting, initiator)?.Time.InSeconds;

    /// <summary>
    /// Seconds until the data lifetime of a child SA is used up at the tunnel's throughput, exact; null when the end
    /// has none, or the throughput is not known.
    /// </summary>
    public static decimal? DataLasts(EndView end, EndName initiator) =>
        end.Tunnel.Tunnel.Throughput is { } speed
        && LifeInForce.Of(end, Settings.EspLifetime, initiator)?.Data is { } data
            ? data.InKilobytes * 8 / (1000m * speed)
            : null;

    /// <summary>
    /// Seconds after which the end rekeys because of the data: the margin holds for data as it does for time.
    /// </summary>
    public static decimal? RekeysByData(EndView end, EndName initiator)
    {
        if (DataLasts(end, initiator) is not { } lasts)
            return null;
        return end.MarginRuleOf(Settings.EspLifetime) switch
        {
            { Percent: { } percent } => lasts * (100 - percent) / 100,
            { Time: { } time } => Math.Max(0, lasts - time.InSeconds),
            _ => lasts,
        };
    }

    /// <summary>When the end rekeys a child SA, by time or by data, whichever comes first.</summary>
    public static Span? First(EndView end, EndName initiator)
    {
        var byTime = Rekeys(end, Settings.EspLifetime, initiator);
        if (RekeysByData(end, initiator) is not { } data)
            return byTime;
        var seconds = (long)data;
        return byTime is { } time && time.From <= seconds ? time : new(seconds, seconds);
    }

    /// <summary>When the end drops a child SA that was not rekeyed, by time or by data.</summary>
    private static long? Lost(EndView end, EndName initiator)
    {
        var byTime = Drops(end, Settings.EspLifetime, initiator);
        return DataLasts(end, initiator) is { } data && (byTime is null || data < byTime) ? (long)data : byTime;
    }

    /// <summary>
    /// The failure that a PFS mismatch brings later under IKEv2: the first child SA carries no group, the rekey does.
    /// Null when whoever rekeys first is answered.
    /// </summary>
    public static Deferred? OfPfs(TunnelView view, DhGroup? dhOfIke)
    {
        if (view.A.Get(Settings.Pfs).Value is not { } a || view.B.Get(Settings.Pfs).Value is not { } b)
            return null;
        var (byA, byB) = (Choice.PfsFits(a, b, dhOfIke), Choice.PfsFits(b, a, dhOfIke));
        if (byA != false && byB != false)
            return null;
        // IKEv2 alone: it does not matter which end began.
        var (rekeysA, rekeysB) = (First(view.A, EndName.A), First(view.B, EndName.A));
        var asks = (byA, byB) switch
        {
            (false, false) => rekeysB is { } rb && (rekeysA is not { } ra || rb.From < ra.From) ? EndName.B : EndName.A,
            (false, _) => EndName.A,
            _ => EndName.B,
        };
        var (mine, other) = asks == EndName.A ? (rekeysA, rekeysB) : (rekeysB, rekeysA);
        // When the other end is answered and always rekeys first, the mismatch never shows.
        if ((byA == true || byB == true) && mine is { } m && other is { } o && o.To < m.From)
            return null;
        var refusal =
            (byA, byB) is (false, false) && rekeysA is { } x && rekeysB is { } y
                ? new Span(Math.Min(x.From, y.From), Math.Min(x.To, y.To))
                : mine;
        long? lost = Lost(view.A, EndName.A) is { } da && Lost(view.B, EndName.A) is { } db ? Math.Min(da, db) : null;
        var again = view
            .Ends.Select(e => e.Get(Settings.Reauthentication).Value?.Time?.InSeconds)
            .Where(s => s is not null)
            .Min();
        return new(
            asks,
            refusal,
            lost is { } l ? new Span(l, l) : null,
            view.End(asks).Platform.WhenRekeyRefused is { } then ? then == AfterRefusal.Reauthenticates : null,
            again is { } r && lost is { } at && r < at ? r : null
        );
    }
}
