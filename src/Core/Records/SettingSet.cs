namespace Vellumkeep.Core.Records;

/// <summary>A sparse set of settings: any of them may be left unsaid.</summary>
public sealed class SettingSet
{
    private readonly ImmutableDictionary<string, object> values;

    private SettingSet(ImmutableDictionary<string, object> values) => this.values = values;

    /// <summary>Nothing is said.</summary>
    public static readonly SettingSet Empty = new(ImmutableDictionary<string, object>.Empty);

    /// <summary>Whether nothing is said.</summary>
    public bool IsEmpty => values.IsEmpty;

    /// <summary>What is recorded of a setting; null when it is not set.</summary>
    public Recorded<T>? Get<T>(Setting<T> setting)
        where T : class => values.GetValueOrDefault(setting.Key) as Recorded<T>;

    internal object? GetRaw(Setting setting) => values.GetValueOrDefault(setting.Key);

    /// <summary>The set with a setting.</summary>
    public SettingSet With<T>(Setting<T> setting, Recorded<T> value)
        where T : class => new(values.SetItem(setting.Key, value));

    internal SettingSet WithRaw(Setting setting, object recorded) => new(values.SetItem(setting.Key, recorded));

    /// <summary>The set without a setting.</summary>
    public SettingSet Without(Setting setting) =>
        values.ContainsKey(setting.Key) ? new(values.Remove(setting.Key)) : this;

    /// <summary>The value of a setting for reading; null when it is not set, or pending.</summary>
    public string? TextOf(Setting setting) => values.TryGetValue(setting.Key, out var v) ? setting.TextOf(v) : null;

    /// <summary>The settings that are said, in the order of the comparison.</summary>
    public IEnumerable<Setting> Given => Settings.All.Where(s => values.ContainsKey(s.Key));
}
