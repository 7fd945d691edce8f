namespace Vellumkeep.Core.Records;

/// <summary>
/// How a gateway is managed. It is reached through exactly one of a tunnel, one of its own uplinks, or a way that only
/// words describe; which of them is asked of this record at a moment, and never read out of the words.
/// </summary>
public sealed record ManagementAccess
{
    /// <summary>The id of the tunnel that it is managed through; null when it is not a tunnel.</summary>
    public string? TunnelId { get; init; }

    /// <summary>The label of the gateway's uplink that it is managed over; null when it is not one of them.</summary>
    public string? Uplink { get; init; }

    /// <summary>How, in words, where it is neither a tunnel nor an uplink of the gateway.</summary>
    public string? Otherwise { get; init; }

    /// <summary>Out-of-band access beside it; null when none is recorded.</summary>
    public string? OutOfBand { get; init; }

    /// <summary>Whether the device undoes a change when contact is lost; null when nobody said.</summary>
    public bool? RevertsAutomatically { get; init; }
}
