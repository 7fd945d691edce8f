using System.Reflection;
using Mono.Cecil;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// The rooms of an assembly, which are its folders, and what each uses of the others: by every type that a type is made
/// of or that its methods name.
/// </summary>
internal sealed class Rooms
{
    private readonly Dictionary<string, Dictionary<string, string>> uses = [];

    private Rooms(string prefix) => Prefix = prefix;

    private string Prefix { get; }

    public IEnumerable<string> All => uses.Keys;

    /// <param name="prefix">The namespace of the assembly; the next part of a namespace is the room.</param>
    public static Rooms Of(Assembly assembly, string prefix)
    {
        var rooms = new Rooms(prefix);
        using var definition = AssemblyDefinition.ReadAssembly(assembly.Location);
        foreach (var type in definition.MainModule.Types)
            if (rooms.RoomOf(type) is { } room)
            {
                var used = rooms.uses.TryGetValue(room, out var known) ? known : rooms.uses[room] = [];
                foreach (var other in Named(type))
                    if (rooms.RoomOf(other) is { } there && there != room)
                        used.TryAdd(there, $"{type.Name} uses {Outermost(other).Name}");
            }

        return rooms;
    }

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

    private string? RoomOf(TypeReference type)
    {
        var space = Outermost(type).Namespace;
        return space == Prefix ? "the root"
            : space.StartsWith(Prefix + ".", StringComparison.Ordinal) ? space[(Prefix.Length + 1)..].Split('.')[0]
            : null;
    }

    private static TypeReference Outermost(TypeReference type)
    {
        while (true)
            if (type is TypeSpecification)
                type = type.GetElementType();
            else if (type.DeclaringType is { } declaring)
                type = declaring;
            else
                return type;
    }

    private static IEnumerable<TypeReference> Named(TypeDefinition type)
    {
        var direct = new[] { type.BaseType }
            .Concat(type.Interfaces.Select(i => i.InterfaceType))
            .Concat(type.Fields.Select(f => f.FieldType))
            .Concat(type.Methods.SelectMany(Named))
            .SelectMany(Parts);
        return direct.Concat(type.NestedTypes.SelectMany(Named));
    }

    private static IEnumerable<TypeReference?> Named(MethodDefinition method)
    {
        var said = method.Parameters.Select(p => p.ParameterType).Append(method.ReturnType);
        return method.HasBody
            ? said.Concat(method.Body.Variables.Select(v => v.VariableType))
                .Concat(method.Body.Instructions.SelectMany(i => Named(i.Operand)))
            : said;
    }

    private static IEnumerable<TypeReference?> Named(object? operand) =>
        operand switch
        {
            TypeReference type => [type],
            FieldReference field => [field.DeclaringType, field.FieldType],
            GenericInstanceMethod method => [.. Named(method.ElementMethod), .. method.GenericArguments],
            MethodReference method =>
            [
                method.DeclaringType,
                method.ReturnType,
                .. method.Parameters.Select(p => p.ParameterType),
            ],
            _ => [],
        };

    private static IEnumerable<TypeReference> Parts(TypeReference? type) =>
        type switch
        {
            null => [],
            GenericInstanceType generic => generic.GenericArguments.SelectMany(Parts).Append(generic.ElementType),
            TypeSpecification specification => Parts(specification.ElementType),
            _ => [type],
        };
}
