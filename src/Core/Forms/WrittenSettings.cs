namespace Vellumkeep.Core.Forms;

/// <summary>The written form of settings, each by its key.</summary>
public static class WrittenSettings
{
    /// <summary>Reads a map of settings by their keys; unknown keys are refused with the nearest known ones.</summary>
    public static SettingSet Read(Fields f, Func<Setting, bool>? allowed = null)
    {
        var set = SettingSet.Empty;
        foreach (var setting in Settings.All.Where(s => allowed?.Invoke(s) ?? true))
        {
            var recorded = f.Raw(setting.Key, setting.About, (n, p, x) => Read(setting, n, p, x), holds: setting.Holds);
            f.Name(setting.Key, setting.InLine);
            if (recorded is not null)
                set = set.WithRaw(setting, recorded);
        }

        return set;
    }

    /// <summary>Writes the settings that are said into a map, by their keys.</summary>
    public static void Write(SettingSet set, MapWriter writer)
    {
        foreach (var setting in set.Given)
            writer.Add(setting.Key, Write(setting, set.GetRaw(setting)!));
    }

    /// <summary>Writes the settings that are said.</summary>
    public static MapNode Write(SettingSet set)
    {
        var writer = new MapWriter();
        Write(set, writer);
        return writer.Done();
    }

    /// <summary>Reads what is recorded of one setting; null when it is wrong, with the problems.</summary>
    internal static object? Read(Setting setting, Node node, string path, List<Problem> problems) =>
        setting.Accept(new Reader(node, path, problems));

    /// <summary>Writes what is recorded of one setting.</summary>
    internal static Node Write(Setting setting, object recorded) => setting.Accept(new Writer(recorded));

    /// <summary>Writes a value of a setting with how it was confirmed.</summary>
    internal static Node Write(Setting setting, object value, Confirmation confirmation) =>
        setting.Accept(new ConfirmedWriter(value, confirmation));

    private static readonly Form<Life> OfLife = new Form<Life>(() => new(null!))
        .Value(l => l.Time, "time", "a length of time with its unit, such as 3600 s", Codecs.Lifetime, required: true)
        .Value(
            l => l.Data,
            "data",
            "an amount of data with its unit, such as 4 GB",
            new Codec<DataAmount>(DataAmount.Parse, d => $"{d.Amount} {d.Unit}")
        )
        .Value(
            l => l.Margin,
            "margin",
            "rekey margin: how long before the end it is rekeyed, such as 20 % or 5 min",
            Codecs.Of(Margin.Parse)
        );

    private static Node WriteList<T>(ListSetting<T> setting, Several<T> list) =>
        ListNode.OfTexts(list.Items.Select(setting.Write));

    private sealed class Reader(Node node, string path, List<Problem> problems) : ISettingVisitor<object?>
    {
        public object? Text<T>(TextSetting<T> setting)
            where T : class => WrittenRecorded.Read(node, path, problems, (n, p, x) =>
            {
                if (n is TextNode or ListNode { Items.Length: 1 })
                    return Fields.TextsOf(n, setting.Parse, p, x).FirstOrDefault();
                x.Add(new(p, n.Line, "one value is expected here", setting.About));
                return null;
            });

        public object? List<T>(ListSetting<T> setting) => WrittenRecorded.Read(node, path, problems, (n, p, x) =>
            {
                var before = x.Count;
                var items = setting.ParseAll is { } all
                    ? [.. Fields.TextsOf(n, all, p, x).SelectMany(several => several)]
                    : Fields.TextsOf(n, setting.Parse, p, x);
                if (items.IsEmpty && x.Count == before)
                    x.Add(new(p, n.Line, $"{setting.Label} is an empty list", setting.About));
                return x.Count == before ? new Several<T>(items) : null;
            });

        public object? Life(LifeSetting setting) => WrittenRecorded.Read(node, path, problems, OneLife);

        private static Life? OneLife(Node node, string path, List<Problem> problems)
        {
            if (node is not MapNode map)
                return Fields.OneOf(node, Lifetime.Parse, path, problems) is { } only ? new Life(only) : null;
            var reading = new Reading(IdNames.Instance);
            var life = OfLife.Read(new Fields(map, path, reading));
            problems.AddRange(reading.Problems);
            return life;
        }
    }

    private sealed class Writer(object recorded) : ISettingVisitor<Node>
    {
        public Node Text<T>(TextSetting<T> setting)
            where T : class => WrittenRecorded.Write((Recorded<T>)recorded, value => value.ToString()!);

        public Node List<T>(ListSetting<T> setting) =>
            WrittenRecorded.Write((Recorded<Several<T>>)recorded, list => WriteList(setting, list));

        public Node Life(LifeSetting setting) =>
            WrittenRecorded.Write((Recorded<Life>)recorded, life => OfLife.Write(life, IdNames.Instance));
    }

    private sealed class ConfirmedWriter(object value, Confirmation confirmation) : ISettingVisitor<Node>
    {
        public Node Text<T>(TextSetting<T> setting)
            where T : class => new Writer(Recorded<T>.Known((T)value, confirmation)).Text(setting);

        public Node List<T>(ListSetting<T> setting) =>
            new Writer(Recorded<Several<T>>.Known((Several<T>)value, confirmation)).List(setting);

        public Node Life(LifeSetting setting) =>
            new Writer(Recorded<Life>.Known((Life)value, confirmation)).Life(setting);
    }
}
