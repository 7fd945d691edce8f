namespace Vellumkeep.Service.Demo;

/// <summary>
/// The times of the demo, relative to the moment it is loaded: whatever the hour, this morning is over and tonight is
/// to come.
/// </summary>
internal sealed class DemoDays(DateTimeOffset now)
{
    public DateOnly Today { get; } = DateOnly.FromDateTime(now.UtcDateTime);

    public DateTimeOffset ThisMorning =>
        now.UtcDateTime.TimeOfDay >= new TimeSpan(6, 40, 0)
            ? At(0, 6)
            : new DateTimeOffset(now.UtcTicks - (now.UtcTicks % TimeSpan.TicksPerHour), TimeSpan.Zero).AddHours(-1);

    public DateTimeOffset Tonight => At(now.UtcDateTime.Hour < 21 ? 0 : 1, 22);

    /// <summary>A time of a day; day -1 is yesterday.</summary>
    public DateTimeOffset At(int day, int hour, int minute = 0) =>
        new(Today.AddDays(day).ToDateTime(new(hour, minute)), TimeSpan.Zero);
}
