using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// The folders of a project, and what each uses of the others, as the sources say it: a compiler puts constants in the
/// place of their names, so that what is left of a project does not tell.
/// </summary>
internal sealed class FolderUses
{
    private readonly Dictionary<string, Dictionary<string, string>> uses = [];

    private FolderUses(string prefix) => Prefix = prefix;

    private string Prefix { get; }

    public IEnumerable<string> All => uses.Keys;

    /// <param name="project">The folder of the project below src, which its namespaces begin with.</param>
    public static FolderUses Of(string project)
    {
        var rooms = new FolderUses($"Vellumkeep.{project}");
        var compilation = Compiled(Path.Combine(DemoInventory.Root, "src", project), rooms.Prefix);
        foreach (var tree in compilation.SyntaxTrees)
        {
            var model = compilation.GetSemanticModel(tree);
            var space = tree.GetRoot().DescendantNodes().OfType<BaseNamespaceDeclarationSyntax>().FirstOrDefault();
            if (space is null || rooms.RoomOf(space.Name.ToString()) is not { } room)
                continue;
            var used = rooms.uses.TryGetValue(room, out var known) ? known : rooms.uses[room] = [];
            foreach (var type in Named(space, model).Where(t => t.ContainingAssembly.Name == rooms.Prefix))
                if (rooms.RoomOf(type.ContainingNamespace.ToString()!) is { } there && there != room)
                    used.TryAdd(there, $"{Path.GetFileName(tree.FilePath)} uses {type.Name}");
        }

        return rooms;
    }

    private static readonly PortableExecutableReference[] Platform =
    [
        .. ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!)
            .Split(Path.PathSeparator)
            .Select(p => MetadataReference.CreateFromFile(p)),
    ];

    private static CSharpCompilation Compiled(string folder, string name)
    {
        return CSharpCompilation.Create(
            name,
            Directory
                .GetFiles(folder, "*.cs", SearchOption.AllDirectories)
                .Where(f => !f.Contains("/bin/") && (!f.Contains("/obj/") || f.EndsWith(".GlobalUsings.g.cs")))
                .Select(f => CSharpSyntaxTree.ParseText(File.ReadAllText(f), path: f)),
            Platform.Where(p => Path.GetFileNameWithoutExtension(p.FilePath) != name)
        );
    }

    /// <summary>Every type that is named in a file, or a member of which is, comments left out.</summary>
    private static IEnumerable<INamedTypeSymbol> Named(SyntaxNode file, SemanticModel model) =>
        file.DescendantNodes()
            .Select(node =>
                node switch
                {
                    SimpleNameSyntax => model.GetSymbolInfo(node).Symbol,
                    ImplicitObjectCreationExpressionSyntax => model.GetTypeInfo(node).Type,
                    _ => null,
                }
            )
            .Select(symbol => symbol as INamedTypeSymbol ?? symbol?.ContainingType)
            .OfType<INamedTypeSymbol>();

    /// <summary>The rooms that one uses, each with an example.</summary>
    public IReadOnlyDictionary<string, string> UsedBy(string room) => uses[room];

    /// <summary>The rooms from which a way leads back to themselves, each with its first step.</summary>
    public IEnumerable<string> InCircles() =>
        from room in uses.Keys
        from step in uses[room]
        where ReachedFrom(step.Key).Contains(room)
        select $"{room} -> {step.Key}: {step.Value}";

    private HashSet<string> ReachedFrom(string room)
    {
        var reached = new HashSet<string> { room };
        var open = new Stack<string>([room]);
        while (open.TryPop(out var at))
            foreach (var next in uses.GetValueOrDefault(at, []).Keys)
                if (reached.Add(next))
                    open.Push(next);
        return reached;
    }

    private string? RoomOf(string space)
    {
        if (space == Prefix)
            return "the root";
        return space.StartsWith(Prefix + ".", StringComparison.Ordinal)
            ? space[(Prefix.Length + 1)..].Split('.')[0]
            : null;
    }
}
