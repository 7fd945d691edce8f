namespace Vellumkeep.Core.Rehearsing;

/// <summary>
/// How far a negotiation has got, in the order in which it can fail. A fix gets further when the first obstacle comes
/// later to a later stage, or goes.
/// </summary>
public enum Stage
{
    /// <summary>Somebody has to begin, and to know where to send.</summary>
    Start,

    /// <summary>The first message has to reach the device.</summary>
    Reach,

    /// <summary>A peer entry has to take it.</summary>
    Entry,

    /// <summary>The IKE version.</summary>
    Version,

    /// <summary>The exchange mode (IKEv1).</summary>
    Mode,

    /// <summary>The proposal for the IKE SA.</summary>
    IkeProposal,

    /// <summary>IKEv1 main mode with a pre-shared key: the key is looked up before the identity can be read.</summary>
    KeyLookup,

    /// <summary>The responder judges what the initiator says of itself.</summary>
    AtResponder,

    /// <summary>The initiator judges the answer.</summary>
    AtInitiator,

    /// <summary>The first child SA: proposals and options.</summary>
    Child,

    /// <summary>Selectors of the first child SA or of a quick mode.</summary>
    Selectors,

    /// <summary>Child SAs for further pairs.</summary>
    FurtherPairs,

    /// <summary>Everything is agreed; the packets themselves have to pass.</summary>
    Traffic,
}
