namespace Vellumkeep.Core.Records;

/// <summary>
/// A named, reusable set of IKE and ESP proposals with lifetimes and PFS, at a version. A tunnel uses it at that
/// version.
/// </summary>
public sealed record Suite(string Id, string Name, int Version, string? About, SettingSet Settings) : IRecord
{
    /// <inheritdoc/>
    public RecordKind Kind => RecordKind.Suite;

    /// <inheritdoc/>
    public DateOnly? Retired { get; init; }

    /// <summary>The name with the version, such as <c>BRI-STANDARD@3</c>.</summary>
    public string Code => $"{Name}@{Version}";
}
