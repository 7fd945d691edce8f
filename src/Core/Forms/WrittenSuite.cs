namespace Vellumkeep.Core.Forms;

/// <summary>The written form of a suite: its settings stand among its fields.</summary>
public static class WrittenSuite
{
    /// <summary>Every field of a suite, declared once for reading, writing and the schema.</summary>
    public static readonly Form<Suite> Form = new Form<Suite>(() => new("", "", 0, null, SettingSet.Empty))
        .Id(s => s.Id)
        .Code(s => s.Name, "code", "code, such as BRI-STANDARD")
        .Describing()
        .Needs(s => s.Version, "version", "whole number from 1", Codecs.Number(1, 9999, "a version"))
        .Text(s => s.About, "about", "what it is for")
        .Describing()
        .NegotiatedSettings(s => s.Settings)
        .Value(s => s.Retired, "retired", "date on which it was retired", Codecs.Day);
}
