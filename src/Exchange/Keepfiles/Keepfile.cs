using System.Globalization;

namespace Vellumkeep.Exchange.Keepfiles;

/// <summary>
/// What was read: records with ids, or the problems. When there is one problem, nothing of the file counts.
/// </summary>
public sealed record KeepfileRead(ImmutableArray<IRecord> Records, ImmutableArray<Problem> Problems);

/// <summary>The inventory file <c>vellumkeep: keepfile/1</c>.</summary>
public static class Keepfile
{
    public const string Form = "keepfile/1";

    /// <summary>The largest file that is read, in characters.</summary>
    public const int Largest = 16 * 1024 * 1024;

    private static readonly (string Key, RecordKind Kind)[] Sections =
    [
        ("customers", RecordKind.Customer),
        ("platforms", RecordKind.Platform),
        ("suites", RecordKind.Suite),
        ("offers", RecordKind.Offer),
        ("sites", RecordKind.Site),
        ("gateways", RecordKind.Gateway),
        ("tunnels", RecordKind.Tunnel),
    ];

    /// <summary>Reads a file on its own; ids are made up from the codes.</summary>
    public static KeepfileRead Read(string text) => Read(text, new CodeNames(), _ => null, null);

    /// <summary>
    /// Reads a file into an inventory: codes that <paramref name="known"/> has keep their ids, others get one of
    /// <paramref name="newId"/>.
    /// </summary>
    /// <param name="gatewayById">Gateways that are not in the file, for checking what ends say of them.</param>
    /// <param name="mayName">Whether what a gateway has may be named in a problem.</param>
    public static KeepfileRead Read(
        string text,
        CodeNames known,
        Func<string, Gateway?> gatewayById,
        Func<string>? newId,
        Func<Gateway, bool>? mayName = null,
        CancellationToken ct = default
    )
    {
        if (text.Length > Largest)
            return Fail(
                new Problem(
                    "file",
                    1,
                    $"the file is larger than {Largest / 1024 / 1024} MB",
                    "several files, one for each group of customers"
                )
            );
        var (root, problem) = YamlText.Read(text, ct);
        if (problem is not null)
            return Fail(problem);
        return Read(root, known, gatewayById, newId, mayName);
    }

    /// <summary>Reads what is written already: a file of another form that was brought into this one.</summary>
    public static KeepfileRead Read(
        Node? root,
        CodeNames known,
        Func<string, Gateway?> gatewayById,
        Func<string>? newId,
        Func<Gateway, bool>? mayName = null
    )
    {
        if (root is not MapNode map)
            return Fail(
                new Problem(
                    "file",
                    1,
                    "the file has no fields",
                    "vellumkeep: keepfile/1, then customers:, sites:, tunnels: ..."
                )
            );
        if (map.Text("vellumkeep") != Form)
            return Fail(
                new Problem(
                    "vellumkeep",
                    map.Find("vellumkeep")?.Line ?? 1,
                    $"'{Typed.Short(map.Text("vellumkeep") ?? "nothing")}' is not a keepfile version that can be read here",
                    Form
                )
            );

        var reading = new Reading(known);
        Parts(map, reading.Problems);
        // First every code of the file, so that records may refer to each other in any order.
        var items = Sections
            .SelectMany(s => Items(s.Key, s.Kind, map.Find(s.Key), known, newId, reading.Problems))
            .ToList();
        var records = ImmutableArray.CreateBuilder<IRecord>();
        foreach (var (record, problems) in Read(items, known))
        {
            reading.Problems.AddRange(problems);
            if (record is not null)
                records.Add(record);
        }

        var inFile = records.OfType<Gateway>().ToDictionary(g => g.Id);
        if (reading.Problems.Count == 0)
            foreach (var ((path, _, item, _), record) in items.Zip(records))
                if (record is Tunnel tunnel)
                    reading.Problems.AddRange(
                        EndProblems(
                            tunnel,
                            id => inFile.GetValueOrDefault(id) ?? gatewayById(id),
                            path,
                            end => (item.Find(end.Key()) ?? item).Line,
                            mayName
                        )
                    );
        return new(
            reading.Problems.Count == 0 ? records.ToImmutable() : [],
            [.. reading.Problems.OrderBy(p => p.Line)]
        );
    }

    /// <summary>What a file has beside the parts of a keepfile, or twice.</summary>
    private static void Parts(MapNode map, List<Problem> problems)
    {
        foreach (var (key, value) in map.Entries)
            if (key is not ("vellumkeep" or "written") && Sections.All(s => s.Key != key))
                problems.Add(
                    new(
                        key,
                        value.Line,
                        $"'{Typed.Short(key)}' is not a part of a keepfile",
                        string.Join(", ", Typed.Nearest(key, Sections.Select(s => s.Key)))
                    )
                );

        foreach (var twice in map.Entries.GroupBy(e => e.Key).Where(g => g.Count() > 1))
            problems.Add(
                new(
                    twice.Key,
                    twice.Last().Value.Line,
                    $"'{Typed.Short(twice.Key)}' occurs twice, first at line {twice.First().Value.Line}",
                    "each part once, with all its records"
                )
            );
    }

