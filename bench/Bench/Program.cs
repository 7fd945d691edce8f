using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Fixes;
using Vellumkeep.Core.Parsing;
using Vellumkeep.Core.Records;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;
using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Fleet;
using Vellumkeep.Service.Demo;
using Vellumkeep.Storage;
using Vellumkeep.Storage.Bodies;
using Vellumkeep.Storage.Rows;
using Vellumkeep.Storage.Writing;

// fleet [--parts N] [--seed S] [--data DIR] makes the fleet in SQLite measure [--parts N] makes it when it is missing,
// and measures ratios in one run where [--parts N] where the time of a fleet check goes: rows, rehearsals, each check,
// the verdict import [--rows N] a sheet of so many rows, beside bare inserts overlap [--parts N] overlap search alone,
// beside the pairwise scan and PostgreSQL history [--parts N] [--count N] loads entries into the history of the fleet
// serve [--parts N] [--clients N] [--seconds N] every list, searches and tunnel pages of the service over it, beside an
// empty page plan [--parts N] an address move of the gateway with the most tunnels, planned, beside reading what it is
// planned from soak [--count N] [--seed S] random ends, rehearsed and checked, until one throws
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
string Given(string name, string usual) =>
    Array.IndexOf(args, name) is >= 0 and var i && i + 1 < args.Length ? args[i + 1] : usual;
var root = AppContext.BaseDirectory;
while (!File.Exists(Path.Combine(root, "Vellumkeep.slnx")))
    root = Path.GetDirectoryName(root.TrimEnd('/'))
        ?? throw new InvalidOperationException("Run it inside the project.");
var (parts, seed) = (int.Parse(Given("--parts", "1")), int.Parse(Given("--seed", "7")));
var folder = Given("--data", Path.Combine(root, $".fleet/{parts}-{seed}"));
var today = new DateOnly(2026, 11, 24);
var demo = Demo();
switch (args.FirstOrDefault())
{
    case "fleet":
        await FleetAsync();
        return 0;
    case "measure":
        if (!File.Exists(Path.Combine(folder, "vellumkeep.db")))
            await FleetAsync();
        await MeasureAsync();
        return 0;
    case "where":
        await WhereAsync();
        return 0;
    case "import":
        await Vellumkeep.Bench.Serving.ImportAsync(root, int.Parse(Given("--rows", "50000")));
        return 0;
    case "overlap":
    {
        await using var context = Databases.Sqlite(Path.Combine(folder, "vellumkeep.db")).Open();
        var records = new List<IRecord>();
        await foreach (
            var row in context.Records.AsNoTracking().Where(r => r.Kind == RecordKind.Tunnel).AsAsyncEnumerable()
        )
            records.Add(RecordBody.Read(row.Kind, row.Id, row.Body));
        var lines = new List<(string What, string Ratio, string Times)>();
        await OverlapAsync(Inventory.Of(records), lines);
        foreach (var (what, ratio, times) in lines)
            Console.WriteLine($"| {what} | {ratio} | {times} |");
        return 0;
    }

    case "plan":
        await PlanAsync();
        return 0;
    case "history":
        await Vellumkeep.Bench.Serving.HistoryAsync(
            Path.Combine(folder, "vellumkeep.db"),
            int.Parse(Given("--count", "1000000")),
            seed
        );
        return 0;
    case "serve":
        return
            await Vellumkeep.Bench.Serving.ServeAsync(
                root,
                folder,
                int.Parse(Given("--clients", "2")),
                int.Parse(Given("--seconds", "5"))
            ) == 0
            ? 0
            : 1;
    case "soak":
        return Soak(int.Parse(Given("--count", "1000000")));
    default:
        Console.Error.WriteLine("fleet, measure, where, overlap, plan, history, serve, import or soak");
        return 2;
}

Inventory Demo()
{
    var names = new Vellumkeep.Core.Forms.CodeNames();
    var inventory = Inventory.Empty;
    foreach (var file in Directory.GetFiles(Path.Combine(root, "demo"), "*.yaml").OrderBy(DemoScenario.Place))
    {
        var sofar = inventory;
        inventory = inventory.With(
            Keepfile
                .Read(DemoScenario.Days(File.ReadAllText(file), today), names, id => sofar.Find<Gateway>(id), null)
                .Records
        );
    }

    return inventory;
}

