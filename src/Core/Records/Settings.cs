using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Records;

/// <summary>How the two ends' values of a setting ought to stand to each other; comparison follows it.</summary>
public enum Likeness
{
    /// <summary>Both ends must be equal, or have something in common where it is negotiated.</summary>
    Alike,

    /// <summary>Each end's own: a difference is no fault by itself.</summary>
    EachEndsOwn,
}

/// <summary>
/// One setting of a tunnel: declared once in <see cref="Settings.All"/>, with its key, its name for people and its rule
/// of reading.
/// </summary>
public abstract class Setting(string key, string label, Likeness likeness, string about, bool negotiated)
{
    public string Key { get; } = key;

    public string Label { get; } = label;

    public Likeness Likeness { get; } = likeness;

    public string About { get; } = about;

    /// <summary>Whether a suite may carry it.</summary>
    public bool Negotiated { get; } = negotiated;

    internal abstract object? ReadRecorded(Node node, string path, List<Problem> problems);

    internal abstract Node WriteRecorded(object recorded);

    /// <summary>The recorded value for reading, or null while it is pending.</summary>
    internal abstract string? TextOf(object recorded);

    /// <summary>The recorded value, or null while it is pending.</summary>
    internal abstract object? ValueOf(object recorded);

    internal abstract Seen? SeenOf(object recorded);

    /// <summary>The same recorded value with <paramref name="seen"/>.</summary>
    internal abstract Node WithSeen(object value, Seen seen);

    /// <summary>The value of this setting on an end, without its type.</summary>
    internal abstract IResolved On(EndView end);

    /// <summary>The deadline of a temporary value of this setting on an end; null when it is not temporary.</summary>
    public DateOnly? Until(EndView end) => On(end).Until?.Deadline;
}

/// <summary>A setting with the type of its value.</summary>
public sealed class Setting<T>(
    string key,
    string label,
    Likeness likeness,
    string about,
    bool negotiated,
    Func<Node, string, List<Problem>, T?> read,
    Func<T, Node> write
) : Setting(key, label, likeness, about, negotiated)
    where T : class
{
    internal override object? ReadRecorded(Node node, string path, List<Problem> problems) =>
        Recorded<T>.Read(node, path, problems, read);

    internal override Node WriteRecorded(object recorded) => ((Recorded<T>)recorded).Write(write);

    internal override string? TextOf(object recorded) => ((Recorded<T>)recorded).Value?.ToString();

    internal override object? ValueOf(object recorded) => ((Recorded<T>)recorded).Value;

    internal override Seen? SeenOf(object recorded) => ((Recorded<T>)recorded).Seen;

    internal override Node WithSeen(object value, Seen seen) => Recorded<T>.Known((T)value, seen).Write(write);

    internal override IResolved On(EndView end) => end.Get(this);
}

