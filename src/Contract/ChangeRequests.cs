namespace Vellumkeep.Contract;

/// <summary>
/// A tunnel that is not there yet. Pairs: A-side and B-side prefix, such as 10.50.0.0/24 - 10.51.0.0/24.
/// </summary>
public sealed record NewTunnelGiven(
    string Code,
    string? Name,
    string? Customer,
    string GatewayA,
    string GatewayB,
    string? UplinkA,
    string? UplinkB,
    IReadOnlyList<string> Pairs
);

/// <summary>
/// A step that the author wrote. Part: prepare, safeguard, build, switch, prove, record. Where: A, B, us.
/// </summary>
public sealed record FreeStepGiven(string Part, string Where, string Do, int? Minutes, string? Stops, string? Undo);

/// <summary>A remark with an act on a change.</summary>
public sealed record ActRemark(string? Remark, int? Step)
{
    /// <summary>The value of the step that is meant, by its label or as it is to be entered.</summary>
    public string? Value { get; init; }
}

/// <summary>A window: local wall time at a site of the tunnel, or with an offset; and minutes.</summary>
public sealed record WindowGiven(DateTimeOffset? Start, int? Minutes)
{
    /// <summary>
    /// Instead of Start: what a clock on the wall shows at the site of an end, such as 2026-11-27T21:00.
    /// </summary>
    public string? LocalStart { get; init; }

    /// <summary>The end at whose site that clock hangs: A or B.</summary>
    public string? End { get; init; }

    /// <summary>Why the window is long enough, where the planned work takes longer; it stands in the record.</summary>
    public string? WhyShort { get; init; }

    /// <summary>Why the window changes: needed while the work is under way; it stands in the record.</summary>
    public string? Reason { get; init; }
}

/// <summary>A value that was pending.</summary>
public sealed record FillGiven(int Number, string Value);

/// <summary>
/// Who is asked to let urgent work begin: a second person who may approve the change; and why it cannot wait.
/// </summary>
public sealed record UrgentGiven(string Reviewer, string Reason);

/// <summary>
/// An attempt at a step: done, skipped (with a reason) or failed (with what happened). Set and Reason: a deviation from
/// the value Planned.
/// </summary>
public sealed record AttemptStep(
    string Outcome,
    string? Remark,
    string? Planned,
    string? Set,
    string? Reason,
    [property: MostCharacters(20_000)] string? Proof = null
)
{
    /// <summary>Why a proving step is done without proof.</summary>
    public string? WithoutProof { get; init; }

    /// <summary>
    /// The key of the step that is meant: refused with 409 when the plan has another one under this number.
    /// </summary>
    public string? Key { get; init; }

    /// <summary>
    /// How many attempts at the step the sender knew of: refused with 409 when somebody has recorded another since.
    /// </summary>
    public int? Known { get; init; }

    /// <summary>A file that proves it: a screen shot, a saved configuration.</summary>
    public ProofFileGiven? File { get; init; }
}

/// <summary>A file of at most 4 MiB, its octets in Base64 (RFC 4648, section 4).</summary>
public sealed record ProofFileGiven(string Name, [property: MostCharacters(6 * 1024 * 1024)] string Content);
