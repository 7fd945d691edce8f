namespace Vellumkeep.Core.Records;

/// <summary>How a value became known.</summary>
public enum SeenHow
{
    Read,
    SavedConfiguration,
    OtherPartysSheet,
    Typed,
}

/// <summary>That somebody looked: how, on which day, and who.</summary>
public sealed record Seen(SeenHow How, DateOnly On, string By)
{
    public static readonly Words<SeenHow> Hows = new(
        "a way of seeing a value",
        (SeenHow.Read, "read"),
        (SeenHow.SavedConfiguration, "saved configuration"),
        (SeenHow.OtherPartysSheet, "other party's sheet"),
        (SeenHow.Typed, "typed")
    );

    /// <summary>Reads <c>read 2026-11-03 by tomas</c>.</summary>
    public static Parsed<Seen> Parse(string text)
    {
        const string right = "how, when and by whom, such as: read 2026-11-03 by tomas";
        var at = text.IndexOf(" by ", StringComparison.Ordinal);
        var how = at < 0 ? -1 : text[..at].LastIndexOf(' ');
        if (how < 0)
            return Parsed<Seen>.Fail(
                $"'{Core.Typed.Short(text)}' does not say how, when and by whom it was seen",
                right
            );
        var howRead = Hows.Parse(text[..how]);
        var date = Scalars.Date(text[(how + 1)..at]);
        return !howRead.Ok ? Parsed<Seen>.Fail(howRead.Wrong!, howRead.Right!)
            : !date.Ok ? Parsed<Seen>.Fail(date.Wrong!, date.Right!)
            : Parsed<Seen>.Of(new(howRead.Value, date.Value, text[(at + 4)..].Trim()));
    }

    public override string ToString() => $"{Hows.Of(How)} {Scalars.Write(On)} by {By}";
}

/// <summary>A value that does not exist yet: who will know it, and by when.</summary>
public sealed record Pending(string? WhoKnows, DateOnly? By);

/// <summary>That a value was entered only to get going: what it must become, why, and by when.</summary>
public sealed record Temporary<T>(T Final, string Reason, DateOnly Deadline);

/// <summary>
/// The one shape of what a record holds: a known value and how it was seen, a value that is temporary, or one that is
/// pending.
/// </summary>
public sealed record Recorded<T>
    where T : class
{
    private Recorded(T? value, Seen? seen, Pending? pending, Temporary<T>? temporary) =>
        (Value, Seen, Pending, Temporary) = (value, seen, pending, temporary);

    /// <summary>The value; null only while it is pending.</summary>
    public T? Value { get; }

    /// <summary>How it was seen; null when nobody is recorded to have looked.</summary>
    public Seen? Seen { get; }

    public Pending? Pending { get; }

    public Temporary<T>? Temporary { get; }

    public static Recorded<T> Known(T value, Seen? seen = null) => new(value, seen, null, null);

    public static Recorded<T> NotYet(Pending pending) => new(null, null, pending, null);

    public static Recorded<T> ForNow(T value, Temporary<T> temporary, Seen? seen = null) =>
        new(value, seen, null, temporary);

    /// <summary>
    /// Writes the shape of settled keepfiles: the bare value, <c>{is, seen}</c>, <c>{temporary, final, reason,
    /// deadline, seen}</c> or <c>{pending, by}</c>.
    /// </summary>
    public Node Write(Func<T, Node> write) =>
        Pending is not null
            ? new MapWriter()
                .Add("pending", Pending.WhoKnows ?? "nobody yet")
                .Add("by", Pending.By is { } by ? Scalars.Write(by) : null)
                .Done()
        : Temporary is not null
            ? new MapWriter()
                .Add("temporary", write(Value!))
                .Add("final", write(Temporary.Final))
                .Add("reason", Temporary.Reason)
                .Add("deadline", Scalars.Write(Temporary.Deadline))
                .Add("seen", Seen?.ToString())
                .Done()
        : Seen is not null ? new MapWriter().Always("is", write(Value!)).Add("seen", Seen.ToString()).Done()
        : write(Value!);

    /// <summary>
    /// Reads what <see cref="Write"/> writes; problems go to <paramref name="problems"/> and null comes back.
    /// </summary>
    public static Recorded<T>? Read(
        Node node,
        string path,
        List<Problem> problems,
        Func<Node, string, List<Problem>, T?> read
    )
    {
        if (node is not MapNode map || (map.Find("is") ?? map.Find("pending") ?? map.Find("temporary")) is null)
            return read(node, path, problems) is { } bare ? Known(bare) : null;
        var before = problems.Count;
        Parsed<TOut> Field<TOut>(string key, Func<string, Parsed<TOut>> parse, string right)
        {
            var text = map.Text(key);
            var parsed = text is null ? Parsed<TOut>.Fail($"'{key}' is missing", right) : parse(text);
            if (!parsed.Ok)
                problems.Add(new($"{path}.{key}", map.Find(key)?.Line ?? map.Line, parsed.Wrong!, parsed.Right!));
            return parsed;
        }

        string[] allowed =
            map.Find("pending") is not null ? ["pending", "by"]
            : map.Find("is") is not null ? ["is", "seen"]
            : ["temporary", "final", "reason", "deadline", "seen"];
        foreach (var (key, value) in map.Entries)
            if (!allowed.Contains(key))
                problems.Add(
                    new(
                        $"{path}.{key}",
                        value.Line,
                        $"'{Core.Typed.Short(key)}' does not go with '{allowed[0]}'",
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
            return problems.Count == before ? NotYet(new(who is null or "nobody yet" ? null : who, by)) : null;
        }

        var seen =
            map.Find("seen") is null ? null
            : Field("seen", Seen.Parse, "read 2026-11-03 by tomas") is { Ok: true } s ? s.Value
            : null;
        if (map.Find("is") is { } known)
            return read(known, $"{path}.is", problems) is { } value && problems.Count == before
                ? Known(value, seen)
                : null;
        var now = read(map.Find("temporary")!, $"{path}.temporary", problems);
        T? final = null;
        if (map.Find("final") is { } finalNode)
            final = read(finalNode, $"{path}.final", problems);
        else
            problems.Add(new($"{path}.final", map.Line, "'final' is missing", "the value it must become"));
        var reason = Field("reason", Parsed<string>.Of, "why it was entered only for now");
        var deadline = Field("deadline", Scalars.Date, "a date such as 2026-12-01");
        return problems.Count == before ? ForNow(now!, new(final!, reason.Value, deadline.Value), seen) : null;
    }
}
