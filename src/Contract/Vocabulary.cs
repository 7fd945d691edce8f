namespace Vellumkeep.Contract;

/// <summary>
/// A text that is one of a few words: the description of the interface names them, and so do the types made from it.
/// The words are those of the core, which a test holds.
/// </summary>
[AttributeUsage(AttributeTargets.Property)]
public abstract class OneOfAttribute : Attribute
{
    protected OneOfAttribute(params string[] words) => Words = words;

    /// <summary>Words that programs act by: each with what it means, in a sentence.</summary>
    protected OneOfAttribute(params (string Word, string Means)[] words)
    {
        Words = [.. words.Select(w => w.Word)];
        Means = words;
    }

    /// <summary>The words, in their order.</summary>
    public IReadOnlyList<string> Words { get; }

    /// <summary>What each word means, for whoever writes a program; empty where the words speak for themselves.</summary>
    public IReadOnlyList<(string Word, string Means)> Means { get; } = [];
}

/// <summary>What a tunnel carries at a moment of a played plan.</summary>
public sealed class CarriageAttribute()
    : OneOfAttribute(
        ("up", "Every pair that is to pass, passes."),
        ("fewer pairs", "Some of the pairs that passed before do not."),
        ("no traffic", "There are SAs, and no wanted pair passes."),
        ("down", "There is no SA."),
        ("undetermined", "The records or a profile do not say.")
    );

/// <summary>Where a change stands.</summary>
public sealed class ChangeStateAttribute()
    : OneOfAttribute(
        ("draft", "Being written; nobody has looked at it."),
        ("in review", "Somebody else is to approve it."),
        ("approved", "It may begin, as it was approved."),
        ("under way", "Steps of it are being done."),
        ("done", "Closed; the records have what was built."),
        ("backed out", "Closed; what was entered was taken back."),
        ("dropped", "Given up before it began.")
    );

/// <summary>What came of an attempt at a step.</summary>
public sealed class StepOutcomeAttribute()
    : OneOfAttribute(
        ("done", "Carried out."),
        ("skipped", "Left out, with a reason."),
        ("failed", "Tried, and it did not work.")
    );

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
public sealed class SeverityAttribute()
    : OneOfAttribute(
        ("blocks", "The tunnel does not come up, drops later, or carries nothing."),
        ("degrades", "It works from one side, for a part, or not for long."),
        ("risk", "It works, and is weaker or less sure than it should be."),
        ("note", "Worth knowing, and harmless as it stands.")
    );

/// <summary>How much the worst finding of a tunnel weighs; none when nothing was found.</summary>
public sealed class WorstAttribute()
    : OneOfAttribute(
        ("blocks", "The tunnel does not come up, drops later, or carries nothing."),
        ("degrades", "It works from one side, for a part, or not for long."),
        ("risk", "It works, and is weaker or less sure than it should be."),
        ("note", "Worth knowing, and harmless as it stands."),
        ("none", "Nothing was found.")
    );

/// <summary>
/// What is made of a tunnel in one word: nothing blocks it, nobody can tell before something is found out, or something
/// blocks it. The exit status of every command that looks at it follows from it.
/// </summary>
public sealed class StandingAttribute()
    : OneOfAttribute(
        ("sound", "Nothing blocks the tunnel."),
        ("undetermined", "Nobody can tell whether it comes up before a value is found out; exit status 7."),
        ("blocked", "A finding blocks it, now or later; exit status 1.")
    );

/// <summary>What comes of a tunnel as one end initiates.</summary>
public sealed class OutcomeAttribute()
    : OneOfAttribute(
        ("up", "Every wanted pair passes."),
        ("up, with fewer pairs", "Some pairs pass, or parts of them: 'passing' has what passes, 'lost' what does not."),
        ("SAs up, nothing passes", "The child SAs stand, and no packet of a wanted pair passes."),
        ("IKE SA up, no child SA", "The ends authenticate, and agree no child SA."),
        ("down", "Nothing comes up."),
        ("undetermined", "A value that decides it is not known."),
        ("does not initiate", "This end does not begin, or does not know where to send.")
    );

/// <summary>
/// In what way something stops a negotiation: the end that is asked refuses with a notify, nothing comes back, it is
/// never asked for, a part is answered and nothing refused, or the SAs stand and packets are lost.
/// </summary>
public sealed class StopKindAttribute()
    : OneOfAttribute(
        ("refused", "The end that is asked answers with the notify."),
        ("no response", "Nothing comes back."),
        ("not sent", "It is never asked for."),
        ("narrowed", "A part is answered, and nothing is refused."),
        ("no traffic", "The SAs stand, and packets are lost.")
    );

/// <summary>Where a tunnel stands.</summary>
public sealed class TunnelStateAttribute()
    : OneOfAttribute(
        ("planned", "Written down, nothing entered on a device."),
        ("building", "A change is entering it."),
        ("in service", "It carries traffic."),
        ("suspended", "Kept on the devices, and off."),
        ("retired", "Out of service, kept for its history.")
    );

/// <summary>What decides which traffic goes into a tunnel.</summary>
public sealed class TunnelFormAttribute() : OneOfAttribute("policy-based", "route-based");

/// <summary>What becomes of a setting on another platform.</summary>
public sealed class CarriesAttribute() : OneOfAttribute("kept", "changed", "impossible");

/// <summary>How a sentence of a verdict is meant.</summary>
public sealed class ToneAttribute() : OneOfAttribute("plain", "weak", "stops");

/// <summary>One of the six forms in which a relation is drawn.</summary>
public sealed class StrokeFormAttribute()
    : OneOfAttribute(
        ("whole", "Both ends agree, and both were confirmed."),
        ("dotted", "Both ends agree, and one was not confirmed."),
        ("twoHairlines", "Undetermined: a value is not known."),
        ("thin", "They differ, and it degrades the tunnel or harms nothing."),
        ("flag", "They differ or agree, and it is a risk."),
        ("gap", "They differ, and it stops the tunnel.")
    );

/// <summary>Where a version of a key stands.</summary>
public sealed class KeyStateAttribute()
    : OneOfAttribute(
        ("not made", "No key has that version yet."),
        ("prepared", "Made, and in use at no end."),
        ("in use", "An end authenticates with it."),
        ("superseded", "A newer version is in use."),
        ("withdrawn", "Destroyed, or not to be used again.")
    );

/// <summary>What happens to an SA in the hours after a tunnel is up.</summary>
public sealed class TimelineMarkKindAttribute()
    : OneOfAttribute(
        ("rekey", "An end replaces the SA in time."),
        ("rekey by data volume", "An end replaces the SA because of the data that went through."),
        ("reauthentication", "The ends authenticate again, and make all SAs new."),
        ("rekey refused", "The other end refuses to replace the SA."),
        ("lost", "The SA ends, and its traffic with it.")
    );
