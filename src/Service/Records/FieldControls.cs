using Vellumkeep.Core.Algorithms;

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
        ["peerAddress"] = "address",
        ["tunnelAddress"] = "address",
        ["confirmed"] = "confirmed",
        ["ikeProposals"] = "IKE proposal",
        ["espProposals"] = "ESP proposal",
        ["until"] = "day",
        ["from"] = "day",
        ["retired"] = "day",
        ["supportEnds"] = "day",
        ["since"] = "day",
        ["left"] = "day",
        ["deadline"] = "day",
        ["entered"] = "day",
        ["active"] = "day",
        ["saved"] = "day",
        ["notes"] = "long text",
        ["pairs"] = "pairs",
        ["roles"] = "roles",
        ["ikeVersions"] = "IKE versions",
        ["ikeLifetime"] = "lifetime",
        ["espLifetime"] = "lifetime",
        ["pfs"] = "PFS",
        ["identitySent"] = "identity",
        ["identityExpected"] = "identity",
        ["initiation"] = "initiation",
        ["dpd"] = "DPD",
        ["authentication"] = "one word",
        ["exchangeMode"] = "one word",
        ["pairsPerChild"] = "one word",
        ["natTraversal"] = "one word",
        ["extendedSequence"] = "one word",
        ["dontFragment"] = "one word",
        ["keyHeld"] = "key versions",
        ["rules"] = "rows",
        ["noNat"] = "rows",
        ["routes"] = "rows",
    };

    /// <summary>Keys that mean one thing here and another there, with the field that they stand in.</summary>
    private static readonly Dictionary<(string Above, string Key), string> ByPlace = new()
    {
        [("routes", "to")] = "prefix",
        [("freezes", "to")] = "day",
        [("routing", "announces")] = "prefix",
        [("routing", "accepts")] = "prefix",
        [("", "subnets")] = "prefix",
    };

    /// <summary>The words that a control is made of, where the field itself names none.</summary>
    private static readonly Dictionary<string, IEnumerable<string>> WordsByKey = new(StringComparer.Ordinal)
    {
        ["ikeVersions"] = WordsOf.IkeVersions.All,
        ["ikeLifetime"] = Platform.Units.All,
        ["espLifetime"] = Platform.Units.All,
        ["pfs"] = Platform.PfsStanceWords.All,
        ["identitySent"] = Identity.Kinds.All,
        ["identityExpected"] = Identity.Kinds.All,
        ["initiation"] = WordsOf.Initiations.All,
        ["dpd"] = WordsOf.DeadPeerActions.All,
        ["authentication"] = WordsOf.Authentications.All,
        ["exchangeMode"] = WordsOf.ExchangeModes.All,
        ["pairsPerChild"] = WordsOf.PairsPerChild.All,
        ["natTraversal"] = WordsOf.NatTraversals.All,
        ["extendedSequence"] = WordsOf.Extendeds.All,
        ["dontFragment"] = WordsOf.DontFragments.All,
        ["encryption"] = AlgorithmTable.Encryptions.Select(e => e.Name),
        ["integrity"] = AlgorithmTable.Integrities.Select(i => i.Name),
        ["prfs"] = AlgorithmTable.Prfs.Select(p => p.Name),
        ["groups"] = AlgorithmTable.Groups.Select(g => g.Name),
        ["forms"] = WordsOf.Forms.All,
    };

    /// <param name="above">The key of the field that it stands in; empty at the top of a record.</param>
    public static string Of(FieldNote note, string above) =>
        ByPlace.GetValueOrDefault((above, note.Key)) ?? ByKey.GetValueOrDefault(note.Key, "text");

    public static ImmutableArray<string> Words(FieldNote note) =>
        note.Words.IsEmpty && WordsByKey.TryGetValue(note.Key, out var words) ? [.. words] : note.Words;
}
