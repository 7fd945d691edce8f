namespace Vellumkeep.Core.Resolution;

/// <summary>Why an end cannot initiate.</summary>
public enum StartFault
{
    /// <summary>It responds only.</summary>
    RespondsOnly,

    /// <summary>The other end's address is not known yet.</summary>
    AddressPending,

    /// <summary>The other end's address changes, and nobody knows it.</summary>
    AddressIsDynamic,

    /// <summary>Its peer entry is for any address, which is nowhere to send to.</summary>
    AnyAddressEntered,
}

/// <summary>What keeps an end from initiating, once for comparison, rehearsal and verdict.</summary>
public static class StartFaults
{
    /// <summary>What keeps it from sending the first message, whatever it is set to; null when nothing does.</summary>
    public static StartFault? NoDestination(EndView end) =>
        end.PeerAddress switch
        {
            { Pending: not null } => StartFault.AddressPending,
            { Value.IsAny: true } => end.Other.AddressIsDynamic
                ? StartFault.AddressIsDynamic
                : StartFault.AnyAddressEntered,
            { Value: null } when end.Other.Uplinks.FirstOrDefault()?.Address.Pending is not null =>
                StartFault.AddressPending,
            { Value: null } when end.Other.AddressIsDynamic => StartFault.AddressIsDynamic,
            _ => null,
        };

    /// <summary>What keeps it from initiating; null when nothing known does.</summary>
    public static StartFault? Of(EndView end) =>
        end.Get(Settings.Initiation).Value?.Value == Initiation.RespondsOnly
            ? StartFault.RespondsOnly
            : NoDestination(end);

    /// <summary>In words, as what follows the name of the end.</summary>
    public static string Words(EndView end, StartFault fault) =>
        fault switch
        {
            StartFault.RespondsOnly => "responds only",
            StartFault.AddressPending => $"cannot: {end.Other.Name}'s address is pending",
            StartFault.AddressIsDynamic => $"cannot: {end.Other.Name}'s address is dynamic",
            StartFault.AnyAddressEntered => "cannot: its peer address is any",
            _ => throw new ArgumentOutOfRangeException(nameof(fault)),
        };
}
