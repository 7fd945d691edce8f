namespace Vellumkeep.Core.Changes.Planning;

/// <summary>One thing that a plan is checked for.</summary>
/// <param name="Code">What it is known by; it never changes its meaning, and is declared here alone.</param>
/// <param name="Title">What it says.</param>
public sealed record PlanCheck(string Code, string Title)
{
    /// <summary>Another open change is about the same tunnel or gateway.</summary>
    public static readonly PlanCheck SameTarget = new(
        "PLAN-01",
        "another open change is about the same tunnel or gateway"
    );

    /// <summary>The window is in a freeze, or overlaps the window of another change on the gateway.</summary>
    public static readonly PlanCheck WindowTaken = new(
        "PLAN-02",
        "the window is in a freeze, or overlaps the window of another change on the gateway"
    );

    /// <summary>The change adds a finding that blocks.</summary>
    public static readonly PlanCheck AddsBlocking = new("PLAN-03", "the change adds a finding that blocks");

    /// <summary>A step needs a value that is still pending.</summary>
    public static readonly PlanCheck ValuePending = new("PLAN-04", "a step needs a value that is still pending");

    /// <summary>A step cannot be undone.</summary>
    public static readonly PlanCheck CannotBeUndone = new("PLAN-05", "a step cannot be undone");

    /// <summary>The steps or the interruption are longer than the window.</summary>
    public static readonly PlanCheck WindowTooShort = new(
        "PLAN-06",
        "the steps or the interruption are longer than the window"
    );

    /// <summary>Records behind the plan have changed.</summary>
    public static readonly PlanCheck RecordsChanged = new("PLAN-07", "records behind the plan have changed");

    /// <summary>Other tunnels are affected, or use an entry that the change removes.</summary>
    public static readonly PlanCheck OthersAffected = new(
        "PLAN-09",
        "other tunnels are affected, or use an entry that the change removes"
    );

    /// <summary>A gateway is managed only through a tunnel that the work interrupts.</summary>
    public static readonly PlanCheck ManagementCut = new(
        "PLAN-10",
        "a gateway is managed only through a tunnel that the work interrupts"
    );

    /// <summary>Several things were altered between two attempts at a step.</summary>
    public static readonly PlanCheck AlteredTogether = new(
        "PLAN-11",
        "several things were altered between two attempts at a step"
    );

    /// <summary>It leaves a value unknown that a tunnel needs.</summary>
    public static readonly PlanCheck LeavesUnknown = new("PLAN-12", "it leaves a value unknown that a tunnel needs");

    /// <summary>Every check, in the order of the catalogue.</summary>
    public static readonly ImmutableArray<PlanCheck> All =
    [
        SameTarget,
        WindowTaken,
        AddsBlocking,
        ValuePending,
        CannotBeUndone,
        WindowTooShort,
        RecordsChanged,
        OthersAffected,
        ManagementCut,
        AlteredTogether,
        LeavesUnknown,
    ];
}
