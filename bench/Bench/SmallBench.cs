namespace Vellumkeep.Bench;

/// <summary>
/// The ratios that are watched with every test run: small, in one run, each on a line of its own as its name and value.
/// They are ratios of processor time, since other tests run beside.
/// </summary>
internal static class SmallBench
{
    private const int Rows = 1500;

    public static async Task RunAsync(Workplace at)
    {
        await FleetBench.MakeAsync(at);
        var fleet = await FleetBench.ReadAsync(at.Databases);
        var (check, read) = await MeasureBench.CheckAgainstReadAsync(at, fleet, byProcessor: true);
        Say("check/read", check / read);
        var import = await Serving.ImportedAsync(at.Root, Rows);
        Say("import/inserts", import.ImportWork / import.InsertWork);
        Say("page/empty", await Serving.PageAgainstEmptyAsync(at.Root, at.Folder));
    }

    private static void Say(string name, double ratio) => Console.WriteLine($"ratio {name} {ratio:0.00}");
}
