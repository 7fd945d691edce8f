namespace Vellumkeep.Core.Records;

/// <summary>
/// A named, reusable set of IKE and ESP proposals with lifetimes and PFS, at a version. A tunnel uses it at that
/// version.
/// </summary>
public sealed record Suite(string Id, string Name, int Version, string? About, SettingSet Settings) : IRecord
{
    public RecordKind Kind => RecordKind.Suite;

    public DateOnly? Retired { get; init; }

    public string Code => $"{Name}@{Version}";

    public static Suite? Read(string id, Fields f)
    {
        var name = f.Code("code", "code, such as BRI-STANDARD");
        var version = f.Value(
            "version",
            "whole number from 1",
            t => Scalars.Number(t, 1, 9999, "a version").To(n => (int?)n),
            true
        );
        var about = f.OptionalText("about", "what it is for");
        var settings = SettingSet.Read(f, s => s.Negotiated);
        var retired = f.Value("retired", "date on which it was taken out of use", t =>
            Scalars.Date(t).To(d => (DateOnly?)d)
        );
        return f.Build(() => new Suite(id, name, version!.Value, about, settings) { Retired = retired });
    }

    public MapNode Write()
    {
        var writer = new MapWriter()
            .Add("code", Name)
            .Add("version", Version.ToString(CultureInfo.InvariantCulture))
            .Add("about", About);
        Settings.Write(writer);
        return writer.Add("retired", Retired is { } day ? Scalars.Write(day) : null).Done();
    }
}
