namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>A value that was set otherwise than planned, as the inventory writes it.</summary>
internal static class SetOtherwise
{
    /// <summary>What was set, as the inventory writes it at a place; or why it cannot stand there.</summary>
    public static (Node? Node, Problem? Problem) Written(Place at, string set)
    {
        if (at.Kind == RecordKind.Gateway)
            return OnGateway(at.Path, set);
        return TunnelPaths.EndOf(at.Path) is { } end ? OnEnd(TunnelPaths.Of(end), at.Path, set) : NotOne(at.Path);
    }

    private static (Node?, Problem?) OnGateway(FieldPath path, string set)
    {
        var last = path.Steps[^1];
        return last switch
        {
            { IsItem: true } => One("prefix", Prefix.Parse(set)),
            { Name: "members" } => Prefixes(set),
            { Name: "name" } => (new TextNode(set.Trim()), null),
            { Name: "address" } => One("address", UplinkAddress.Parse(set)),
            { Name: "publicAddress" } => One("address", Address.Parse(set)),
            _ => NotOne(path),
        };
    }

    private static (Node?, Problem?) OnEnd(EndPaths at, FieldPath path, string set)
    {
        if (path.IsWithin(at.Settings) && Settings.Find(path.Steps[^1].Name) is { } setting)
            return OfSetting(setting, set);
        if (path.Equals(at.PeerAddress) || path.Equals(at.KeyFor))
            return One("peer address", PeerAddress.Parse(set));
        if (path.Equals(at.IdentitySent) || path.Equals(at.IdentityExpected))
            return One("identity", Identity.Parse(set));
        if (path.Equals(at.TunnelAddress))
            return One("tunnel address", TunnelAddress.Parse(set));
        if (path.Equals(at.SubnetsFrom(own: true)) || path.Equals(at.SubnetsFrom(own: false)))
            return (new TextNode(set.Trim()), null);
        if (path.IsWithin(at.KeyHeld))
            return Versions(set);
        if (path.Equals(at.Certificate.Key("names")))
            return Identities(set);
        if (path.Equals(at.Certificate.Key("ca")))
            return (new TextNode(set.Trim()), null);
        if (path.Equals(at.FurtherPeers))
            return Peers(set);
        if (path.Equals(at.Anchors))
            return (ListNode.OfTexts(Split(set)), null);
        if (path.IsWithin(at.Routing) && !path.IsWithin(at.Announces) && !path.IsWithin(at.Accepts))
            return OfRouting(path.Steps[^1].Name, set);
        FieldPath[] lists = [at.LocalSubnets, at.RemoteSubnets, at.Announces, at.Accepts];
        if (lists.Any(path.Equals))
            return Prefixes(set);
        FieldPath[] pairs = [at.SubnetPairs];
        if (pairs.Any(p => path.IsWithin(p) && path.Steps.Length == p.Steps.Length + 1))
            return Pair(set);
        FieldPath[] holders = [.. lists, at.SubnetPairs, at.Rules, at.NoNat, at.Routes];
        return holders.Any(h => path.IsWithin(h) && !path.Equals(h)) ? One("prefix", Prefix.Parse(set)) : NotOne(path);
    }

    private static (Node?, Problem?) One<T>(string label, Parsed<T> read) =>
        read.Ok ? (new TextNode(read.Value!.ToString()!), null) : (null, new(label, 1, read.Wrong!, read.Right!));

    private static string[] Split(string text) =>
        text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);

    private static (Node?, Problem?) Prefixes(string text)
    {
        foreach (var part in Split(text))
            if (Prefix.Parse(part) is { Ok: false } bad)
                return (null, new("prefix", 1, bad.Wrong!, bad.Right!));
        return (ListNode.OfTexts(Split(text).Select(p => Prefix.Parse(p).Value)), null);
    }

    private static (Node?, Problem?) Pair(string text)
    {
        var sides = Split(text);
        if (sides.Length != 2)
            return (
                null,
                new("pair", 1, $"'{Typed.Short(text)}' is not a pair", "local and remote prefix, separated by a comma")
            );
        foreach (var side in sides)
            if (Prefix.Parse(side) is { Ok: false } bad)
                return (null, new("pair", 1, bad.Wrong!, bad.Right!));
        return (WrittenTunnel.Write(new LocalRemote(Prefix.Parse(sides[0]).Value, Prefix.Parse(sides[1]).Value)), null);
    }

    /// <summary>Versions of a key: "version 2", "2" or "2, 3".</summary>
    internal static int[]? VersionsOf(string set)
    {
        var numbers = Split(set.Replace("versions", "").Replace("version", ""));
        var read = numbers.Select(n => Scalars.Number(n, 1, 9999, "a key version")).ToArray();
        return read.Length > 0 && read.All(n => n.Ok) ? [.. read.Select(n => n.Value)] : null;
    }

    private static (Node?, Problem?) Versions(string set) =>
        VersionsOf(set) is { } versions
            ? (ListNode.OfTexts(versions), null)
            : (null, new("key", 1, $"'{Typed.Short(set)}' is no version of a key", "a version such as: version 2"));

    private static (Node?, Problem?) Peers(string set)
    {
        foreach (var peer in Split(set))
            if (PeerAddress.ParseOne(peer) is { Ok: false } bad)
                return (null, new("peer address", 1, bad.Wrong!, bad.Right!));
        return (ListNode.OfTexts(Split(set).Select(p => PeerAddress.ParseOne(p).Value)), null);
    }

    private static (Node?, Problem?) Identities(string set)
    {
        foreach (var name in Split(set))
            if (Identity.Parse(name) is { Ok: false } bad)
                return (null, new("name", 1, bad.Wrong!, bad.Right!));
        return (ListNode.OfTexts(Split(set).Select(n => Identity.Parse(n).Value)), null);
    }

    private static (Node?, Problem?) OfRouting(string field, string set) =>
        field switch
        {
            "hold" => One("hold time", Lifetime.Parse(set)),
            "peerAddress" => One("neighbour", Address.Parse(set)),
            _ => (new TextNode(set.Trim()), null),
        };

    private static (Node?, Problem?) OfSetting(Setting setting, string set)
    {
        var problems = new List<Problem>();
        foreach (var node in new Node[] { new TextNode(set), ListNode.OfTexts(Split(set)) })
        {
            problems.Clear();
            if (WrittenSettings.Read(setting, node, setting.Label, problems) is { } read && problems.Count == 0)
                return (WrittenSettings.Write(setting, read), null);
        }

        return (null, problems.FirstOrDefault() ?? new(setting.Label, 1, "it cannot be read", setting.About));
    }

    private static (Node?, Problem?) NotOne(FieldPath path) =>
        (
            null,
            new(
                path.ToString(),
                1,
                "it is not one recorded value",
                "skip the step with the reason, and correct the tunnel afterwards"
            )
        );
}