async Task FleetAsync()
{
    Directory.CreateDirectory(folder);
    foreach (var file in Directory.GetFiles(folder, "vellumkeep.db*"))
        File.Delete(file);
    var size = FleetSize.Whole.Over(parts);
    var databases = Databases.Sqlite(Path.Combine(folder, "vellumkeep.db"));
    await databases.MigrateAsync(CancellationToken.None);
    var keeper = new Keeper(databases);
    var clock = Stopwatch.StartNew();
    var count = 0;
    // Records are written through the one way in, a few thousand to a commit, so that projections, findings and the
    // chain are those of real use.
    foreach (var chunk in FleetMaker.Make([.. demo.All.OfType<Platform>()], size, seed).Chunk(4000))
    {
        await keeper.WriteAsync(
            new("maker", new(2026, 11, 24, 8, 0, 0, TimeSpan.Zero), "import"),
            (writing, _) =>
            {
                foreach (var record in chunk)
                    writing.Put(record, 0);
                return Task.FromResult(true);
            },
            CancellationToken.None
        );
        count += chunk.Length;
        Console.Error.Write($"\r{count:N0} records, {clock.Elapsed.TotalSeconds:N0} s   ");
    }

    await using var context = databases.Open();
    Console.Error.WriteLine();
    Console.WriteLine(
        $"fleet in {folder}: {await context.Records.CountAsync(r => r.Kind == RecordKind.Customer):N0} customers, {await context.Records.CountAsync(r => r.Kind == RecordKind.Gateway):N0} gateways, {await context.Records.CountAsync(r => r.Kind == RecordKind.Tunnel):N0} tunnels, "
            + $"{await context.Findings.CountAsync():N0} findings, {new FileInfo(Path.Combine(folder, "vellumkeep.db")).Length / 1024 / 1024:N0} MB, made in {clock.Elapsed.TotalSeconds:N0} s"
    );
}

