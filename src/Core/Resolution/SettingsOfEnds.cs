namespace Vellumkeep.Core.Resolution;

/// <summary>Settings on an end, whatever the type of their values.</summary>
public static class SettingsOfEnds
{
    /// <summary>The value of a setting on an end, without its type.</summary>
    internal static IResolved On(this Setting setting, EndView end) => setting.Accept(new Getting(end));

    /// <summary>The deadline of a temporary value of a setting on an end; null when it is not temporary.</summary>
    public static DateOnly? Until(this Setting setting, EndView end) => setting.On(end).Until?.Deadline;

    private sealed class Getting(EndView end) : ISettingVisitor<IResolved>
    {
        public IResolved Text<T>(TextSetting<T> setting)
            where T : class => end.Get(setting);

        public IResolved List<T>(ListSetting<T> setting) => end.Get(setting);

        public IResolved Life(LifeSetting setting) => end.Get(setting);
    }
}
