using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Timing;

/// <summary>
/// The lifetime that holds at an end once a tunnel is up. IKEv2 never sends one, so each end keeps its own (RFC 7296
/// section 2.8); IKEv1 negotiates it, and the responder's profile says how (RFC 2407 section 4.5.4).
/// </summary>
public static class LifeInForce
{
    /// <summary>Null when a value that decides it, or the profile's answer, is not known.</summary>
    /// <param name="end">The end that it is asked of.</param>
    /// <param name="setting">The setting it is about.</param>
    /// <param name="initiator">The end that began.</param>
    public static Life? Of(EndView end, Setting<Life> setting, EndName initiator)
    {
        var own = end.Get(setting).Value;
        if (end.Tunnel.Version != IkeVersion.IKEv1 || own is null)
            return own;
        var responder = end.Tunnel.End(initiator.Other());
        if (
            end.Tunnel.End(initiator).Get(setting).Value is not { } offered
            || responder.Get(setting).Value is not { } at
        )
            return null;
        var lower = own with { Time = Lower(offered.Time, at.Time), Data = Lower(offered.Data, at.Data) };
        return responder.Platform.LifetimeRule switch
        {
            _ when offered.Time.InSeconds == at.Time.InSeconds && offered.Data?.InKilobytes == at.Data?.InKilobytes =>
                own,
            LifetimeRule.InitiatorWins => own with { Time = offered.Time, Data = offered.Data },
            LifetimeRule.LowerWinsAndSaysSo => lower,
            // The initiator is not told, and keeps what it offered.
            LifetimeRule.LowerWinsSilently => end.Name == initiator ? own : lower,
            LifetimeRule.MustBeEqual => own,
            _ => null,
        };
    }

    private static Lifetime Lower(Lifetime one, Lifetime other) => one.InSeconds <= other.InSeconds ? one : other;

    private static DataAmount? Lower(DataAmount? one, DataAmount? other)
    {
        if (one is null || other is null)
            return one ?? other;
        return one.InKilobytes <= other.InKilobytes ? one : other;
    }
}
