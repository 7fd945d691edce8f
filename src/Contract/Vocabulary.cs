namespace Vellumkeep.Contract;

/// <summary>
/// A text that is one of a few words: the description of the interface names them, and so do the types made from it.
/// The words are those of the core, which a test holds.
/// </summary>
[AttributeUsage(AttributeTargets.Property)]
public abstract class OneOfAttribute(params string[] words) : Attribute
{
    /// <summary>The words, in their order.</summary>
    public IReadOnlyList<string> Words { get; } = words;
}

/// <summary>Where a change stands.</summary>
public sealed class ChangeStateAttribute()
    : OneOfAttribute("draft", "in review", "approved", "under way", "done", "backed out", "dropped");

/// <summary>What came of an attempt at a step.</summary>
public sealed class StepOutcomeAttribute() : OneOfAttribute("done", "skipped", "failed");

/// <summary>A part of a run sheet.</summary>
public sealed class RunSheetPartAttribute()
    : OneOfAttribute("prepare", "safeguard", "build", "switch", "prove", "record");

/// <summary>Where a step is carried out.</summary>
public sealed class StepPlaceAttribute() : OneOfAttribute("A", "B", "us");

/// <summary>What can be done to a change.</summary>
public sealed class ChangeActAttribute()
    : OneOfAttribute(
        "submit",
        "approve",
        "return",
        "begin",
        "step",
        "take-in",
        "close",
        "back-out",
        "recompute",
        "window",
        "confirm-window",
        "fill",
        "urgent",
        "confirm-urgent",
        "review-after",
        "drop"
    );

/// <summary>How much a finding weighs.</summary>
public sealed class SeverityAttribute() : OneOfAttribute("blocks", "degrades", "risk", "note");

/// <summary>How much the worst finding of a tunnel weighs; none when nothing was found.</summary>
public sealed class WorstAttribute() : OneOfAttribute("blocks", "degrades", "risk", "note", "none");

/// <summary>
/// What is made of a tunnel in one word: nothing blocks it, nobody can tell before something is found out, or something
/// blocks it. The exit status of every command that looks at it follows from it.
/// </summary>
public sealed class StandingAttribute() : OneOfAttribute("sound", "undetermined", "blocked");

/// <summary>What comes of a tunnel as one end initiates.</summary>
public sealed class OutcomeAttribute()
    : OneOfAttribute(
        "up",
        "up, with fewer pairs",
        "SAs up, nothing passes",
        "IKE SA up, no child SA",
        "down",
        "undetermined",
        "does not initiate"
    );

/// <summary>
/// In what way something stops a negotiation: the end that is asked refuses with a notify, nothing comes back, it is
/// never asked for, a part is answered and nothing refused, or the SAs stand and packets are lost.
/// </summary>
public sealed class StopKindAttribute()
    : OneOfAttribute("refused", "no response", "not sent", "narrowed", "no traffic");

/// <summary>Where a tunnel stands.</summary>
public sealed class TunnelStateAttribute()
    : OneOfAttribute("planned", "building", "in service", "suspended", "retired");

/// <summary>What decides which traffic goes into a tunnel.</summary>
public sealed class TunnelFormAttribute() : OneOfAttribute("policy-based", "route-based");

/// <summary>What becomes of a setting on another platform.</summary>
public sealed class CarriesAttribute() : OneOfAttribute("kept", "changed", "impossible");

/// <summary>How a sentence of a verdict is meant.</summary>
public sealed class ToneAttribute() : OneOfAttribute("plain", "weak", "stops");

/// <summary>One of the six forms in which a relation is drawn.</summary>
public sealed class StrokeFormAttribute() : OneOfAttribute("whole", "dotted", "twoHairlines", "thin", "flag", "gap");

/// <summary>Where a version of a key stands.</summary>
public sealed class KeyStateAttribute() : OneOfAttribute("not made", "prepared", "in use", "superseded", "withdrawn");
