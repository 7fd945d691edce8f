using Vellumkeep.Core.Changes;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Forms;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Service.Demo;

namespace Vellumkeep.Core.Tests;

/// <summary>The demo's keepfiles as one inventory, without a service.</summary>
internal static class DemoInventory
{
    public static readonly DateOnly Today = new(2026, 11, 24);

    public static readonly string Root = FindRoot();

    public static readonly Inventory All = Load();

    public static Tunnel Tunnel(string code) => All.ByCode<Tunnel>(code) ?? throw new ArgumentException(code);

    public static Checked Checked(Tunnel tunnel, Inventory? among = null) =>
        new(new TunnelView((among ?? All).With([tunnel]), tunnel, Today));

    public static Plan Plan(string tunnel, EndName end, string add, Inventory? among = null)
    {
        var planned = Planner.Plan(
            among ?? All,
            new SubnetsRequest(Tunnel(tunnel).Id, end, [Addressing.Prefix.Parse(add).Value], []),
            Today
        );
        return planned.Plan ?? throw new InvalidOperationException(planned.Refused[0].Wrong.ToString());
    }

    public static IEnumerable<string> Files() =>
        Directory
            .GetFiles(Path.Combine(Root, "demo"), "*.yaml")
            .OrderBy(DemoScenario.Place)
            .Select(f => DemoScenario.Days(File.ReadAllText(f), Today));

    private static Inventory Load()
    {
        var names = new CodeNames();
        var inventory = Inventory.Empty;
        foreach (var text in Files())
        {
            var read = Keepfile.Read(text, names, id => inventory.Find<Gateway>(id), null);
            inventory = read.Problems.IsEmpty
                ? inventory.With(read.Records)
                : throw new InvalidOperationException(read.Problems[0].ToString());
        }

        return inventory;
    }

    private static string FindRoot()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
            if (File.Exists(Path.Combine(at.FullName, "Vellumkeep.slnx")))
                return at.FullName;
        throw new InvalidOperationException("The project's root was not found.");
    }
}
