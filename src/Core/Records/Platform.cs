namespace Vellumkeep.Core.Records;

/// <summary>What a change of one kind does to traffic on a platform.</summary>
public enum Disturbance
{
    Nothing,
    ThatPair,
    TunnelRestarts,
    GatewayRestarts,
    UplinkBounces,
}

/// <summary>A disturbance and how long it lasts in seconds; null when the profile does not say.</summary>
public sealed record Cost(Disturbance What, int? Seconds)
{
    public static readonly Words<Disturbance> Kinds = new("what a change disturbs",
        (Disturbance.Nothing, "nothing"), (Disturbance.ThatPair, "that pair"), (Disturbance.TunnelRestarts, "tunnel restarts"),
        (Disturbance.GatewayRestarts, "every tunnel restarts"), (Disturbance.UplinkBounces, "uplink bounces"));

    /// <summary>Reads <c>tunnel restarts, 20 s</c> or <c>nothing</c>.</summary>
    public static Parsed<Cost> Parse(string text)
    {
        var comma = text.IndexOf(',');
        var what = Kinds.Parse(comma < 0 ? text : text[..comma]);
        return !what.Ok ? Parsed<Cost>.Fail(what.Wrong!, what.Right!)
            : comma < 0 ? Parsed<Cost>.Of(new(what.Value, null))
            : Lifetime.Parse(text[(comma + 1)..]).To(t => new Cost(what.Value, (int)t.InSeconds));
    }

    public override string ToString() => Kinds.Of(What) + (Seconds is { } s ? $", {s} s" : "");
}

/// <summary>How what is entered takes effect.</summary>
public enum Effect
{
    AtOnce,
    OnActivation,
    OnRequest,
}

/// <summary>How an IKEv1 lifetime that is not equal is answered.</summary>
public enum LifetimeAnswer
{
    MustBeEqual,
    LowerWinsSilently,
    LowerWinsAndSaysSo,
    InitiatorWins,
}

