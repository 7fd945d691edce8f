using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Calculations;

/// <summary>
/// How long a dead peer stays undetected at one end, in seconds. IKEv2: the idle interval, then the platform's
/// retransmission schedule (RFC 7296 section 2.4); IKEv1: the interval, then as many again as there are retries (RFC
/// 3706 section 5.4). Null when it is never noticed, or the schedule is not known.
/// </summary>
/// <param name="End">The end that notices.</param>
/// <param name="UplinkA">The label of the uplink at A.</param>
/// <param name="UplinkB">The label of the uplink at B.</param>
/// <param name="Seconds">Until it notices; null when it does not probe, or its profile does not say how it
/// retransmits.</param>
/// <param name="Working">The calculation in words.</param>
public sealed record Detection(EndName End, string UplinkA, string UplinkB, decimal? Seconds, string Working)
{
    /// <summary>How long an end takes to notice that a pairing of uplinks is dead.</summary>
    public static Detection Of(EndView end, string uplinkA, string uplinkB)
    {
        // Who does not announce it is not asked, so that neither end's works (RFC 3706 section 5.1).
        if (
            end.Tunnel.Version == IkeVersion.IKEv1
            && end.Get(Settings.Dpd).Value is { Interval: not null }
            && end.Other.Get(Settings.Dpd).Value is { Interval: null }
        )
            return new(
                end.Name,
                uplinkA,
                uplinkB,
                null,
                $"DPD is off at {end.Name.Other()}, and IKEv1 needs it at both ends: a dead peer is detected only when a "
                    + $"rekey fails"
            );
        var (seconds, working) = Of(
            end.Get(Settings.Dpd).Value,
            end.Platform.Retransmits,
            end.Tunnel.Version,
            end.Platform.Title
        );
        return new(end.Name, uplinkA, uplinkB, seconds, working);
    }

    /// <summary>For each pairing of uplinks that the tunnel may use, at both ends.</summary>
    public static ImmutableArray<Detection> All(TunnelView view) =>
        [.. Rehearse.Pairings(view).SelectMany(p => p.View.Ends.Select(e => Of(e, p.A.Label, p.B.Label)))];

    /// <summary>The calculation from bare values.</summary>
    public static (decimal? Seconds, string Working) Of(
        Dpd? dpd,
        Retransmission? schedule,
        IkeVersion? version,
        string platform
    )
    {
        static string S(decimal d) => d.ToString("#,0.##", CultureInfo.InvariantCulture);
        if (dpd is null)
            return (null, "DPD setting unknown");
        if (dpd.Interval is not { } interval)
            return (null, "DPD is off: a dead peer is detected only when a rekey fails");
        if (version == IkeVersion.IKEv1)
        {
            var old = interval.InSeconds * (1 + dpd.Retries);
            return (old, $"{S(interval.InSeconds)} s idle + {dpd.Retries} x {S(interval.InSeconds)} s = {S(old)} s");
        }

        if (schedule is null)
            return (
                null,
                $"{S(interval.InSeconds)} s idle, then the retransmission schedule (the profile of {platform} does not say it)"
            );
        var waits = Enumerable
            .Range(0, schedule.Tries + 1)
            .Select(i => schedule.FirstSeconds * Power(schedule.Factor, i))
            .ToArray();
        return (
            interval.InSeconds + schedule.Total,
            $"{S(interval.InSeconds)} s idle + {string.Join(" + ", waits.Select(w => S(w) + " s"))} = "
                + $"{S(interval.InSeconds + schedule.Total)} s"
        );
    }

    private static decimal Power(decimal x, int n)
    {
        decimal result = 1;
        for (; n > 0; n--)
            result *= x;
        return result;
    }
}
