using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Timing;

/// <summary>When an end rekeys an SA, and when it drops it (RFC 7296 section 2.8).</summary>
public static class Rekeying
{
    /// <summary>
    /// Seconds after which the end rekeys: its lifetime less its margin, earlier still by its jitter. Null when
    /// lifetime or margin is not known.
    /// </summary>
    public static Span? Rekeys(EndView end, Setting<Life> setting)
    {
        if (end.Get(setting).Value is not { } life || end.MarginOf(setting) is not { } margin)
            return null;
        var latest = Math.Max(1, life.Time.InSeconds - margin);
        return new(Math.Max(1, latest - (life.Time.InSeconds * (end.Platform.Jitter ?? 0) / 100)), latest);
    }

    /// <summary>Seconds after which the end drops the SA; null when its lifetime is not known.</summary>
    public static long? Drops(EndView end, Setting<Life> setting) => end.Get(setting).Value?.Time.InSeconds;

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
        var (rekeysA, rekeysB) = (Rekeys(view.A, Settings.EspLifetime), Rekeys(view.B, Settings.EspLifetime));
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
        long? lost =
            Drops(view.A, Settings.EspLifetime) is { } da && Drops(view.B, Settings.EspLifetime) is { } db
                ? Math.Min(da, db)
                : null;
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