/// <summary>Every setting of a tunnel, in the order in which they are shown.</summary>
public static class Settings
{
    public static readonly Setting<Several<IkeVersion>> IkeVersions = Listed(
        "ikeVersions",
        "IKE version",
        Likeness.Alike,
        "IKEv1, IKEv2",
        true,
        WordsOf.IkeVersions.Parse
    );
    public static readonly Setting<Word<ExchangeMode>> ExchangeMode = OfWord(
        "exchangeMode",
        "Exchange mode",
        Likeness.Alike,
        WordsOf.ExchangeModes
    );
    public static readonly Setting<Several<IkeProposal>> IkeProposals = Listed(
        "ikeProposals",
        "IKE proposals",
        Likeness.Alike,
        "one proposal a line, preferred first",
        true,
        IkeProposal.Parse
    );
    public static readonly Setting<Life> IkeLifetime = OfLife("ikeLifetime", "IKE lifetime");
    public static readonly Setting<Several<EspProposal>> EspProposals = Listed(
        "espProposals",
        "ESP proposals",
        Likeness.Alike,
        "one proposal a line, preferred first",
        true,
        EspProposal.Parse
    );
    public static readonly Setting<Pfs> Pfs = One(
        "pfs",
        "PFS",
        Likeness.Alike,
        "required DH 14, optional DH 14, required DH of IKE, or refused",
        true,
        Negotiation.Pfs.Parse
    );
    public static readonly Setting<Life> EspLifetime = OfLife("espLifetime", "ESP lifetime");
    public static readonly Setting<Word<Authentication>> Authentication = OfWord(
        "authentication",
        "Authentication",
        Likeness.Alike,
        WordsOf.Authentications
    );
    public static readonly Setting<Word<PairsPerChild>> PairsPerChild = OfWord(
        "pairsPerChild",
        "Pairs per child SA",
        Likeness.EachEndsOwn,
        WordsOf.PairsPerChild
    );
    public static readonly Setting<Word<Start>> Start = OfWord("start", "Start", Likeness.EachEndsOwn, WordsOf.Starts);
    public static readonly Setting<Word<NatTraversal>> NatTraversal = OfWord(
        "natTraversal",
        "NAT traversal",
        Likeness.EachEndsOwn,
        WordsOf.NatTraversals
    );
    public static readonly Setting<Dpd> Dpd = One(
        "dpd",
        "DPD",
        Likeness.EachEndsOwn,
        "20 s x 5, try again; or off",
        false,
        Records.Dpd.Parse
    );
    public static readonly Setting<Number> ReplayWindow = One(
        "replayWindow",
        "Replay window",
        Likeness.EachEndsOwn,
        "packets, 0 to 4096",
        false,
        t => Scalars.Number(t, 0, 4096, "a replay window").To(n => new Number(n))
    );
    public static readonly Setting<PeerAddress> Keepalive = One(
        "keepalive",
        "Keepalive",
        Likeness.EachEndsOwn,
        "the target's address, or any when off",
        false,
        PeerAddress.Parse
    );
    public static readonly Setting<Every> KeepaliveInterval = One(
        "keepaliveInterval",
        "Keepalive interval",
        Likeness.EachEndsOwn,
        "a length of time such as 10 s; or off",
        false,
        Every.Parse
    );
    public static readonly Setting<Every> Reauthentication = One(
        "reauthentication",
        "Reauthentication",
        Likeness.EachEndsOwn,
        "a length of time such as 24 h; or off",
        false,
        Every.Parse
    );
    public static readonly Setting<Word<Extended>> ExtendedSequence = OfWord(
        "extendedSequence",
        "Extended sequence numbers",
        Likeness.Alike,
        WordsOf.Extendeds
    );
    public static readonly Setting<Word<DontFragment>> DontFragment = OfWord(
        "dontFragment",
        "Don't-fragment bit",
        Likeness.EachEndsOwn,
        WordsOf.DontFragments
    );
    public static readonly Setting<Number> Mtu = One(
        "mtu",
        "MTU",
        Likeness.EachEndsOwn,
        "octets, 576 to 9216",
        false,
        t => Scalars.Number(t, 576, 9216, "an MTU in octets").To(n => new Number(n))
    );
    public static readonly Setting<Clamp> MssClamp = One(
        "mssClamp",
        "MSS clamp",
        Likeness.EachEndsOwn,
        "octets, 500 to 9176; or off",
        false,
        Clamp.Parse
    );

    public static readonly ImmutableArray<Setting> All =
    [
        IkeVersions,
        ExchangeMode,
        IkeProposals,
        IkeLifetime,
        Reauthentication,
        EspProposals,
        Pfs,
        EspLifetime,
        ExtendedSequence,
        Authentication,
        PairsPerChild,
        Start,
        NatTraversal,
        Dpd,
        ReplayWindow,
        Keepalive,
        KeepaliveInterval,
        Mtu,
        MssClamp,
        DontFragment,
    ];

    public static Setting? Find(string key) =>
        All.FirstOrDefault(s => s.Key.Equals(key, StringComparison.OrdinalIgnoreCase));

    private static Setting<T> One<T>(
        string key,
        string label,
        Likeness likeness,
        string about,
        bool negotiated,
        Func<string, Parsed<T>> parse
    )
        where T : class =>
        new(
            key,
            label,
            likeness,
            about,
            negotiated,
            (n, p, x) =>
                n is TextNode or ListNode { Items.Length: 1 }
                    ? Scalars.TextsOf(n, parse, p, x).FirstOrDefault()
                    : Wrong<T>(n, p, x, about),
            v => v.ToString()!
        );

    private static Setting<Word<T>> OfWord<T>(string key, string label, Likeness likeness, Words<T> words)
        where T : struct, Enum =>
        One(key, label, likeness, string.Join(", ", words.All), false, t =>
            words.Parse(t).To(v => new Word<T>(v, words))
        );

