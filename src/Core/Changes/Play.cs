namespace Vellumkeep.Core.Changes;

/// <summary>What a tunnel carries at a moment of a play.</summary>
public enum Carriage
{
    /// <summary>Every pair that is to pass, passes.</summary>
    Up,

    /// <summary>Some of its pairs pass.</summary>
    FewerPairs,

    /// <summary>There are SAs, and no wanted pair passes.</summary>
    NoTraffic,

    /// <summary>There is no SA.</summary>
    Down,

    /// <summary>The records or a profile do not say.</summary>
    Undetermined,
}

/// <summary>What a tunnel carries for a while.</summary>
/// <param name="From">Seconds from the first step.</param>
/// <param name="To">Seconds from the first step.</param>
/// <param name="State">What it carries.</param>
/// <param name="Step">The key of the step since which; null for how it was found.</param>
/// <param name="Why">Why it does not carry everything; null where it does.</param>
public sealed record Span(int From, int To, Carriage State, string? Step, Sentence? Why);

/// <summary>That a tunnel loses its SAs and negotiates anew.</summary>
/// <param name="At">Seconds from the first step.</param>
/// <param name="Step">The key of the step that brings it about.</param>
/// <param name="Seconds">How long it carries nothing; null where the profile does not say.</param>
/// <param name="Certain">False where the profile does not say whether anything stops at all.</param>
/// <param name="Why">What brings it about, as the end of a sentence.</param>
public sealed record Restart(int At, string Step, int? Seconds, bool Certain, Sentence Why);

/// <summary>A tunnel through a play.</summary>
/// <param name="TunnelId">What identifies the tunnel; never shown.</param>
/// <param name="TunnelCode">The tunnel as people name it.</param>
/// <param name="Own">Whether the change is about it.</param>
/// <param name="Spans">What it carries, without a gap, from the first step to the last.</param>
/// <param name="Restarts">When it loses its SAs and has others at once.</param>
public sealed record PlayedTunnel(
    string TunnelId,
    string TunnelCode,
    bool Own,
    ImmutableArray<Span> Spans,
    ImmutableArray<Restart> Restarts
);

/// <summary>
/// A plan carried out on model devices, step by step in the minutes of its steps: what each tunnel carries meanwhile.
/// </summary>
/// <param name="Seconds">How long it lasts.</param>
/// <param name="Tunnels">The tunnels of the change in their order, then others that lose their SAs.</param>
/// <param name="NeverActive">The codes of gateways on which something stays entered that no step activates.</param>
public sealed record Play(int Seconds, ImmutableArray<PlayedTunnel> Tunnels, ImmutableArray<string> NeverActive)
{
    /// <summary>Whether a tunnel that carried something carries nothing, or may carry nothing, for a while.</summary>
    public bool Interrupts(string tunnelId) =>
        Tunnels.FirstOrDefault(t => t.TunnelId == tunnelId)
            is { Spans: [{ State: not (Carriage.Down or Carriage.NoTraffic) }, ..] } played
        && (
            played.Restarts.Length > 0
            || played.Spans.Skip(1).Any(s => s.State is not (Carriage.Up or Carriage.FewerPairs))
        );

    /// <summary>Nothing was played.</summary>
    public static readonly Play None = new(0, [], []);

    /// <summary>The words of what a tunnel carries.</summary>
    public static readonly Words<Carriage> Carriages = new(
        "what a tunnel carries",
        (Carriage.Up, "up"),
        (Carriage.FewerPairs, "fewer pairs"),
        (Carriage.NoTraffic, "no traffic"),
        (Carriage.Down, "down"),
        (Carriage.Undetermined, "undetermined")
    );
}
