namespace Vellumkeep.Core.Changes;

/// <summary>
/// What the engineer wants to be different. Everything else about a change is computed from it and the records.
/// </summary>
public abstract record ChangeRequest
{
    /// <summary>The kind of change, in its word.</summary>
    public abstract string Kind { get; }

    /// <summary>The tunnels that it is about, the first one first.</summary>
    public abstract ImmutableArray<string> Tunnels { get; }

    /// <summary>The gateways that it is about besides those of its tunnels.</summary>
    public virtual ImmutableArray<string> Gateways => [];

    /// <summary>The end that it is about; null when it is about both.</summary>
    public virtual EndName? Side => null;

    /// <summary>The platforms and suites that it names.</summary>
    public virtual ImmutableArray<Named> Names => [];
}

/// <summary>A record that a request names.</summary>
/// <param name="Kind">Of which kind it is.</param>
/// <param name="Id">What identifies it; never shown.</param>
public sealed record Named(RecordKind Kind, string Id);