/// <summary>What one make, model and version can do and does by default. Data, not code; anything may be unknown (null).</summary>
/// <param name="Answers">What it accepts when it answers; null when not known.</param>
/// <param name="ComparesNamesByOctet">Whether identities that differ only in case differ; null when not known.</param>
/// <param name="SendsAddressByDefault">Whether the identity is the address on the device, and the one expected the peer address, when nobody says; null when not known.</param>
/// <param name="LifetimeUnit">The unit the operator types; null when not known.</param>
/// <param name="ByHand">What has to be made by hand beside the tunnel; null when not known.</param>
/// <param name="SavedApart">Whether saving is an act of its own; null when not known.</param>
public sealed record Platform(
    string Id, string Name, int Version, string Title, string Family,
    ImmutableArray<IkeVersion> IkeVersions, ImmutableArray<Encryption> Encryptions, ImmutableArray<Integrity> Integrities, ImmutableArray<DhGroup> Groups,
    Answering? Answers, bool? ComparesNamesByOctet, ImmutableArray<TunnelForm> Forms, TimeUnit? LifetimeUnit, LifetimeAnswer? LifetimeAnswer,
    ImmutableArray<string>? ByHand, Cost? SubnetsCost, Effect? Effect, int? EffectSeconds, bool? SavedApart, int? NameLimit, DateOnly? SupportEnds, bool? SendsAddressByDefault, SettingSet Defaults, string? Notes) : IRecord
{
    public static readonly Words<Answering> Answerings = new("a way of answering", (Answering.SameList, "same list"), (Answering.AnyCombination, "any combination"));
    public static readonly Words<Effect> Effects = new("how entries take effect", (Records.Effect.AtOnce, "at once"), (Records.Effect.OnActivation, "on activation"), (Records.Effect.OnRequest, "on request"));
    public static readonly Words<LifetimeAnswer> LifetimeAnswers = new("an answer to an IKEv1 lifetime",
        (Records.LifetimeAnswer.MustBeEqual, "must be equal"), (Records.LifetimeAnswer.LowerWinsSilently, "lower wins silently"),
        (Records.LifetimeAnswer.LowerWinsAndSaysSo, "lower wins and says so"), (Records.LifetimeAnswer.InitiatorWins, "initiator wins"));

    private static readonly Words<TimeUnit> Units = new("a unit of time", (TimeUnit.Seconds, "seconds"), (TimeUnit.Minutes, "minutes"), (TimeUnit.Hours, "hours"));
    private static readonly string[] HandWork = ["rules", "no-translation", "route", "discard route"];

    public RecordKind Kind => RecordKind.Platform;

    public string Code => $"{Name}@{Version}";

    /// <summary>Whether <paramref name="work"/> (rules, no-translation, route, discard route) is made by hand; null when not known.</summary>
    public bool? MadeByHand(string work) => ByHand is { } list ? list.Contains(work) : null;

    public static Platform? Read(string id, Fields f)
    {
        var name = f.Code("code", "code, such as teasel-minor");
        var version = f.Value("version", "whole number from 1", t => Scalars.Number(t, 1, 9999, "a version").To(n => (int?)n), true);
        var title = f.Text("name", "make and model");
        var family = f.OptionalText("family", "small router, large firewall, hosted ...");
        var ike = f.Values("ikeVersions", "IKEv1, IKEv2", WordsOf.IkeVersions.Parse);
        var encryptions = f.Values("encryption", "ciphers with key length", AlgorithmTable.Encryption);
        var integrities = f.Values("integrity", "integrity algorithms", AlgorithmTable.Integrity);
        var groups = f.Values("groups", "DH groups", AlgorithmTable.Group);
        var answers = f.Word("answers", "what it accepts when it answers: same list, or any combination", Answerings);
        var octet = f.Value("namesCompared", "by octet, or ignoring case", t => t.ToLowerInvariant() switch
        {
            "by octet" => Parsed<bool?>.Of(true),
            "ignoring case" => Parsed<bool?>.Of(false),
            _ => Parsed<bool?>.Fail($"'{Typed.Short(t)}' is not a way of comparing names", "by octet, or ignoring case"),
        }, words: ["by octet", "ignoring case"]);
        var forms = f.Values("forms", "policy-based, route-based", WordsOf.Forms.Parse);
        var unit = f.Word("lifetimeUnit", "the unit the operator types: seconds, minutes or hours", Units);
        var lifetimeAnswer = f.Word("ikev1LifetimeAnswer", "how an IKEv1 lifetime that is not equal is answered", LifetimeAnswers);
        var handSaid = f.Has("byHand");
        var byHand = f.Values("byHand", string.Join(", ", HandWork), t => Typed.OneOf(t, HandWork.ToDictionary(h => h), "work done by hand"), HandWork);
        var cost = f.Value("changingSubnets", "what changing subnets disturbs, such as: tunnel restarts, 20 s", Cost.Parse);
        var effect = f.Word("takesEffect", "at once, on activation, or on request", Effects);
        var seconds = f.Value("takesEffectIn", "how long that takes, such as 2 min", Lifetime.Parse);
        var savedApart = f.Value("savedApart", "yes or no: whether saving is an act of its own", t => Scalars.YesNo(t).To(b => (bool?)b), words: ["yes", "no"]);
        var limit = f.Value("nameLimit", "most characters in a name on the device", t => Scalars.Number(t, 4, 255, "a name limit").To(n => (int?)n));
        var ends = f.Value("supportEnds", "date on which support ends", t => Scalars.Date(t).To(d => (DateOnly?)d));
        var sends = f.Value("defaultIdentity", "address, when the identity sent and expected is the address unless somebody says otherwise; or none", t => t switch
        {
            "address" => Parsed<bool?>.Of(true),
            "none" => Parsed<bool?>.Of(false),
            _ => Parsed<bool?>.Fail($"'{Typed.Short(t)}' is not a default identity", "address, or none"),
        }, words: ["address", "none"]);
        var defaults = f.Map("defaults", "what it does when nobody says otherwise", d =>
        {
            var set = SettingSet.Read(d);
            return d.Build(() => set);
        });
        var notes = f.OptionalText("notes", "anything else", 4000);
        return f.Build(() => new Platform(id, name, version!.Value, title, family ?? "", ike, encryptions, integrities, groups, answers, octet, forms, unit, lifetimeAnswer,
            handSaid ? byHand : null, cost, effect, (int?)seconds?.InSeconds, savedApart, limit, ends, sends, defaults ?? SettingSet.Empty, notes));
    }

    public MapNode Write() => new MapWriter().Add("code", Name).Add("version", Version.ToString(CultureInfo.InvariantCulture)).Add("name", Title).Add("family", Family.Length == 0 ? null : Family)
        .Texts("ikeVersions", IkeVersions).Texts("encryption", Encryptions).Texts("integrity", Integrities).Texts("groups", Groups)
        .Add("answers", Answers is { } a ? Answerings.Of(a) : null)
        .Add("namesCompared", ComparesNamesByOctet is { } o ? o ? "by octet" : "ignoring case" : null)
        .Texts("forms", Forms.Select(WordsOf.Forms.Of))
        .Add("lifetimeUnit", LifetimeUnit is { } u ? Units.Of(u) : null)
        .Add("ikev1LifetimeAnswer", LifetimeAnswer is { } l ? LifetimeAnswers.Of(l) : null)
        .Always("byHand", ByHand is { } hand ? ListNode.OfTexts(hand) : null)
        .Add("changingSubnets", SubnetsCost?.ToString()).Add("takesEffect", Effect is { } e ? Effects.Of(e) : null)
        .Add("takesEffectIn", EffectSeconds is { } s ? $"{s} s" : null).Add("savedApart", SavedApart is { } sa ? Scalars.Write(sa) : null)
        .Add("nameLimit", NameLimit?.ToString(CultureInfo.InvariantCulture)).Add("supportEnds", SupportEnds is { } d ? Scalars.Write(d) : null)
        .Add("defaultIdentity", SendsAddressByDefault is { } sends ? sends ? "address" : "none" : null)
        .Add("defaults", Defaults.Write()).Add("notes", Notes).Done();
}
