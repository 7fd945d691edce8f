namespace Vellumkeep.Core.Records;

/// <summary>
/// A named, reusable set of IKE and ESP proposals with lifetimes and PFS, at a version. A tunnel uses it at that
/// version.
/// </summary>
/// <param name="Id">What identifies it; never shown.</param>
/// <param name="Name">Without its version.</param>
/// <param name="Version">From 1.</param>
/// <param name="About">What it is meant for; null when nobody said.</param>
/// <param name="Settings">What it sets.</param>
public sealed record Suite(string Id, string Name, int Version, string? About, SettingSet Settings) : IRecord
{
    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Suite;

    /// <inheritdoc/>
    public DateOnly? Retired { get; init; }

    /// <summary>The name with the version, such as <c>BRI-STANDARD@3</c>.</summary>
    public string Code => $"{Name}@{Version}";
}
