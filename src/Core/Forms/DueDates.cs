namespace Vellumkeep.Core.Forms;

/// <summary>Why a day of a record matters.</summary>
public enum DueKind
{
    /// <summary>A temporary value has to have become its final one.</summary>
    Temporary,

    /// <summary>Who supplies a pending value said that they would by then.</summary>
    Pending,

    /// <summary>The acceptance of a finding ends.</summary>
    Acceptance,

    /// <summary>A certificate is no longer valid after it.</summary>
    Certificate,

    /// <summary>The oldest confirmation at an end is a year old.</summary>
    Confirmation,
}

/// <summary>A day on which something of a record falls due.</summary>
/// <param name="Kind">What falls due.</param>
/// <param name="On">The last day on which it holds.</param>
/// <param name="Path">Where it stands in the written form, such as <c>a.peerAddress</c>.</param>
public sealed record DueDate(DueKind Kind, DateOnly On, string Path);

/// <summary>
/// What falls due of a record, found in its written form: whatever has a deadline is written in one of a few shapes.
/// </summary>
public static class DueDates
{
    /// <summary>Months after which a confirmation has grown old. No standard sets it: it is our own measure.</summary>
    private const int MonthsConfirmed = 12;

    /// <summary>The words of the kinds.</summary>
    public static readonly Words<DueKind> Kinds = new(
        "a kind of due date",
        (DueKind.Temporary, "temporary value"),
        (DueKind.Pending, "pending value"),
        (DueKind.Acceptance, "acceptance"),
        (DueKind.Certificate, "certificate"),
        (DueKind.Confirmation, "confirmation")
    );

    private static readonly ImmutableArray<string> Certificates =
    [
        EndPaths.A.Certificate.ToString(),
        EndPaths.B.Certificate.ToString(),
    ];

    /// <summary>Every day on which something of a record falls due, one for each place.</summary>
    public static ImmutableArray<DueDate> Of(MapNode form)
    {
        var found = new List<DueDate>();
        var confirmed = new List<(string Path, DateOnly On)>();
        Walk(form, "", found, confirmed);
        // One for each end: who looks at a device looks at all of it.
        var oldest = confirmed.GroupBy(c => c.Path.Split('.')[0]).Select(end => end.MinBy(c => c.On));
        return
        [
            .. found,
            .. oldest.Select(c => new DueDate(DueKind.Confirmation, c.On.AddMonths(MonthsConfirmed), c.Path)),
        ];
    }

    private static void Walk(Node node, string path, List<DueDate> found, List<(string Path, DateOnly On)> confirmed)
    {
        if (node is ListNode list)
            foreach (var (item, i) in list.Items.Select((item, i) => (item, i)))
                Walk(item, $"{path}[{i}]", found, confirmed);
        if (node is not MapNode map)
            return;
        if (map.Find("temporary") is not null)
            Add(DueKind.Temporary, "deadline");
        if (map.Find("pending") is not null)
            Add(DueKind.Pending, "by");
        if (map.Find("until") is not null)
            Add(Certificates.Contains(path) ? DueKind.Certificate : DueKind.Acceptance, "until");
        if (map.Text("confirmed") is { } text && Confirmation.Parse(text) is { Ok: true } read)
            confirmed.Add((path, read.Value.On));
        foreach (var (key, value) in map.Entries)
            Walk(value, path.Length == 0 ? key : $"{path}.{key}", found, confirmed);

        void Add(DueKind kind, string key)
        {
            if (map.Text(key) is { } day && Scalars.Date(day) is { Ok: true } on)
                found.Add(new(kind, on.Value, path));
        }
    }
}