async Task MeasureAsync()
{
    var databases = Databases.Sqlite(Path.Combine(folder, "vellumkeep.db"));
    await databases.MigrateAsync(CancellationToken.None);
    var lines = new List<(string What, string Ratio, string Times)>();

    // Reading every record of the fleet from SQLite and building it, against checking and rehearsing every tunnel of
    // it. The first run warms both up.
    async Task<Inventory> ReadAsync()
    {
        await using var context = databases.Open();
        var records = new List<IRecord>();
        await foreach (
            var row in context.Records.AsNoTracking().Where(r => r.Kind != RecordKind.Change).AsAsyncEnumerable()
        )
            records.Add(RecordBody.Read(row.Kind, row.Id, row.Body));
        return Inventory.Of(records);
    }

    int CheckAll(Inventory inventory)
    {
        var found = 0;
        foreach (var tunnel in inventory.Tunnels)
        {
            var about = new Checked(new(inventory, tunnel, today));
            var (a, b) = (about.Rehearsed(EndName.A), about.Rehearsed(EndName.B));
            var findings = Checks.Run(about);
            found += findings.Length + Verdict.Of(about, findings).Length + a.Obstacles.Length + b.Obstacles.Length;
        }

        return found;
    }

    var warm = await ReadAsync();
    CheckAll(Inventory.Of(warm.All.Where(r => r is not Tunnel).Concat(warm.Tunnels.Take(2000))));
    var reads = new List<double>();
    var checks = new List<double>();
    for (var i = 0; i < 3; i++)
    {
        var (inventory, read) = await TimedAsync(ReadAsync);
        reads.Add(read);
        var (_, check) = await TimedAsync(() => Task.FromResult(CheckAll(inventory)));
        checks.Add(check);
    }

    var tunnels = warm.Tunnels.Count();
    lines.Add(
        (
            $"full check and both-way rehearsal of {tunnels:N0} tunnels / reading and building the same {warm.All.Count():N0} records",
            $"{Median(checks) / Median(reads):0.00}",
            $"{Median(checks):0.00} s / {Median(reads):0.00} s"
        )
    );

    // One edit, written and checked again, on the whole fleet and on a twentieth of it.
    async Task<double> EditAsync(Databases on, bool keep)
    {
        var keeper = new Keeper(on);
        await using var context = on.Open();
        var rows = await context
            .Records.AsNoTracking()
            .Where(r => r.Kind == RecordKind.Tunnel && r.CodeKey.EndsWith("-T1"))
            .OrderBy(r => r.CodeKey)
            .Take(60)
            .ToListAsync();
        var times = new List<double>();
        foreach (var row in rows)
        {
            var tunnel = (Tunnel)RecordBody.Read(row.Kind, row.Id, row.Body);
            var (_, time) = await TimedAsync(() =>
                keeper.WriteAsync(
                    new("bench", DateTimeOffset.UtcNow, "correct", "measured"),
                    (writing, _) =>
                    {
                        writing.Put(
                            tunnel with
                            {
                                B = tunnel.B with { KeyHeld = new([DateTime.UtcNow.Millisecond + 2], [1]) },
                            }
                        );
                        return Task.FromResult(true);
                    },
                    CancellationToken.None,
                    keep
                )
            );
            times.Add(time);
        }

        return Median(times);
    }

    var little = Path.Combine(root, $".fleet/{parts * 20}-{seed}");
    if (!File.Exists(Path.Combine(little, "vellumkeep.db")))
    {
        (var whole, folder, parts) = (folder, little, parts * 20);
        await FleetAsync();
        (folder, parts) = (whole, parts / 20);
    }

    var small = Databases.Sqlite(Path.Combine(little, "vellumkeep.db"));
    await EditAsync(small, false);
    await EditAsync(databases, false);
    // Taken in turns, so that what the machine does beside falls on both.
    var (dryBig, drySmall, keptBig, keptSmall) = (
        new List<double>(),
        new List<double>(),
        new List<double>(),
        new List<double>()
    );
    for (var i = 0; i < 5; i++)
    {
        dryBig.Add(await EditAsync(databases, false));
        drySmall.Add(await EditAsync(small, false));
        keptBig.Add(await EditAsync(databases, true));
        keptSmall.Add(await EditAsync(small, true));
    }

    lines.Add(
        (
            "one edit and its re-check, without the commit to disk, on the whole fleet / on a twentieth of it",
            $"{Median(dryBig) / Median(drySmall):0.00}",
            $"{Median(dryBig) * 1000:0.0} ms / {Median(drySmall) * 1000:0.0} ms"
        )
    );
    lines.Add(
        (
            "the same with the commit to disk",
            $"{Median(keptBig) / Median(keptSmall):0.00}",
            $"{Median(keptBig) * 1000:0.0} ms / {Median(keptSmall) * 1000:0.0} ms"
        )
    );

    await OverlapAsync(warm, lines);
    foreach (var (what, ratio, times) in lines)
        Console.WriteLine($"| {what} | {ratio} | {times} |");
    Console.WriteLine(
        $"| highest memory of this run | | {Process.GetCurrentProcess().PeakWorkingSet64 / 1024 / 1024:N0} MB |"
    );
}

