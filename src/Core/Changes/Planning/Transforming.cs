using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>Bringing records to what they will be. Pure: nothing of the record that is given moves.</summary>
internal static class Transforming
{
    /// <summary>The tunnel with both ends altered.</summary>
    public static Tunnel WithEnds(this Tunnel tunnel, Func<EndName, TunnelEnd, TunnelEnd> alter) =>
        tunnel with
        {
            A = alter(EndName.A, tunnel.A),
            B = alter(EndName.B, tunnel.B),
        };

    /// <summary>The set with a setting that nobody has looked at yet.</summary>
    public static SettingSet WithKnown(this SettingSet set, Setting setting, object value) =>
        set.WithRaw(setting, setting.Accept(new Known(value)));

    /// <summary>The end with a setting that nobody has looked at yet.</summary>
    public static TunnelEnd WithSetting(this TunnelEnd end, Setting setting, object value) =>
        end with
        {
            Set = end.Set.WithKnown(setting, value),
        };

    /// <summary>The tunnel with a setting for both ends: agreed, and set on each.</summary>
    public static Tunnel WithAgreed(this Tunnel tunnel, Setting setting, object value)
    {
        var agreed = tunnel.Agreed with
        {
            Both = tunnel.Agreed.Both.WithKnown(setting, value),
            OnlyA = tunnel.Agreed.OnlyA.Without(setting),
            OnlyB = tunnel.Agreed.OnlyB.Without(setting),
        };
        return (tunnel with { Agreed = agreed }).WithEnds((_, e) => e.WithSetting(setting, value));
    }

    /// <summary>A recorded list with more items, each once; how it was confirmed stays.</summary>
    public static Recorded<Several<T>> With<T>(this Recorded<Several<T>> recorded, IEnumerable<T> more) =>
        recorded.Now([.. (recorded.Value?.Items ?? []).Union(more)]);

    /// <summary>A recorded list without some of its items; how it was confirmed stays.</summary>
    public static Recorded<Several<T>> Without<T>(this Recorded<Several<T>> recorded, Func<T, bool> gone) =>
        recorded.Now([.. (recorded.Value?.Items ?? []).Where(i => !gone(i))]);

    private static Recorded<Several<T>> Now<T>(this Recorded<Several<T>> recorded, ImmutableArray<T> items) =>
        Recorded<Several<T>>.Known(new(items), recorded.Confirmed);

    /// <summary>
    /// The tunnel with what its ends are about to have entered said on the ends themselves: what was agreed, and what
    /// the platform needs beside it, so that the record of what was built does not stand on the agreement.
    /// </summary>
    /// <param name="view">The tunnel, with its entries as they will be.</param>
    /// <param name="which">The ends that are entered; null for both.</param>
    public static Tunnel WithEntered(this TunnelView view, Func<EndView, bool>? which = null) =>
        view
            .Ends.Where(e => which?.Invoke(e) ?? true)
            .Aggregate(view.Tunnel, (tunnel, end) => tunnel.WithEnd(end.Name, e => EnteredOn(e, end)));

    private static TunnelEnd EnteredOn(TunnelEnd e, EndView end)
    {
        var entries = Entries.Of(end);
        var pairs = end.Tunnel.Tunnel.Agreed.Pairs.Select(p => p.At(end.Name)).ToImmutableArray();
        foreach (var setting in Settings.All)
            if (setting.On(end) is { Any: { } value, Source: Source.Agreed } && entries.Any(x => x.Key == setting.Key))
                e = setting.On(end).Until is null ? e.WithSetting(setting, value) : e.WithAgreedFor(setting, end);
        if (e.PeerAddress is null && end.PeerAddress.Value is { } peer)
            e = e with { PeerAddress = Recorded<PeerAddress>.Known(peer) };
        if (e.IdentitySent is null && end.IdentitySent is { Source: Source.Agreed, Value: { } sent })
            e = e with { IdentitySent = Recorded<Identity>.Known(sent) };
        if (e.IdentityExpected is null && end.IdentityExpected is { Source: Source.Agreed, Value: { } expected })
            e = e with { IdentityExpected = Recorded<Identity>.Known(expected) };
        if (e.Subnets is null && !end.AnyToAny && pairs.Length > 0)
            e = e with
            {
                Subnets = Selectors(pairs, asPairs: entries.Any(x => x.Pair is not null && x.Work == Work.Selectors)),
            };
        if (e.Rules is null && entries.Any(x => x.Work == Work.Rules))
            e = e with { Rules = Listed(pairs.SelectMany(BothWays)) };
        if (e.NoNat is null && entries.Any(x => x.Work == Work.NoNat))
            e = e with { NoNat = Listed(pairs.Select(p => p.Prefixes).Distinct()) };
        if (e.Routes is null && entries.Any(x => x.Work is Work.Routes or Work.Discard))
            e = e with { Routes = Listed(ManualRoutes(end, pairs)) };
        return e;
    }

    /// <summary>The end with a setting as it was agreed only for now, with its final value and its deadline.</summary>
    private static TunnelEnd WithAgreedFor(this TunnelEnd e, Setting setting, EndView end)
    {
        var agreed = end.Tunnel.Tunnel.Agreed;
        var own = end.Name == EndName.A ? agreed.OnlyA : agreed.OnlyB;
        return (own.GetRaw(setting) ?? agreed.Both.GetRaw(setting)) is { } raw
            ? e with
            {
                Set = e.Set.WithRaw(setting, raw),
            }
            : e;
    }

    /// <summary>The rules that let a pair pass, in and out.</summary>
    public static IEnumerable<Rule> BothWays(LocalRemote pair) =>
        [
            new(RuleDirection.In, pair.Local, pair.Remote, pair.Only),
            new(RuleDirection.Out, pair.Local, pair.Remote, pair.Only),
        ];

    private static EnteredSubnets Selectors(ImmutableArray<LocalRemote> pairs, bool asPairs) =>
        asPairs
            ? new(null, null, null, null, pairs, null)
            : new(
                [.. pairs.Select(p => p.Local).Distinct()],
                null,
                [.. pairs.Select(p => p.Remote).Distinct()],
                null,
                null,
                null
            );

    private static IEnumerable<Route> ManualRoutes(EndView end, IEnumerable<LocalRemote> pairs) =>
        pairs
            .Select(p => p.Remote)
            .Distinct()
            .SelectMany(p => new[] { new Route(p, Discard: false), new Route(p, Discard: true) })
            .Where(r => end.Platform.IsManual(r.Discard ? ManualWork.DiscardRoute : ManualWork.Route) == true);

    private static Recorded<Several<T>> Listed<T>(IEnumerable<T> items) =>
        Recorded<Several<T>>.Known(new Several<T>([.. items]));

    private sealed class Known(object value) : ISettingVisitor<object>
    {
        public object Text<T>(TextSetting<T> setting)
            where T : class => Recorded<T>.Known((T)value);

        public object List<T>(ListSetting<T> setting) => Recorded<Several<T>>.Known((Several<T>)value);

        public object Life(LifeSetting setting) => Recorded<Life>.Known((Life)value);
    }
}
