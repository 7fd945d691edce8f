using System.Collections;
using System.Collections.Concurrent;
using System.Reflection;
using System.Text.Json;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// Looks over everything that a call was given before its endpoint sees it: texts hold only characters that can be kept
/// and are not too long, lists hold no gaps and are not too long, moments lie within the calendar. What does not fit is
/// refused with its place.
/// </summary>
public static class Fit
{
    private static readonly ConcurrentDictionary<Type, Member[]> Members = [];

    private sealed record Member(string Name, Func<object, object?> Get, int Most, bool Needed);

    public static RouteGroupBuilder FittingOnly(this RouteGroupBuilder group) =>
        group.AddEndpointFilterFactory(
            (factory, next) =>
            {
                var parameters = factory.MethodInfo.GetParameters();
                string[] names = [.. parameters.Select(p => p.Name ?? "")];
                // A body of null is a body of nothing, also where the framework does not know what a generic endpoint
                // takes.
                bool[] bodies =
                [
                    .. parameters.Select(p =>
                        p.ParameterType.Assembly == typeof(MostCharactersAttribute).Assembly
                        && !p.ParameterType.IsValueType
                    ),
                ];
                return context =>
                {
                    Queried(context.HttpContext.Request, names);
                    for (var i = 0; i < context.Arguments.Count; i++)
                    {
                        if (bodies[i] && context.Arguments[i] is null)
                            throw new ProblemException(
                                400,
                                "unreadable",
                                "The request cannot be read",
                                "Body: it is empty. Expected: what the description of the interface says."
                            ).With("field", "body");
                        Argument(names[i], context.Arguments[i]);
                    }

                    return next(context);
                };
            }
        );

    /// <summary>A parameter that nobody reads would be a filter that does not filter.</summary>
    private static void Queried(HttpRequest request, string[] names)
    {
        foreach (var asked in request.Query.Keys)
        {
            // "as" makes a file of a list, whatever the list, and "only" of some of its rows.
            if (
                names.Contains(asked, StringComparer.OrdinalIgnoreCase)
                || (asked is "as" or "only" && request.Query.ContainsKey("as") && HttpMethods.IsGet(request.Method))
            )
                continue;
            var field = Characters.Unfit(asked) is null ? Typed.Short(asked) : "query";
            throw ProblemException.Field(
                field,
                "this call takes no such parameter",
                "those that the description of the interface names"
            );
        }
    }

    private static void Argument(string name, object? value)
    {
        switch (value)
        {
            case null or HttpContext or CancellationToken:
                break;
            case string text:
                Text(name, text, Bounds.QueryText);
                break;
            case string[] texts:
                Items(name, texts, Bounds.QueryText);
                break;
            default:
                if (value.GetType().Assembly == typeof(MostCharactersAttribute).Assembly)
                    Value("", value, Bounds.BodyText);
                break;
        }
    }

    private static void Value(string at, object? value, int most)
    {
        switch (value)
        {
            case null:
                break;
            case string text:
                Text(at, text, most);
                break;
            case DateTimeOffset moment when moment < Bounds.FirstMoment || moment >= Bounds.LastMoment:
                throw ProblemException.Field(
                    at,
                    $"{moment:yyyy-MM-dd} is out of range",
                    $"a moment from {Scalars.Write(Scalars.FirstDay)} to {Scalars.Write(Scalars.LastDay)}"
                );
            case JsonElement json:
                Json(at, json);
                break;
            case IEnumerable list:
                Items(at, list, most);
                break;
            default:
                if (value.GetType().Assembly == typeof(MostCharactersAttribute).Assembly)
                    foreach (var member in MembersOf(value.GetType()))
                        Of(member, at.Length == 0 ? member.Name : $"{at}.{member.Name}", member.Get(value));
                break;
        }
    }

    private static void Of(Member member, string at, object? value)
    {
        if (value is null && member.Needed)
            throw ProblemException.Field(at, "it is missing", "what the description of the interface says");
        Value(at, value, member.Most);
    }

    private static void Items(string at, IEnumerable list, int most)
    {
        var count = 0;
        foreach (var item in list)
        {
            if (++count > Bounds.Items)
                throw ProblemException.Field(
                    at,
                    $"it has more than {Bounds.Items:N0} items",
                    $"at most {Bounds.Items:N0}"
                );
            if (item is null)
                throw ProblemException.Field($"{at}[{count}]", "there is no value here", "a value, or no item at all");
            Value($"{at}[{count}]", item, most);
        }
    }

    private static void Text(string at, string text, int most)
    {
        if (text.Length > most)
            throw ProblemException.Field(at, $"it has {text.Length:N0} characters", $"at most {most:N0}");
        if (Characters.Unfit(text, lines: true) is { } unfit)
            throw ProblemException.Field(
                at,
                $"it holds the character {unfit}, which cannot be stored or read",
                "the same without it"
            );
    }

    /// <summary>A record's form: how deep it is was bounded when it was read.</summary>
    private static void Json(string at, JsonElement json)
    {
        switch (json.ValueKind)
        {
            case JsonValueKind.String:
                Text(at, StringOf(at, json), Bounds.QueryText * 20);
                break;
            case JsonValueKind.Array:
                if (json.GetArrayLength() > Bounds.Items)
                    throw ProblemException.Field(
                        at,
                        $"it has more than {Bounds.Items:N0} items",
                        $"at most {Bounds.Items:N0}"
                    );
                foreach (var item in json.EnumerateArray())
                    Json(at, item);
                break;
            case JsonValueKind.Object:
                foreach (var property in json.EnumerateObject())
                    Json(at.Length == 0 ? property.Name : $"{at}.{Typed.Short(property.Name)}", property.Value);
                break;
        }
    }

    private static string StringOf(string at, JsonElement json)
    {
        try
        {
            return json.GetString()!;
        }
        catch (InvalidOperationException)
        {
            // Half of a surrogate pair, escaped.
            throw ProblemException.Field(
                at,
                "it holds half of a character",
                "whole characters (RFC 8259, section 8.2)"
            );
        }
    }

    /// <summary>Whether the contract has no room for nothing there.</summary>
    private static bool IsNeeded(PropertyInfo property)
    {
        // The context is not made for several at once.
        return new NullabilityInfoContext().Create(property).ReadState == NullabilityState.NotNull;
    }

    private static Member[] MembersOf(Type type) =>
        Members.GetOrAdd(type, t =>
            [
                .. t.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                    .Where(p => p.CanRead && p.GetIndexParameters().Length == 0)
                    .Select(p => new Member(
                        char.ToLowerInvariant(p.Name[0]) + p.Name[1..],
                        p.GetValue,
                        p.GetCustomAttribute<MostCharactersAttribute>()?.Most ?? Bounds.BodyText,
                        !p.PropertyType.IsValueType && IsNeeded(p)
                    )),
            ]
        );
}