    /// <summary>The records of one part by their codes, which are known from then on.</summary>
    private static IEnumerable<(string Path, RecordKind Kind, MapNode Map, string Id)> Items(
        string key,
        RecordKind kind,
        Node? section,
        CodeNames known,
        Func<string>? newId,
        List<Problem> problems
    )
    {
        if (section is not ListNode list)
        {
            if (section is not (null or TextNode { Text: "" }))
                problems.Add(
                    new(key, section.Line, "a list is expected here", "one line beginning with '- code: ' for each")
                );
            yield break;
        }

        var lines = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        for (var i = 0; i < list.Items.Length; i++)
        {
            if (list.Items[i] is not MapNode item)
            {
                problems.Add(new($"{key}[{i + 1}]", list.Items[i].Line, "fields are expected here", "- code: ..."));
                continue;
            }

            var code = Typed.Trim(item.Text("code") ?? "");
            var whole = WrittenRecord.CodeOf(kind, item);
            if (code.Length > 0 && !lines.TryAdd(whole, item.Line))
                problems.Add(
                    new(
                        $"{key}[{i + 1}].code",
                        item.Line,
                        $"the {kind.Word()} '{whole}' occurs twice, first at line {lines[whole]}",
                        "each code once"
                    )
                );
            var id = known.IdOf(kind, whole) ?? newId?.Invoke() ?? $"{kind}:{whole}".ToLowerInvariant();
            known.Add(kind, whole, id);
            yield return (code.Length > 0 ? $"{key} {whole}" : $"{key}[{i + 1}]", kind, item, id);
        }
    }

    /// <summary>Each record by itself, so that many are read at once; in the order of the file.</summary>
    private static IEnumerable<(IRecord? Record, IReadOnlyList<Problem> Problems)> Read(
        List<(string Path, RecordKind Kind, MapNode Map, string Id)> items,
        CodeNames known
    )
    {
        return items.Count < 100 ? items.Select(One) : items.AsParallel().AsOrdered().Select(One);

        (IRecord?, IReadOnlyList<Problem>) One((string Path, RecordKind Kind, MapNode Map, string Id) item)
        {
            var reading = new Reading(known);
            var record = WrittenRecord.Read(item.Kind, item.Id, new Fields(item.Map, item.Path, reading));
            return (record, reading.Problems);
        }
    }

    /// <summary>How many records a file has, before any of them is looked at.</summary>
    public static int CountOf(Node root) =>
        root is not MapNode map ? 0 : Sections.Sum(s => (map.Find(s.Key) as ListNode)?.Items.Length ?? 0);

    /// <summary>Writes records in stable order: by kind, then by code.</summary>
    public static string Write(IEnumerable<IRecord> records, INames names, DateOnly written)
    {
        var all = records.ToLookup(r => r.Kind);
        var map = new MapWriter()
            .Add("vellumkeep", Form)
            .Add("written", written.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
        foreach (var (key, kind) in Sections)
            map.List(key, all[kind].OrderBy(r => r.Code, StringComparer.OrdinalIgnoreCase), r =>
                WrittenRecord.Write(r, names)
            );
        return YamlText.Write(map.Done());
    }

    /// <summary>
    /// Checks what the ends of a tunnel say about parts of their gateways: uplinks and shared entries have to be there.
    /// </summary>
    public static IEnumerable<Problem> EndProblems(
        Tunnel tunnel,
        Func<string, Gateway?> gatewayById,
        string path,
        Func<EndName, int> lineOf,
        Func<Gateway, bool>? mayName = null
    )
    {
        foreach (var end in Enum.GetValues<EndName>())
        {
            var e = tunnel.End(end);
            if (gatewayById(e.GatewayId) is not { } gateway)
                continue;
            var at = path.Length == 0 ? end.Key() : $"{path}.{end.Key()}";
            foreach (var label in e.Uplinks.Where(l => gateway.Uplinks.All(u => u.Label != l)))
                yield return new(
                    $"{at}.uplinks",
                    lineOf(end),
                    $"{gateway.Code} has no uplink '{label}'",
                    mayName?.Invoke(gateway) != false ? string.Join(", ", gateway.Uplinks.Select(u => u.Label)) : Untold
                );
            foreach (var held in new[] { e.Subnets?.LocalFrom, e.Subnets?.RemoteFrom, e.ProposalsFrom })
                if (held is not null && gateway.Held(held) is null)
                    yield return new(
                        $"{at}.subnets",
                        lineOf(end),
                        $"{gateway.Code} has no shared entry '{held}'",
                        mayName?.Invoke(gateway) == false ? Untold
                            : gateway.SharedEntries.IsEmpty ? $"add it to sharedEntries of {gateway.Code}"
                            : string.Join(", ", gateway.SharedEntries.Select(h => h.Name))
                    );
        }
    }

    /// <summary>What would be right is its owner's to tell.</summary>
    private const string Untold = "the name that is recorded there; ask the owner of that gateway";

    private static KeepfileRead Fail(Problem problem) => new([], [problem]);
}
