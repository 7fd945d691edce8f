namespace Vellumkeep.Service.Records;

/// <summary>
/// Which kind of value a field of a form holds, so that whoever fills it in gets the control for it. What is not named
/// here is a text, a choice of the field's own words, or a record that it refers to.
/// </summary>
internal static class FieldControls
{
    private static readonly Dictionary<string, string> ByKey = new(StringComparer.Ordinal)
    {
        ["timeZone"] = "time zone",
        ["prefix"] = "prefix",
        ["presentedAs"] = "prefix",
        ["subnet"] = "prefix",
        ["tunnelPool"] = "prefix",
        ["members"] = "prefix",
        ["local"] = "prefix",
        ["remote"] = "prefix",
        ["networks"] = "prefix",
        ["addressSpace"] = "prefix",
        ["publicAddress"] = "address",
        ["ikeProposals"] = "IKE proposal",
        ["espProposals"] = "ESP proposal",
        ["until"] = "day",
        ["from"] = "day",
        ["retired"] = "day",
        ["since"] = "day",
        ["left"] = "day",
        ["deadline"] = "day",
        ["entered"] = "day",
        ["active"] = "day",
        ["saved"] = "day",
        ["notes"] = "long text",
        ["pairs"] = "pairs",
        ["roles"] = "roles",
    };

    public static string Of(FieldNote note) => ByKey.GetValueOrDefault(note.Key, "text");
}