    private static Setting<Several<T>> Listed<T>(
        string key,
        string label,
        Likeness likeness,
        string about,
        bool negotiated,
        Func<string, Parsed<T>> parse
    ) =>
        new(
            key,
            label,
            likeness,
            about,
            negotiated,
            (n, p, x) =>
            {
                var before = x.Count;
                var items = Scalars.TextsOf(n, parse, p, x);
                if (items.IsEmpty && x.Count == before)
                    x.Add(new(p, n.Line, $"{label} is an empty list", about));
                return x.Count == before ? new Several<T>(items) : null;
            },
            v =>
                ListNode.OfTexts(
                    v.Items.Select(i => i is IkeVersion version ? WordsOf.IkeVersions.Of(version) : i!.ToString())
                )
        );

    private static Setting<Life> OfLife(string key, string label) =>
        new(
            key,
            label,
            Likeness.EachEndsOwn,
            "time with its unit, optionally data and margin: {time: 3600 s, data: 4 GB, margin: 20 %}",
            true,
            (n, p, x) =>
            {
                if (n is not MapNode map)
                    return Scalars.TextsOf(n, Lifetime.Parse, p, x) is [var only] ? new Life(only) : null;
                var reading = new Reading(IdNames.Instance);
                var f = new Fields(map, p, reading);
                var time = f.Value("time", "a length of time with its unit, such as 3600 s", Lifetime.Parse, true);
                var data = f.Value("data", "an amount of data with its unit, such as 4 GB", DataAmount.Parse);
                var margin = f.Value(
                    "margin",
                    "how long before the end it is renewed, such as 20 % or 5 min",
                    Margin.Parse
                );
                var life = f.Build(() => new Life(time!, data, margin));
                x.AddRange(reading.Problems);
                return life;
            },
            v =>
                new MapWriter()
                    .Add("time", $"{v.Time.Amount} {Lifetime.Word(v.Time.Unit)}")
                    .Add("data", v.Data is null ? null : $"{v.Data.Amount} {v.Data.Unit}")
                    .Add("margin", v.Margin?.ToString())
                    .Done()
        );

    private static T? Wrong<T>(Node node, string path, List<Problem> problems, string about)
        where T : class
    {
        problems.Add(new(path, node.Line, "one value is expected here", about));
        return null;
    }
}

/// <summary>A sparse set of settings: any of them may be left unsaid.</summary>
public sealed class SettingSet
{
    private readonly ImmutableDictionary<string, object> values;

    private SettingSet(ImmutableDictionary<string, object> values) => this.values = values;

    public static readonly SettingSet Empty = new(ImmutableDictionary<string, object>.Empty);

    public bool IsEmpty => values.IsEmpty;

    public Recorded<T>? Get<T>(Setting<T> setting)
        where T : class => values.GetValueOrDefault(setting.Key) as Recorded<T>;

    internal object? GetRaw(Setting setting) => values.GetValueOrDefault(setting.Key);

    public SettingSet With<T>(Setting<T> setting, Recorded<T> value)
        where T : class => new(values.SetItem(setting.Key, value));

    /// <summary>The value of a setting for reading; null when it is not said, or pending.</summary>
    public string? TextOf(Setting setting) => values.TryGetValue(setting.Key, out var v) ? setting.TextOf(v) : null;

    public IEnumerable<Setting> Said => Settings.All.Where(s => values.ContainsKey(s.Key));

    /// <summary>Reads a map of settings by their keys; unknown keys are refused with the nearest known ones.</summary>
    public static SettingSet Read(Fields f, Func<Setting, bool>? allowed = null)
    {
        var builder = ImmutableDictionary.CreateBuilder<string, object>();
        foreach (var setting in Settings.All.Where(s => allowed?.Invoke(s) ?? true))
            if (f.Raw(setting.Key, setting.About, setting.ReadRecorded) is { } read)
                builder[setting.Key] = read;
        return new(builder.ToImmutable());
    }

    public void Write(MapWriter writer)
    {
        foreach (var setting in Said)
            writer.Add(setting.Key, setting.WriteRecorded(values[setting.Key]));
    }

    public MapNode Write()
    {
        var writer = new MapWriter();
        Write(writer);
        return writer.Done();
    }
}
