using System.Text.Json.Serialization;

namespace Vellumkeep.Contract;

/// <summary>
/// What should be different, by its kind; subnets when none is named. Each kind takes its own fields and no others.
/// </summary>
[JsonConverter(typeof(DraftChangeJson))]
public abstract record DraftChange
{
    /// <summary>The kind of change.</summary>
    public abstract string Kind { get; }

    public string? Title { get; init; }

    /// <summary>Why the change is wanted; nothing is drafted without.</summary>
    public string Reason { get; init; } = "";

    public DateTimeOffset? WindowStart { get; init; }

    public int? WindowMinutes { get; init; }

    /// <summary>Instead of WindowStart: what a clock shows in WindowZone, such as 2026-11-27T21:00.</summary>
    public string? WindowLocalStart { get; init; }

    /// <summary>The IANA time zone of that clock, such as Europe/London; UTC when left out.</summary>
    public string? WindowZone { get; init; }

    /// <summary>Why the window is long enough, where the planned work takes longer; it stands in the record.</summary>
    public string? WindowWhyShort { get; init; }

    /// <summary>Every kind of change by its word; the first is meant when none is named.</summary>
    public static IReadOnlyDictionary<string, Type> Kinds { get; } =
        new DraftChange[]
        {
            new DraftSubnets(),
            new DraftNewTunnel(),
            new DraftRekey(),
            new DraftStrengthen(),
            new DraftPlatform(),
            new DraftAddress(),
            new DraftRetire(),
            new DraftFree(),
        }.ToDictionary(d => d.Kind, d => d.GetType());
}

/// <summary>Prefixes added and removed behind an end of a tunnel.</summary>
public sealed record DraftSubnets : DraftChange
{
    public override string Kind => "subnets";

    public string? Tunnel { get; init; }

    /// <summary>The end that the prefixes are behind: A or B.</summary>
    public string? End { get; init; }

    public IReadOnlyList<string>? Add { get; init; }

    /// <summary>Prefixes on the other side that they reach; all when left out.</summary>
    public IReadOnlyList<string>? Reach { get; init; }

    public IReadOnlyList<string>? Remove { get; init; }

    /// <summary>Prefixes to add behind the other end of the tunnel, in the same change.</summary>
    public IReadOnlyList<string>? AddOther { get; init; }

    public IReadOnlyList<string>? RemoveOther { get; init; }

    /// <summary>More tunnels that gain and lose the same.</summary>
    public IReadOnlyList<string>? Also { get; init; }
}

/// <summary>A tunnel that is built: one that is recorded as planned, or one that there is not yet.</summary>
public sealed record DraftNewTunnel : DraftChange
{
    public override string Kind => "new tunnel";

    public string? Tunnel { get; init; }

    /// <summary>More planned tunnels.</summary>
    public IReadOnlyList<string>? Also { get; init; }

    /// <summary>The suite instead of what is worked out.</summary>
    public string? Suite { get; init; }

    /// <summary>What there is not yet; left out when Tunnel names one that is recorded as planned.</summary>
    public NewTunnelGiven? New { get; init; }
}

/// <summary>New keys for these tunnels.</summary>
public sealed record DraftRekey : DraftChange
{
    public override string Kind => "rekey";

    public string? Tunnel { get; init; }

    /// <summary>More tunnels.</summary>
    public IReadOnlyList<string>? Also { get; init; }
}

/// <summary>Better protection for a tunnel.</summary>
public sealed record DraftStrengthen : DraftChange
{
    public override string Kind => "strengthen";

    public string? Tunnel { get; init; }

    /// <summary>The suite; the strongest that both can do when left out.</summary>
    public string? Suite { get; init; }
}

/// <summary>Another platform for a gateway, with all its tunnels.</summary>
public sealed record DraftPlatform : DraftChange
{
    public override string Kind => "replace platform";

    public string? Gateway { get; init; }

    /// <summary>The new profile with its version.</summary>
    public string? Platform { get; init; }

    /// <summary>The outer address of the new device, when it is built beside the old one.</summary>
    public string? Beside { get; init; }
}

/// <summary>Another outer address for an uplink of a gateway.</summary>
public sealed record DraftAddress : DraftChange
{
    public override string Kind => "address move";

    public string? Gateway { get; init; }

    /// <summary>The uplink; the first when left out.</summary>
    public string? Uplink { get; init; }

    /// <summary>The new outer address.</summary>
    public string? Address { get; init; }
}

/// <summary>A tunnel that goes.</summary>
public sealed record DraftRetire : DraftChange
{
    public override string Kind => "retire";

    public string? Tunnel { get; init; }
}

/// <summary>Steps that the author writes.</summary>
public sealed record DraftFree : DraftChange
{
    public override string Kind => "free";

    public string? Tunnel { get; init; }

    public IReadOnlyList<FreeStepGiven>? Steps { get; init; }
}
