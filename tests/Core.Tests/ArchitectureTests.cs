using System.Text.RegularExpressions;
using NetArchTest.Rules;
using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class ArchitectureTests
{
    /// <summary>Dependencies point one way; what is not listed may not be referred to.</summary>
    [Theory]
    [InlineData(typeof(Inventory), "")]
    [InlineData(typeof(Exchange.Keepfiles.Keepfile), "Core")]
    [InlineData(typeof(Storage.Databases), "Core")]
    [InlineData(typeof(Contract.Me), "")]
    [InlineData(typeof(Client.KeepClient), "Contract")]
    [InlineData(typeof(Service.Demo.DemoScenario), "Core Exchange Storage Contract Views")]
    [InlineData(typeof(Views.TunnelPages), "Core Contract")]
    public void A_project_refers_only_to_those_below_it(Type of, string allowed) =>
        of
            .Assembly.GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(n => n.StartsWith("Vellumkeep.", StringComparison.Ordinal))
            .Select(n => n["Vellumkeep.".Length..])
            .Except(allowed.Split(' '))
            .ShouldBeEmpty();

    /// <summary>The rooms of the core from the bottom up: each uses only those before it.</summary>
    private static readonly string[] Layers =
    [
        "Parsing",
        "Addressing",
        "Algorithms",
        "Quantities",
        "Proposals",
        "Records",
        "Wording",
        "Forms",
        "Resolution",
        "Negotiation",
        "Timing",
        "Comparison",
        "Rehearsing",
        "Calculations",
        "Findings",
        "Fixes",
        "Verdicts",
        "Drawings",
        "Changes",
        "Keys",
    ];

    [Fact]
    public void A_room_of_the_core_uses_only_those_below_it()
    {
        var rooms = FolderUses.Of("Core");
        rooms.All.ShouldBe(Layers, ignoreOrder: true);
        var wrong =
            from room in rooms.All
            from used in rooms.UsedBy(room)
            where Array.IndexOf(Layers, used.Key) > Array.IndexOf(Layers, room)
            select $"{room} -> {used.Key}: {used.Value}";
        wrong.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("Service")]
    [InlineData("Storage")]
    [InlineData("Exchange")]
    [InlineData("Cli")]
    public void No_room_stands_in_a_circle(string project) => FolderUses.Of(project).InCircles().ShouldBeEmpty();

    /// <summary>A room is a folder, so that a type is found where its name says.</summary>
    [Fact]
    public void A_type_stands_in_the_folder_of_its_namespace()
    {
        var wrong =
            from file in Sources("*.cs")
            let said = File.ReadLines(file).FirstOrDefault(l => l.StartsWith("namespace ", StringComparison.Ordinal))
            where said is not null
            let folder = Path.GetRelativePath(Path.Combine(DemoInventory.Root, "src"), Path.GetDirectoryName(file)!)
            where said != $"namespace Vellumkeep.{folder.Replace('/', '.')};"
            select $"{file}: {said}";
        wrong.ShouldBeEmpty();
    }

    [Fact]
    public void No_file_and_no_folder_of_the_console_stands_in_a_circle()
    {
        var files = Sources("*.ts*").ToHashSet();
        var imports = files.ToDictionary(f => f, f => Imported(f).Where(files.Contains).ToArray());
        imports.Values.Sum(i => i.Length).ShouldBeGreaterThan(files.Count);
        InCircles(imports).ShouldBeEmpty();
        // A page has a folder; what stands in the root is made of the pages.
        InCircles(
                files
                    .GroupBy(Folder)
                    .ToDictionary(
                        f => f.Key,
                        f => f.SelectMany(one => imports[one]).Select(Folder).Except([f.Key]).ToArray()
                    )
            )
            .ShouldBeEmpty();

        static string Folder(string file)
        {
            var parts = Path.GetRelativePath(Path.Combine(DemoInventory.Root, "src/console/src"), file).Split('/');
            return parts.Length == 1 ? "the root" : parts[0];
        }
    }

    private static IEnumerable<string> InCircles(Dictionary<string, string[]> uses)
    {
        return uses.Keys.Where(one => Reached(one).Contains(one));

        HashSet<string> Reached(string from)
        {
            var reached = new HashSet<string>();
            var open = new Stack<string>(uses[from]);
            while (open.TryPop(out var at))
                if (reached.Add(at))
                    foreach (var next in uses.GetValueOrDefault(at, []))
                        open.Push(next);
            return reached;
        }
    }

    [Fact]
    public void No_text_that_is_shown_holds_the_name_of_a_value_instead_of_it() =>
        Sources("*.cs")
            .SelectMany(f =>
                from line in File.ReadLines(f)
                where Regex.IsMatch(line, """(?<![$@"])"[^"{]*\{[a-z]\w*\.[A-Z][\w.]*\}""")
                select $"{Path.GetFileName(f)}: {line.Trim()}"
            )
            .Where(l => !Regex.IsMatch(l, """\$"+.*\{[a-z]\w*\.[A-Z]"""))
            .ShouldBeEmpty();

    private static IEnumerable<string> Imported(string file) =>
        from Match import in Regex.Matches(File.ReadAllText(file), "(?:from|import\\() ?\"(\\.[^\"]+)\"")
        let path = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(file)!, import.Groups[1].Value))
        from end in new[] { "", ".ts", ".tsx" }
        select path + end;

    private static IEnumerable<string> Sources(string pattern) =>
        Directory
            .GetFiles(Path.Combine(DemoInventory.Root, "src"), pattern, SearchOption.AllDirectories)
            .Where(f => !Regex.IsMatch(f, "/(obj|bin|node_modules|Migrations)/"));

    [Fact]
    public void The_core_touches_no_file_no_network_no_console_and_no_clock_of_its_own()
    {
        var result = Types
            .InAssembly(typeof(Inventory).Assembly)
            .ShouldNot()
            .HaveDependencyOnAny(
                "System.IO.File",
                "System.IO.Directory",
                "System.Net.Http",
                "System.Net.Sockets.Socket",
                "System.Console",
                "Microsoft",
                "System.TimeProvider",
                "System.Text.Json"
            )
            .GetResult();
        result.IsSuccessful.ShouldBeTrue(string.Join(", ", result.FailingTypeNames ?? []));
        var sources = Directory
            .GetFiles(Path.Combine(DemoInventory.Root, "src/Core"), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/"));
        sources
            .Where(f => File.ReadAllText(f) is var text && (text.Contains("DateTime.Now") || text.Contains(".UtcNow")))
            .ShouldBeEmpty();
    }
}
