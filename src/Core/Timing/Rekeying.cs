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
    /// Seconds after which the end rekeys because of the data. A margin in per cent is that part of the data as it is of
    /// the time; a margin that is a time says nothing of data, which is then used up to the end.
    /// </summary>
    public static decimal? RekeysByData(EndView end, EndName initiator) =>
        DataLasts(end, initiator) is { } lasts
            ? lasts * (100 - (end.MarginRuleOf(Settings.EspLifetime)?.Percent ?? 0)) / 100
            : null;

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
    /// <param name="view">The tunnel with both ends resolved.</param>
    /// <param name="dhOfIke">The group of the IKE SA; null when not known.</param>
    /// <param name="alike">What the two ends have for the child SA.</param>
    public static Deferred? OfPfs(TunnelView view, DhGroup? dhOfIke, PfsOfPairs alike) =>
        alike is { A: { } a, B: { } b }
            // It does not matter which end began: IKEv2 negotiates no lifetime.
            ? OfRefused(
                view,
                EndName.A,
                Settings.EspLifetime,
                new(Choice.PfsFits(a, b, dhOfIke, view.Version), Choice.PfsFits(b, a, dhOfIke, view.Version))
            )
            : null;

    /// <summary>The first such failure of the child SAs that carry these pairs.</summary>
    public static Deferred? OfPfs(TunnelView view, DhGroup? dhOfIke, IReadOnlyCollection<SubnetPair> pairs) =>
        view.PfsGroups(pairs.Count > 0 ? pairs : view.Tunnel.Agreed.Pairs)
            .DefaultIfEmpty(new(view.A.Get(Settings.Pfs).Value, view.B.Get(Settings.Pfs).Value, []))
            .Select(alike => OfPfs(view, dhOfIke, alike))
            .OfType<Deferred>()
            .OrderBy(d => d.HiddenBy is not null)
            .ThenBy(d => d.FirstRefusal?.From)
            .FirstOrDefault();

    /// <summary>Whether an end is answered when it asks for a new SA; null when that is not known.</summary>
    /// <param name="A">When A asks.</param>
    /// <param name="B">When B asks.</param>
    public readonly record struct Answered(bool? A, bool? B)
    {
        /// <summary>When this end asks.</summary>
        public bool? When(EndName asks) => asks == EndName.A ? A : B;
    }

    /// <summary>
    /// What becomes of a tunnel when an end is refused that asks for a new SA. Who asks is who rekeys first, by
    /// lifetimes, margins and jitter. Null when nobody is refused, or the end that is answered always rekeys first.
    /// </summary>
    /// <param name="view">The tunnel with both ends resolved.</param>
    /// <param name="initiator">The end that began.</param>
    /// <param name="setting">The lifetime of the SA that is to be replaced.</param>
    /// <param name="answered">Which end is answered.</param>
    public static Deferred? OfRefused(TunnelView view, EndName initiator, Setting<Life> setting, Answered answered)
    {
        var ofIke = setting == (Setting)Settings.IkeLifetime;
        Span? Rekey(EndName end) => ofIke ? Rekeys(view.End(end), setting, initiator) : First(view.End(end), initiator);
        var (rekeysA, rekeysB) = (Rekey(EndName.A), Rekey(EndName.B));
        EndName asks;
        switch (answered)
        {
            case (false, false):
                asks = rekeysB is { } rb && (rekeysA is not { } ra || rb.From < ra.From) ? EndName.B : EndName.A;
                break;
            case (false, _):
                asks = EndName.A;
                break;
            case (_, false):
                asks = EndName.B;
                break;
            default:
                return null;
        }

        var (mine, other) = asks == EndName.A ? (rekeysA, rekeysB) : (rekeysB, rekeysA);
        var alone = answered.When(asks.Other()) == true;
        if (alone && mine is { } m && other is { } o && o.To < m.From)
            return null;
        var refusal =
            answered is (false, false) && rekeysA is { } x && rekeysB is { } y
                ? new Span(Math.Min(x.From, y.From), Math.Min(x.To, y.To))
                : mine;
        // A child SA outlives the phase 1 that made it, by how much depends on when it was made.
        long? lost =
            !ofIke && Lost(view.A, initiator) is { } da && Lost(view.B, initiator) is { } db ? Math.Min(da, db) : null;
        var again = view.Version == IkeVersion.IKEv1 ? null : Reauthenticates(view)?.Every;
        var never = again is { } soon && refusal is { } at && soon <= at.From;
        return new(
            asks,
            ofIke,
            never ? null : refusal,
            lost is { } l && !never ? new Span(l, l) : null,
            view.End(asks).Platform.WhenRekeyRefused is { } then ? then == AfterRefusal.Reauthenticates : null,
            again is { } r && (never || (lost is { } drops && r < drops)) ? r : null,
            !alone || (mine is { } own && other is { } theirs && own.To < theirs.From)
        );
    }

    /// <summary>An end that reauthenticates, and after how many seconds.</summary>
    /// <param name="End">The end.</param>
    /// <param name="Every">The seconds.</param>
    public sealed record Reauthenticating(EndName End, long Every);

    /// <summary>
    /// The end that reauthenticates first, which makes both SAs anew (RFC 7296 section 2.8.3); null when neither does.
    /// </summary>
    public static Reauthenticating? Reauthenticates(TunnelView view) =>
        view
            .Ends.Select(e =>
                e.Get(Settings.Reauthentication).Value?.Time is { } time
                    ? new Reauthenticating(e.Name, time.InSeconds)
                    : null
            )
            .OfType<Reauthenticating>()
            .MinBy(r => r.Every);

    /// <summary>
    /// Seconds after which a tunnel that is up authenticates again at the latest: the next phase 1 of IKEv1, or
    /// reauthentication under IKEv2. Null when it does so only once it was down.
    /// </summary>
    public static long? NextAuthentication(TunnelView view) =>
        view.Version == IkeVersion.IKEv1
            ? view.Ends.Select(e => Drops(e, Settings.IkeLifetime, e.Name)).Where(s => s is not null).Min()
            : Reauthenticates(view)?.Every;
}
