using Vellumkeep.Core.Algorithms;

namespace Vellumkeep.Service.Records;

/// <summary>
/// With which control a field of a form is filled in: it follows from the type of the value that the field is declared
/// to hold. What has no control of its own is a text, a choice of the field's own words, or a record that it refers to.
/// </summary>
internal static class FieldControls
{
    /// <summary>From so many characters on a text is written on several lines.</summary>
    private const int Long = 1000;

    private static readonly Dictionary<Type, string> ByType = new()
    {
        [typeof(TimeZoneInfo)] = "time zone",
        [typeof(Prefix)] = "prefix",
        [typeof(Address)] = "address",
        [typeof(PeerAddress)] = "address",
        [typeof(KeepaliveTarget)] = "address",
        [typeof(TunnelAddress)] = "address",
        [typeof(Confirmation)] = "confirmed",
        [typeof(IkeProposal)] = "IKE proposal",
        [typeof(EspProposal)] = "ESP proposal",
        [typeof(DateOnly)] = "day",
        [typeof(Grant)] = "roles",
        [typeof(IkeVersion)] = "IKE versions",
        [typeof(Life)] = "lifetime",
        [typeof(Pfs)] = "PFS",
        [typeof(Identity)] = "identity",
        [typeof(Word<Initiation>)] = "initiation",
        [typeof(Dpd)] = "DPD",
        [typeof(KeyHeld)] = "key versions",
        [typeof(Rule)] = "rows",
        [typeof(LocalRemote)] = "rows",
        [typeof(Core.Records.Route)] = "rows",
    };

    /// <summary>The words that the control of one value is made of, where the field itself names none.</summary>
    private static readonly Dictionary<Type, IEnumerable<string>> WordsOfOne = new()
    {
        [typeof(IkeVersion)] = WordsOf.IkeVersions.All,
        [typeof(Life)] = Platform.Units.All,
        [typeof(Pfs)] = Platform.PfsStanceWords.All,
        [typeof(Identity)] = Identity.Kinds.All,
        [typeof(Word<Initiation>)] = WordsOf.Initiations.All,
        [typeof(Dpd)] = WordsOf.DeadPeerActions.All,
        [typeof(Word<Authentication>)] = WordsOf.Authentications.All,
        [typeof(Word<ExchangeMode>)] = WordsOf.ExchangeModes.All,
        [typeof(Word<PairsPerChild>)] = WordsOf.PairsPerChild.All,
        [typeof(Word<NatTraversal>)] = WordsOf.NatTraversals.All,
        [typeof(Word<Extended>)] = WordsOf.Extendeds.All,
        [typeof(Word<DontFragment>)] = WordsOf.DontFragments.All,
        [typeof(Word<EspMode>)] = WordsOf.EspModes.All,
        [typeof(Word<InterfaceEncapsulation>)] = WordsOf.InterfaceEncapsulations.All,
    };

    /// <summary>The words that a list is chosen from, where the field itself names none.</summary>
    private static readonly Dictionary<Type, IEnumerable<string>> WordsOfLists = new()
    {
        [typeof(IkeVersion)] = WordsOf.IkeVersions.All,
        [typeof(Encryption)] = AlgorithmTable.Encryptions.Select(e => e.Name),
        [typeof(Integrity)] = AlgorithmTable.Integrities.Select(i => i.Name),
        [typeof(Prf)] = AlgorithmTable.Prfs.Select(p => p.Name),
        [typeof(DhGroup)] = AlgorithmTable.Groups.Select(g => g.Name),
        [typeof(TunnelForm)] = WordsOf.Forms.All,
        [typeof(Word<SignatureMethod>)] = WordsOf.SignatureMethods.All,
    };

    public static string Of(FieldNote note)
    {
        if (note.Most >= Long)
            return "long text";
        if (note.Holds is not { } type)
            return "text";
        if (ByType.TryGetValue(type, out var control))
            return control;
        return note.Shape != FieldShape.Texts && type.IsGenericType && type.GetGenericTypeDefinition() == typeof(Word<>)
            ? "one word"
            : "text";
    }

    public static ImmutableArray<string> Words(FieldNote note)
    {
        var known = note.Shape == FieldShape.Texts ? WordsOfLists : WordsOfOne;
        return note.Words.IsEmpty && note.Holds is { } type && known.TryGetValue(type, out var words)
            ? [.. words]
            : note.Words;
    }
}
