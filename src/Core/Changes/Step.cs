namespace Vellumkeep.Core.Changes;

/// <summary>The parts of a run sheet, in the order in which they are worked.</summary>
public enum Part
{
    /// <summary>Before the window: management access, agreements, keys.</summary>
    Prepare,

    /// <summary>Saved configurations, and proof of what runs now.</summary>
    Safeguard,

    /// <summary>What is entered without stopping anything.</summary>
    Build,

    /// <summary>What carries traffic, or stops it for a while.</summary>
    Switch,

    /// <summary>Proof that it runs.</summary>
    Prove,

    /// <summary>What is withdrawn, saved and written down.</summary>
    Record,
}

/// <summary>Where a step is carried out.</summary>
public enum Where
{
    /// <summary>On the gateway of end A.</summary>
    A,

    /// <summary>On the gateway of end B.</summary>
    B,

    /// <summary>With us, on no gateway.</summary>
    Us,
}

/// <summary>What a step does. What follows from it is decided by this, and never by its words or its key.</summary>
public enum StepKind
{
    /// <summary>The author wrote it.</summary>
    Manual,

    /// <summary>The management access to a gateway is tested.</summary>
    ManagementAccess,

    /// <summary>Time and values are agreed with whoever runs an end.</summary>
    Agree,

    /// <summary>A value that is pending is got and filled in.</summary>
    FillIn,

    /// <summary>A key is made here.</summary>
    MakeKey,

    /// <summary>A certificate is prepared: clock, trust anchor, request, issue.</summary>
    Certificate,

    /// <summary>A device is installed.</summary>
    Install,

    /// <summary>The configuration of a gateway is saved before it is touched.</summary>
    SaveBefore,

    /// <summary>What runs now, or fails now, is shown.</summary>
    ShowNow,

    /// <summary>Something is entered, altered or removed on a gateway.</summary>
    Enter,

    /// <summary>What is no longer needed is removed on a gateway, after the new was proven.</summary>
    Withdraw,

    /// <summary>A gateway is created where it is hosted.</summary>
    Create,

    /// <summary>Everything of an end goes to a gateway in one request.</summary>
    Request,

    /// <summary>What was entered on a gateway is activated.</summary>
    Activate,

    /// <summary>Old SAs are cleared.</summary>
    Clear,

    /// <summary>An uplink is taken down and up.</summary>
    BounceUplink,

    /// <summary>A gateway gets another outer address.</summary>
    MoveAddress,

    /// <summary>An uplink is put on another device.</summary>
    Cut,

    /// <summary>Something is shown to run, or to be gone.</summary>
    Prove,

    /// <summary>The configuration of a gateway is saved, or a copy of it kept.</summary>
    SaveAfter,

    /// <summary>An old device is switched off.</summary>
    SwitchOff,

    /// <summary>The change is closed.</summary>
    Close,
}

/// <summary>A place in the written form of a record.</summary>
/// <param name="RecordId">Which record.</param>
/// <param name="Kind">A tunnel or a gateway.</param>
/// <param name="Path">Where in its form.</param>
public sealed record Place(string RecordId, RecordKind Kind, FieldPath Path)
{
    /// <summary>A place on a tunnel.</summary>
    public static Place On(Tunnel tunnel, FieldPath path) => new(tunnel.Id, RecordKind.Tunnel, path);

    /// <summary>A place on a gateway.</summary>
    public static Place On(Gateway gateway, FieldPath path) => new(gateway.Id, RecordKind.Gateway, path);

    /// <summary>Whether it is the same place, or lies below it.</summary>
    public bool IsWithin(Place outer) => RecordId == outer.RecordId && Path.IsWithin(outer.Path);
}

/// <summary>A part of a value that can be set otherwise for itself: one prefix of a list, one side of a rule.</summary>
/// <param name="Text">As it is entered.</param>
/// <param name="At">Where the inventory keeps it.</param>
public sealed record ValuePart(string Text, Place At);

/// <summary>A value of a step, in the unit and spelling that the platform there uses.</summary>
/// <param name="Label">What it is.</param>
/// <param name="Text">What is entered; when the step removes it, what stands there.</param>
public sealed record StepValue(string Label, string Text)
{
    /// <summary>What identifies it on its end; null for a value that is only told.</summary>
    public string? Key { get; init; }

    /// <summary>What stands there then, where this is only a part of it; null where it is the whole.</summary>
    public string? Whole { get; init; }

    /// <summary>What stands there before; null when nothing does.</summary>
    public string? Before { get; init; }

    /// <summary>Where the inventory keeps it; null when it does not.</summary>
    public Place? At { get; init; }

    /// <summary>Its parts, where it has any.</summary>
    public ImmutableArray<ValuePart> Parts { get; init; } = [];

    /// <summary>The place of the value that it waits for; null when it can be entered.</summary>
    public Place? Waits { get; init; }

    /// <summary>That it is there only for now: what it must become, and by when; null for a value that stays.</summary>
    public string? OnlyUntil { get; init; }
}

/// <summary>One step. Its key is stable through recomputing; its number is only for showing.</summary>
public sealed record Step
{
    /// <summary>What tells it from the other steps of its plan.</summary>
    public required string Key { get; init; }

    /// <summary>What it does.</summary>
    public required StepKind Kind { get; init; }

    /// <summary>The part of the run sheet that it stands in.</summary>
    public required Part Part { get; init; }

    /// <summary>Where it is carried out.</summary>
    public Where Where { get; init; } = Where.Us;

    /// <summary>Who is asked to do it when the end is run by somebody else; null when we do it.</summary>
    public string? Asked { get; init; }

    /// <summary>What is to be done, in one imperative sentence.</summary>
    public required Sentence Do { get; init; }

    /// <summary>Exact values to enter.</summary>
    public ImmutableArray<StepValue> Enter { get; init; } = [];

    /// <summary>What the step removes.</summary>
    public ImmutableArray<StepValue> Remove { get; init; } = [];

    /// <summary>What the device holds or shows afterwards.</summary>
    public ImmutableArray<StepValue> Expect { get; init; } = [];

    /// <summary>What proves it; null when nothing has to.</summary>
    public Sentence? Proof { get; init; }

    /// <summary>Whether it is there to prove something, so that being done needs proof.</summary>
    public bool Proves => Kind == StepKind.Prove && Proof is not null;

    /// <summary>How long it takes, in minutes.</summary>
    public required int Minutes { get; init; }

    /// <summary>What it does to traffic; null when nothing.</summary>
    public Sentence? Stops { get; init; }

    /// <summary>What undoes it; null when there is nothing to undo.</summary>
    public Sentence? Undo { get; init; }

    /// <summary>The places in the plan's list of edits that this step carries out.</summary>
    public ImmutableArray<int> Edits { get; init; } = [];

    /// <summary>The keys of the steps that have to be settled first.</summary>
    public ImmutableArray<string> Needs { get; init; } = [];

    /// <summary>The tunnel it is about; null when it is about all of the change's.</summary>
    public string? TunnelId { get; init; }

    /// <summary>The code of the gateway on which it is done; null when it is done on none.</summary>
    public string? Gateway { get; init; }

    /// <summary>Of a step that makes a key: its version.</summary>
    public int? Makes { get; init; }

    /// <summary>Of a step that fills in a pending value: where that value stands.</summary>
    public Place? Fills { get; init; }

    /// <summary>Whether it cannot be undone without losing something: a key withdrawn, a device switched off.</summary>
    public bool NoReturn { get; init; }
}
