namespace Vellumkeep.Core.Forms;

/// <summary>What both parties agreed for a tunnel: its shape depends on what else stands there.</summary>
public static partial class WrittenTunnel
{
    private static Agreed? ReadAgreed(Fields f)
    {
        var suite = f.Reference("suite", "suite with its version, such as BRI-STANDARD@3", RecordKind.Suite);
        // A setting that is each end's own may be agreed once for both, or for each end: {a: ..., b: ...}.
        SettingSet both = SettingSet.Empty,
            onlyA = SettingSet.Empty,
            onlyB = SettingSet.Empty;
        var split = new Dictionary<EndName, MapWriter> { [EndName.A] = new(), [EndName.B] = new() };
        var shared = new MapWriter();
        foreach (var setting in Settings.All)
        {
            f.Raw(
                setting.Key,
                setting.About + (setting.Likeness == Likeness.EachEndsOwn ? "; or {a: ..., b: ...}" : ""),
                (node, path, problems) =>
                {
                    if (
                        setting.Likeness == Likeness.EachEndsOwn
                        && node is MapNode map
                        && map.Entries.Length > 0
                        && map.Entries.All(e => e.Key is "a" or "b")
                    )
                        foreach (var end in Enum.GetValues<EndName>())
                            split[end].Add(setting.Key, map.Find(end.Key()));
                    else
                        shared.Add(setting.Key, node);
                    return "";
                },
                holds: setting.Holds
            );
            f.Name(setting.Key, setting.InLine);
        }

        SettingSet Sub(MapNode map, string suffix)
        {
            var set = SettingSet.Empty;
            foreach (var (key, node) in map.Entries)
            {
                var reading = new Reading(IdNames.Instance);
                var one = WrittenSettings.Read(new Fields(new MapNode([new(key, node)]), "", reading));
                foreach (var p in reading.Problems)
                    f.Refuse(p with { Field = p.Field + suffix });
                set = reading.Problems.Count == 0 ? Merge(set, one) : set;
            }

            return set;
        }

        both = Sub(shared.Done(), "");
        onlyA = Sub(split[EndName.A].Done(), ".a");
        onlyB = Sub(split[EndName.B].Done(), ".b");
        Identity? identityA = null,
            identityB = null;
        f.Map("identities", "identities that the ends send", i =>
        {
            identityA = i.Value("a", "identity A sends, such as: fqdn churn.brindle.example", Identity.Parse);
            identityB = i.Value("b", "identity B sends", Identity.Parse);
            i.Name("a", "A");
            i.Name("b", "B");
            return i.Build(() => "");
        });
        var pairs = f.Maps(
            "pairs",
            "wanted subnet pairs, as presented in the tunnel",
            p =>
            {
                var left = p.Value("a", "A-side prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
                var right = p.Value("b", "B-side prefix", t => Prefix.Parse(t).To(x => (Prefix?)x), true);
                var only = p.Value(
                    "only",
                    "protocol and ports, such as tcp 443 at B, icmp; all when left out",
                    Traffic.ParseOfPair
                );
                p.Name("a", "A");
                p.Name("b", "B");
                p.Name("only", "protocol and ports");
                if (left is { } l && right is { } r && l.Family != r.Family)
                    p.Refuse("b", $"{l} and {r} are of different families", "two IPv4 or two IPv6 prefixes");
                return p.Build(() => new PairBox(new(left!.Value, right!.Value, only)));
            },
            askedFirst: true
        );
        f.Name("pairs", "pairs", "pair");
        foreach (var twice in pairs.GroupBy(p => p.Pair).Where(g => g.Count() > 1))
            f.Refuse("pairs", $"the pair {twice.Key} is entered twice", "each pair once");
        return f.Build(() =>
            new Agreed(suite, both, onlyA, onlyB, identityA, identityB, [.. pairs.Select(p => p.Pair)])
        );
    }

    private sealed record PairBox(SubnetPair Pair);

    private static SettingSet Merge(SettingSet into, SettingSet one)
    {
        foreach (var setting in one.Given)
            into = into.WithRaw(setting, one.GetRaw(setting)!);
        return into;
    }

    private static MapNode WriteAgreed(Agreed a, INames names)
    {
        var writer = new MapWriter().Add("suite", a.SuiteId is null ? null : names.TextOf(RecordKind.Suite, a.SuiteId));
        foreach (var setting in Settings.All)
        {
            if (a.Both.GetRaw(setting) is { } both)
                writer.Add(setting.Key, WrittenSettings.Write(setting, both));
            var onA = a.OnlyA.GetRaw(setting);
            var onB = a.OnlyB.GetRaw(setting);
            if (onA is not null || onB is not null)
                writer.Add(
                    setting.Key,
                    new MapWriter()
                        .Add("a", onA is null ? null : WrittenSettings.Write(setting, onA))
                        .Add("b", onB is null ? null : WrittenSettings.Write(setting, onB))
                        .Done()
                );
        }

        return writer
            .Add(
                "identities",
                new MapWriter().Add("a", a.IdentityA?.ToString()).Add("b", a.IdentityB?.ToString()).Done()
            )
            .List("pairs", a.Pairs, p =>
                new MapWriter().Add("a", p.A.ToString()).Add("b", p.B.ToString()).Add("only", p.Only?.OfPair).Done()
            )
            .Done();
    }
}
