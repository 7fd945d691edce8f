using System.Collections;
using System.Collections.Concurrent;
using System.Reflection;
using System.Text.Json;
using Vellumkeep.Service.Keys;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// Looks over everything that a call was given before its endpoint sees it: texts hold only characters that can be kept
/// and are not too long, lists hold no gaps and are not too long, moments lie within the calendar. What does not fit is
/// refused with its place, and so is a text that holds a kept key.
/// </summary>
public static class BodyValidation
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
                return async context =>
                {
                    Queried(context.HttpContext.Request, names);
                    var texts = new List<(string At, string Text)>();
                    for (var i = 0; i < context.Arguments.Count; i++)
                    {
                        if (bodies[i] && context.Arguments[i] is null)
                            throw new ProblemException(
                                400,
                                "unreadable",
                                "The request cannot be read",
                                "Body: it is empty. Expected: what the description of the interface says."
                            ).With("field", "body");
                        Argument(names[i], context.Arguments[i], texts);
                    }

                    await WithoutKeysAsync(context.HttpContext, texts);
                    return await next(context);
                };
            }
        );

    /// <summary>Whatever a call brings may come to be stored, in a record or in a list of what happened.</summary>
    private static async Task WithoutKeysAsync(HttpContext http, List<(string At, string Text)> texts)
    {
        // A password is never stored as it is, whatever it is.
        if (texts.Count == 0 || http.GetEndpoint()?.Metadata.GetMetadata<TriesPassword>() is not null)
            return;
        var services = http.RequestServices;
        await services
            .GetRequiredService<KeyGuard>()
            .LookAsync(
                services.GetRequiredService<Databases>(),
                texts,
                HttpMethods.IsGet(http.Request.Method),
                http.RequestAborted
            );
    }

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

    private static void Argument(string name, object? value, List<(string At, string Text)> texts)
    {
        switch (value)
        {
            case null or HttpContext or CancellationToken:
                break;
            case string text:
                Text(name, text, Bounds.QueryText, texts);
                break;
            case string[] some:
                Items(name, some, Bounds.QueryText, texts);
                break;
            default:
                if (value.GetType().Assembly == typeof(MostCharactersAttribute).Assembly)
                    Value("", value, Bounds.BodyText, texts);
                break;
        }
    }

    private static void Value(string at, object? value, int most, List<(string At, string Text)> texts)
    {
        switch (value)
        {
            case null:
                break;
            case string text:
                Text(at, text, most, texts);
                break;
            case DateTimeOffset moment when moment < Bounds.FirstMoment || moment >= Bounds.LastMoment:
                throw ProblemException.Field(
                    at,
                    $"{moment:yyyy-MM-dd} is out of range",
                    $"a moment from {Scalars.Write(Scalars.FirstDay)} to {Scalars.Write(Scalars.LastDay)}"
                );
            case JsonElement json:
                Json(at, json, texts);
                break;
            case IEnumerable list:
                Items(at, list, most, texts);
                break;
            default:
                if (value.GetType().Assembly == typeof(MostCharactersAttribute).Assembly)
                    foreach (var member in MembersOf(value.GetType()))
                        Of(member, at.Length == 0 ? member.Name : $"{at}.{member.Name}", member.Get(value), texts);
                break;
        }
    }

    private static void Of(Member member, string at, object? value, List<(string At, string Text)> texts)
    {
        if (value is null && member.Needed)
            throw ProblemException.Field(at, "it is missing", "what the description of the interface says");
        Value(at, value, member.Most, texts);
    }

    private static void Items(string at, IEnumerable list, int most, List<(string At, string Text)> texts)
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
            Value($"{at}[{count}]", item, most, texts);
        }
    }

    private static void Text(string at, string text, int most, List<(string At, string Text)> texts)
    {
        if (text.Length > most)
            throw ProblemException.Field(at, $"it has {text.Length:N0} characters", $"at most {most:N0}");
        if (Characters.Unfit(text, lines: true) is { } unfit)
            throw ProblemException.Field(
                at,
                $"it holds the character {unfit}, which cannot be stored or read",
                "the same without it"
            );
        texts.Add((at, text));
    }

    /// <summary>A record's form: how deep it is was bounded when it was read.</summary>
    private static void Json(string at, JsonElement json, List<(string At, string Text)> texts)
    {
        switch (json.ValueKind)
        {
            case JsonValueKind.String:
                Text(at, StringOf(at, json), Bounds.QueryText * 20, texts);
                break;
            case JsonValueKind.Array:
                if (json.GetArrayLength() > Bounds.Items)
                    throw ProblemException.Field(
                        at,
                        $"it has more than {Bounds.Items:N0} items",
                        $"at most {Bounds.Items:N0}"
                    );
                foreach (var item in json.EnumerateArray())
                    Json(at, item, texts);
                break;
            case JsonValueKind.Object:
                foreach (var property in json.EnumerateObject())
                    Json(at.Length == 0 ? property.Name : $"{at}.{Typed.Short(property.Name)}", property.Value, texts);
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
