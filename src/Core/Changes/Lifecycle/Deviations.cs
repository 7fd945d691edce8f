namespace Vellumkeep.Core.Changes.Lifecycle;

/// <summary>
/// Values that were set otherwise than planned: what is said is bound once to the places where the inventory keeps it,
/// and closing writes it there and nowhere else.
/// </summary>
internal static class Deviations
{
    /// <summary>The value of a step that is meant: by what is entered, or by its label; null when there is none.</summary>
    public static StepValue? ValueOf(Step step, string planned) =>
        step.Enter.FirstOrDefault(v => v.Text == planned)
        ?? step.Enter.FirstOrDefault(v => v.Label.Equals(planned, StringComparison.OrdinalIgnoreCase));

    /// <summary>Binds what was said to the values of the step, or says why it cannot be so.</summary>
    public static (Deviation? Bound, Refused? Refused) Bind(Change c, Step step, Deviation said)
    {
        var number = c.Plan.NumberOf(step.Key);
        if (string.IsNullOrWhiteSpace(said.Reason))
            return No(
                null,
                $"The deviation on step {number} of {c.Code} has no reason.",
                $"Enter why another value was set."
            );
        if (Prefix.Parse(said.Planned).Ok && Prefix.Parse(said.Set) is { Ok: false } bad)
            return No("ADR-01", $"{bad.Wrong!:w}.", $"{bad.Right!:w}.");
        if (ValueOf(step, said.Label ?? said.Planned) is { } value)
            return Bound(c, number, said with { Planned = value.Text, Label = value.Label }, PlacesOf(value));
        // One prefix of a list, or one side of a rule, wherever the step enters it.
        var parts = step.Enter.SelectMany(v => v.Parts).Where(p => p.Text == said.Planned).ToArray();
        return parts.Length > 0
            ? Bound(c, number, said, [.. parts.Select(p => p.At)])
            : No(
                null,
                $"Step {number} of {c.Code} sets no {said.Planned}.",
                $"Use a value that the step enters: {Say.And(step.Enter.Select(v => v.Text)):w}."
            );
    }

    /// <summary>Where a value is kept as a whole; none when the inventory keeps only its parts, or nothing of it.</summary>
    private static ImmutableArray<Place> PlacesOf(StepValue value) => value.At is { } at ? [at] : [];

    private static (Deviation?, Refused?) Bound(Change c, int number, Deviation deviation, ImmutableArray<Place> places)
    {
        foreach (var place in places)
            if (Written(place, deviation.Set) is { Problem: { } problem })
                return No(
                    null,
                    $"Step {number} of {c.Code}: {deviation.Label ?? deviation.Planned:w} cannot be "
                        + $"{deviation.Set}: {problem.Wrong:w}.",
                    $"{problem.Right:w}."
                );
        return (deviation with { At = places }, null);
    }

    private static (Deviation?, Refused?) No(string? code, Sentence wrong, Sentence right) =>
        (null, new(code, wrong, right));

    /// <summary>What is written at the place of an edit, with the deviations of its step.</summary>
    /// <param name="edit">The edit that the step carries.</param>
    /// <param name="deviation">What was set otherwise by the step; null when nothing was.</param>
    public static Node? After(Edit edit, Deviation? deviation)
    {
        var after = edit.After;
        foreach (var place in deviation?.At ?? [])
        {
            var set = Written(place, deviation!.Set).Node;
            if (place == edit.At)
                after = set;
            // A part of what the edit writes.
            else if (place.IsWithin(edit.At) && after is not null)
                after = Within(after, place.Path.Below(edit.At.Path), set);
        }

        return after;
    }

    /// <summary>
    /// The places of a deviation that no edit of the plan writes: a list that was set otherwise as a whole where single
    /// items were planned, and a value that the record held already as it was planned.
    /// </summary>
    public static IEnumerable<Place> Unwritten(Deviation deviation, IReadOnlyCollection<Edit> edits) =>
        deviation.At.Where(p => !edits.Any(e => p.IsWithin(e.At)));

    private static Node? Within(Node node, FieldPath below, Node? set)
    {
        // Paths are of maps: a list or a text that is an edit's whole value is put under a name of its own for a moment.
        var holder = MapNode.Empty.With("value", node);
        return Edits.Put(holder, FieldPath.Of("value").Join(below), set).Find("value");
    }

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
