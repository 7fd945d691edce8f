using System.Globalization;
using Vellumkeep.Bench;

// fleet [--parts N] [--seed S] [--data DIR]: makes the fleet in SQLite
// measure [--parts N]: makes it when it is missing, and measures ratios in one run
// where [--parts N]: where the time of a fleet check goes
// import [--rows N]: a sheet of so many rows, beside bare inserts
// overlap [--parts N]: overlap search alone, beside the pairwise scan and PostgreSQL
// history [--parts N] [--count N]: loads entries into the history of the fleet
// serve [--parts N] [--clients N] [--seconds N]: lists, searches and tunnel pages of the service, beside an empty page
// plan [--parts N]: an address move of the gateway with the most tunnels, beside reading what it is planned from
// small: a few of them on a small fleet, which the tests hold within wide bounds
// soak [--count N] [--seed S]: random ends, rehearsed and checked, until one throws
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var root = AppContext.BaseDirectory;
while (!File.Exists(Path.Combine(root, "Vellumkeep.slnx")))
    root = Path.GetDirectoryName(root.TrimEnd('/'))
        ?? throw new InvalidOperationException("Run it inside the project.");
var at = Workplace.Of(root, Number("--parts", 1), Number("--seed", 7), Given("--data"));
switch (args.FirstOrDefault())
{
    case "fleet":
        await FleetBench.MakeAsync(at);
        return 0;
    case "measure":
        if (!at.Made)
            await FleetBench.MakeAsync(at);
        await MeasureBench.RunAsync(at);
        return 0;
    case "small":
        await SmallBench.RunAsync(at);
        return 0;
    case "where":
        await WhereBench.RunAsync(at);
        return 0;
    case "import":
        await Serving.ImportAsync(root, Number("--rows", 50_000));
        return 0;
    case "overlap":
        var lines = new List<Ratio>();
        await OverlapBench.MeasureAsync(at, await FleetBench.ReadAsync(at.Databases), lines);
        lines.ForEach(Console.WriteLine);
        return 0;
    case "plan":
        await PlanBench.RunAsync(at);
        return 0;
    case "history":
        await Serving.HistoryAsync(at.File, Number("--count", 1_000_000), at.Seed);
        return 0;
    case "serve":
        return await Serving.ServeAsync(root, at.Folder, Number("--clients", 2), Number("--seconds", 5)) == 0 ? 0 : 1;
    case "soak":
        return SoakBench.Run(at, Number("--count", 1_000_000));
    default:
        Console.Error.WriteLine("fleet, measure, where, overlap, plan, history, serve, import or soak");
        return 2;
}

string? Given(string name) => Array.IndexOf(args, name) is >= 0 and var i && i + 1 < args.Length ? args[i + 1] : null;

int Number(string name, int usual) => Given(name) is { } given ? int.Parse(given) : usual;