async Task OverlapAsync(Inventory warm, List<(string What, string Ratio, string Times)> lines)
{
    // Overlap search over the fleet's prefixes against the plain pairwise scan.
    var prefixes = warm
        .Tunnels.SelectMany(t => t.Agreed.Pairs.Select((p, i) => (Prefix: p.B, Value: i)))
        .Take(400_000)
        .ToArray();
    var random = new Random(seed);
    var asked = Enumerable
        .Range(0, 200)
        .Select(_ => prefixes[random.Next(prefixes.Length)].Prefix)
        .Select(p => random.Next(3) == 0 ? Prefix.Around(p.Network, Math.Max(8, p.Length - 2)) : p)
        .Distinct()
        .ToArray();
    var (index, building) = await TimedAsync(() => Task.FromResult(new PrefixIndex<int>(prefixes)));
    int ByIndex() => asked.Sum(a => index.Overlapping(a).Count());
    int ByScan() => asked.Sum(a => prefixes.Count(p => p.Prefix.Overlaps(a)));
    ByIndex();
    var (found, indexed) = await TimedAsync(() => Task.FromResult(ByIndex()));
    var (again, scanned) = await TimedAsync(() => Task.FromResult(ByScan()));
    if (found != again)
        throw new InvalidOperationException($"The index found {found}, the scan {again}.");
    lines.Add(
        (
            $"pairwise scan over {prefixes.Length:N0} prefixes / overlap search in the index, {asked.Length} questions, {found:N0} answers alike",
            $"{scanned / indexed:0}",
            $"{scanned * 1000:0.0} ms / {indexed * 1000:0.00} ms; built once in {building * 1000:0} ms"
        )
    );

    // The same questions to PostgreSQL's own index on inet, side by side.
    await using (var postgres = await Vellumkeep.Running.ShortPostgres.StartAsync())
    await using (var connection = new Npgsql.NpgsqlConnection(postgres.Connection))
    {
        await connection.OpenAsync();
        async Task Sql(string text)
        {
            await using var command = new Npgsql.NpgsqlCommand(text, connection);
            await command.ExecuteNonQueryAsync();
        }

        await Sql("create table p (n inet not null)");
        await using (var copy = await connection.BeginTextImportAsync("copy p from stdin"))
            foreach (var p in prefixes)
                await copy.WriteAsync($"{p.Prefix}\n");
        await Sql("create index on p using gist (n inet_ops)");
        await Sql("vacuum analyze p");
        await using var ask = new Npgsql.NpgsqlCommand("select count(*) from p where n && $1::inet", connection)
        {
            Parameters = { new() { NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Text } },
        };
        await ask.PrepareAsync();
        async Task<long> ByGistAsync()
        {
            var sum = 0L;
            foreach (var a in asked)
            {
                ask.Parameters[0].Value = a.ToString();
                sum += (long)(await ask.ExecuteScalarAsync())!;
            }

            return sum;
        }

        await ByGistAsync();
        var (third, gist) = await TimedAsync(ByGistAsync);
        if (third != found)
            throw new InvalidOperationException($"The index found {found}, PostgreSQL {third}.");
        lines.Add(
            (
                "PostgreSQL's GiST index on inet, prepared, over a socket of this machine / overlap search in the index, the same questions and answers",
                $"{gist / indexed:0}",
                $"{gist * 1000:0.0} ms / {indexed * 1000:0.00} ms"
            )
        );
    }
}

async Task PlanAsync()
{
    await using var context = Databases.Sqlite(Path.Combine(folder, "vellumkeep.db")).Open();
    // As many tunnels as a hub has: sixty, or the most that one gateway of the fleet has.
    var most = await context
        .Links.Where(l => l.Role == "a" || l.Role == "b")
        .GroupBy(l => l.ToId)
        .Select(g => new { g.Key, Count = g.Count() })
        .ToListAsync();
    var hub = most.OrderBy(g => Math.Abs(g.Count - 60)).First();
    var (reads, plans) = (new List<double>(), new List<double>());
    var steps = 0;
    for (var i = 0; i < 30; i++)
    {
        var reader = new Vellumkeep.Storage.Reading.RecordReader(context);
        var tunnels = (await reader.OnGatewayAsync(hub.Key, default)).Select(t => t.Id).ToImmutableArray();
        var (around, read) = await TimedAsync(() => reader.AroundAsync(tunnels, true, default));
        var gateway = around.Get<Gateway>(hub.Key);
        var (planned, plan) = await TimedAsync(() =>
            Task.FromResult(
                Vellumkeep.Core.Changes.Planner.Plan(
                    around,
                    new Vellumkeep.Core.Changes.Addresses.AddressWish(
                        hub.Key,
                        gateway.Uplinks[0].Label,
                        Vellumkeep.Core.Addressing.Address.Parse("192.0.2.251").Value,
                        tunnels
                    ),
                    today
                )
            )
        );
        steps = planned.Plan?.Steps.Length ?? throw new InvalidOperationException(planned.Refused[0].Wrong.ToString());
        if (i > 14)
            (reads, plans) = ([.. reads, read], [.. plans, plan]);
    }

    Console.WriteLine(
        $"| address move of a gateway with {hub.Count} tunnels, {steps} steps: planned / reading what it is planned from | {Median(plans) / Median(reads):0.00} | {Median(plans) * 1000:0} ms / {Median(reads) * 1000:0} ms |"
    );
}

