namespace Vellumkeep.Core.Forms;

/// <summary>The written shape of what a record holds: known and how it was confirmed, for now, or pending.</summary>
public static class WrittenRecorded
{
    /// <summary>
    /// Writes the shape of settled keepfiles: the bare value, <c>{is, confirmed}</c>, <c>{temporary, final, reason,
    /// deadline, confirmed}</c> or <c>{pending, by}</c>.
    /// </summary>
    public static Node Write<T>(Recorded<T> recorded, Func<T, Node> write)
        where T : class
    {
        if (recorded.Pending is { } pending)
            return new MapWriter()
                .Add("pending", pending.WhoKnows ?? "nobody yet")
                .Add("by", pending.By is { } by ? Scalars.Write(by) : null)
                .Done();
        if (recorded.Temporary is { } temporary)
            return new MapWriter()
                .Add("temporary", write(recorded.Value!))
                .Add("final", write(temporary.Final))
                .Add("reason", temporary.Reason)
                .Add("deadline", Scalars.Write(temporary.Deadline))
                .Add("confirmed", recorded.Confirmed?.ToString())
                .Done();
        return recorded.Confirmed is { } confirmation
            ? new MapWriter().Always("is", write(recorded.Value!)).Add("confirmed", confirmation.ToString()).Done()
            : write(recorded.Value!);
    }

    /// <summary>
    /// What is written when a value is confirmed, corrected or entered: a value that is there only for now stays so,
    /// with its final value, reason and deadline, until it is that final value.
    /// </summary>
    /// <param name="old">What was written; null when nothing was.</param>
    /// <param name="value">The bare value.</param>
    /// <param name="confirmed">How it was confirmed; null when it was not.</param>
    public static Node Again(Node? old, Node value, string? confirmed)
    {
        if (old is MapNode map && map.Find("temporary") is not null && !Node.Same(map.Find("final"), value))
            return map.With("temporary", value).With("confirmed", confirmed is null ? null : new TextNode(confirmed));
        return confirmed is null ? value : new MapWriter().Always("is", value).Add("confirmed", confirmed).Done();
    }

    /// <summary>The bare value of what is written, whether it is confirmed or only for now.</summary>
    public static Node Bare(Node written) =>
        written is MapNode map ? map.Find("is") ?? map.Find("temporary") ?? written : written;

    /// <summary>
    /// Reads what <see cref="Write"/> writes; problems go to <paramref name="problems"/> and null comes back.
    /// </summary>
    public static Recorded<T>? Read<T>(
        Node node,
        string path,
        List<Problem> problems,
        Func<Node, string, List<Problem>, T?> read
    )
        where T : class
    {
        if (node is not MapNode map || (map.Find("is") ?? map.Find("pending") ?? map.Find("temporary")) is null)
            return read(node, path, problems) is { } bare ? Recorded<T>.Known(bare) : null;
        var before = problems.Count;
        Parsed<TOut> Field<TOut>(string key, Func<string, Parsed<TOut>> parse, string right)
        {
            var text = map.Text(key);
            var parsed = text is null ? Parsed<TOut>.Fail($"'{key}' is missing", right) : parse(text);
            if (!parsed.Ok)
                problems.Add(Problem.Of($"{path}.{key}", map.Find(key)?.Line ?? map.Line, parsed));
            return parsed;
        }

        string[] allowed =
            map.Find("pending") is not null ? ["pending", "by"]
            : map.Find("is") is not null ? ["is", "confirmed"]
            : ["temporary", "final", "reason", "deadline", "confirmed"];
        foreach (var (key, value) in map.Entries)
            if (!allowed.Contains(key))
                problems.Add(
                    new(
                        $"{path}.{key}",
                        value.Line,
                        $"'{Typed.Short(key)}' does not go with '{allowed[0]}'",
                        string.Join(", ", allowed)
                    )
                );
        if (map.Find("pending") is not null)
        {
            var by =
                map.Find("by") is null ? (DateOnly?)null
                : Field("by", Scalars.Date, "a date") is { Ok: true } d ? d.Value
                : null;
            var who = map.Text("pending");
            return problems.Count == before
                ? Recorded<T>.NotYet(new(who is null or "nobody yet" ? null : who, by))
                : null;
        }

        var confirmation =
            map.Find("confirmed") is null ? null
            : Field("confirmed", Confirmation.Parse, "read 2026-11-03 by tomas") is { Ok: true } s ? s.Value
            : null;
        if (map.Find("is") is { } known)
            return read(known, $"{path}.is", problems) is { } value && problems.Count == before
                ? Recorded<T>.Known(value, confirmation)
                : null;
        var now = read(map.Find("temporary")!, $"{path}.temporary", problems);
        T? final = null;
        if (map.Find("final") is { } finalNode)
            final = read(finalNode, $"{path}.final", problems);
        else
            problems.Add(new($"{path}.final", map.Line, "'final' is missing", "the value it must become"));
        var reason = Field("reason", Parsed<string>.Of, "why it was entered only for now");
        var deadline = Field("deadline", Scalars.Date, "a date such as 2026-12-01");
        return problems.Count == before
            ? Recorded<T>.ForNow(now!, new(final!, reason.Value, deadline.Value), confirmation)
            : null;
    }
}
