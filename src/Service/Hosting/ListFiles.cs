using System.Collections;
using Vellumkeep.Exchange.Sheets;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// Any list as a sheet: <c>as=csv</c> or <c>as=xlsx</c> on a call that answers with a list gives its columns as a file;
/// with <c>only</c>, once for each code, only those rows.
/// </summary>
public sealed class ListFiles : IEndpointFilter
{
    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        var form = context.HttpContext.Request.Query["as"].ToString();
        var answer = await next(context);
        if (form.Length == 0 || ItemsOf(answer) is not { } items)
            return answer;
        if (answer?.GetType().GetProperty("Cursor")?.GetValue(answer) is not null)
            throw ProblemException.Field(
                "as",
                $"the list has more than {Paging.InFile:N0} rows, and a file holds no more",
                "a filter, such as a customer or a state"
            );
        if (form is not ("csv" or "xlsx"))
            throw ProblemException.Field("as", $"'{Typed.Short(form)}' is not a file format of a list", "csv or xlsx");
        var asker = context.HttpContext.Asker();
        await context
            .HttpContext.RequestServices.GetRequiredService<AuditLog>()
            .WriteAsync(
                asker.Name,
                AuditLog.Export,
                $"the list {context.HttpContext.Request.Path} as {form}",
                AuditLog.Done,
                asker.From,
                context.HttpContext.RequestAborted
            );
        var type = items
            .GetType()
            .GetInterfaces()
            .First(i => i.IsGenericType && i.GetGenericTypeDefinition() == typeof(IEnumerable<>))
            .GetGenericArguments()[0];
        var columns = type.GetProperties()
            .Where(p => p.Name is not ("Digest" or nameof(FindingPage.Was)) && Shows(p.PropertyType))
            .ToArray();
        var rows = Only(items.Cast<object>(), context.HttpContext.Request.Query["only"])
            .Select(item => (IReadOnlyList<object?>)[.. columns.Select(c => Cell(c.GetValue(item)))]);
        string[] heads = [.. columns.Select(c => char.ToLowerInvariant(c.Name[0]) + c.Name[1..])];
        var name = $"{context.HttpContext.Request.Path.Value!.Split('/')[^1]}.{form}";
        return form == "csv"
            ? Results.File(SheetFile.Csv(heads, rows), "text/csv; charset=utf-8", name)
            : Results.File(
                SheetFile.Xlsx(heads, rows),
                "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
                name
            );
    }

    /// <summary>
    /// The rows that were selected: by code, a finding by tunnel, code and subject; all of them where none is named.
    /// </summary>
    private static IEnumerable<object> Only(IEnumerable<object> items, IReadOnlyList<string?> keys)
    {
        if (keys.Count == 0)
            return items;
        var byKey = items.ToLookup(KeyOf);
        return keys.SelectMany(key =>
                byKey[key]
                    .DefaultIfEmpty()
                    .Select(item =>
                        item
                        ?? throw ProblemException.Field(
                            "only",
                            $"'{Typed.Short(key ?? "")}' is not in the list",
                            "a code that the list with this filter shows"
                        )
                    )
            )
            .ToArray();
    }

    private static string? KeyOf(object item) =>
        item is FindingPage f
            ? $"{f.Tunnel} {f.Code} {f.Subject}"
            : item.GetType().GetProperty("Code")?.GetValue(item) as string;

    private static IEnumerable? ItemsOf(object? answer) =>
        answer switch
        {
            null or string or IResult => null,
            IEnumerable list => list,
            _ when answer.GetType() is { IsGenericType: true } page
                    && page.GetGenericTypeDefinition() == typeof(Page<>) => (IEnumerable)
                page.GetProperty("Items")!.GetValue(answer)!,
            _ => null,
        };

    private static bool Shows(Type type) =>
        type == typeof(string)
        || type.IsValueType
        || type == typeof(SentenceLine)
        || type == typeof(DrawnForm)
        || type == typeof(IReadOnlyList<string>)
        || type == typeof(IReadOnlyList<VerdictSentence>)
        || type == typeof(IReadOnlyList<CommitRecordLine>);

    private static object? Cell(object? value) =>
        value switch
        {
            SentenceLine said => said.Text,
            DrawnForm drawn => drawn.Word,
            IReadOnlyList<string> texts => string.Join("; ", texts),
            IReadOnlyList<VerdictSentence> verdict => string.Join(" ", verdict.Select(v => v.Says.Text)),
            IReadOnlyList<CommitRecordLine> records => string.Join(", ", records.Select(r => r.Code)),
            bool yes => yes ? "yes" : "no",
            _ => value,
        };
}