async Task WhereAsync()
{
    var databases = Databases.Sqlite(Path.Combine(folder, "vellumkeep.db"));
    await using var context = databases.Open();
    var records = new List<IRecord>();
    await foreach (
        var row in context.Records.AsNoTracking().Where(r => r.Kind != RecordKind.Change).AsAsyncEnumerable()
    )
        records.Add(RecordBody.Read(row.Kind, row.Id, row.Body));
    var inventory = Inventory.Of(records);
    var spent = new Dictionary<string, long>();
    T Counted<T>(string what, Func<T> run)
    {
        var from = Stopwatch.GetTimestamp();
        var result = run();
        spent[what] = spent.GetValueOrDefault(what) + Stopwatch.GetTimestamp() - from;
        return result;
    }

    for (var round = 0; round < 2; round++)
    {
        spent.Clear();
        foreach (var tunnel in inventory.Tunnels)
        {
            var about = Counted("view, rows and pairs", () => new Checked(new(inventory, tunnel, today)));
            Counted("rehearsal from A", () => about.Rehearsed(EndName.A));
            Counted("rehearsal from B", () => about.Rehearsed(EndName.B));
            var findings = Checks
                .All.SelectMany(c => Counted(c.Code, () => c.Run(about).ToArray()))
                .OrderBy(f => f.Severity)
                .ToImmutableArray();
            Counted("verdict", () => Verdict.Of(about, findings));
        }
    }

    var whole = spent.Values.Sum();
    foreach (var (what, ticks) in spent.OrderByDescending(s => s.Value).Take(16))
        Console.WriteLine(
            $"{what, -24} {ticks * 100.0 / whole, 5:0.0} %  {ticks * 1e6 / Stopwatch.Frequency / inventory.Tunnels.Count(), 8:0.0} us a tunnel"
        );
}

int Soak(int count)
{
    var clock = Stopwatch.StartNew();
    var n = 0;
    // Among all the demo's gateways, with the few other tunnels of one busy hub: what stands around is put together
    // anew for each.
    var busy = demo.ByCode<Gateway>("harbour-gw")!.Id;
    var around = Inventory.Of(demo.All.Where(r => r is not Tunnel t || t.A.GatewayId == busy || t.B.GatewayId == busy));
    foreach (var tunnel in RandomEnds.Tunnels(around, seed).Take(count))
    {
        n++;
        try
        {
            var view = new TunnelView(around.With([tunnel]), tunnel, today);
            var about = new Checked(view);
            foreach (var r in about.Rehearsals)
            {
                foreach (var o in r.Obstacles)
                    _ = Telling.Why(about, r, o).ToString();
                foreach (var x in r.Exchanges)
                    _ = Telling.Carries(about, r, x).ToString();
                _ = Timeline.Of(view, r);
            }

            _ = Verdict.Of(about, Checks.Run(about));
            if (n % 500 == 0)
                _ = Mends.Of(view, about.Rehearsed(EndName.A)).Length;
        }
        catch (Exception e)
        {
            Console.WriteLine($"tunnel {n} of seed {seed}: {e}");
            return 1;
        }

        if (n % 10_000 == 0)
            Console.Error.Write($"\r{n:N0}, {clock.Elapsed.TotalSeconds:N0} s   ");
    }

    Console.Error.WriteLine();
    Console.WriteLine(
        $"{n:N0} random tunnels of seed {seed} rehearsed and checked in {clock.Elapsed.TotalSeconds:N0} s; none threw."
    );
    return 0;
}

static async Task<(T Result, double Seconds)> TimedAsync<T>(Func<Task<T>> run)
{
    var clock = Stopwatch.StartNew();
    var result = await run();
    return (result, clock.Elapsed.TotalSeconds);
}

static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);
