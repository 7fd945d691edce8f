namespace Vellumkeep.Service.Lookups;

/// <summary>Records by the code that somebody typed, within what they may see.</summary>
/// <summary>Records by the code that somebody typed.</summary>
public static class Find
{
    /// <summary>The tunnel with that code; a beginning that only one code has is enough.</summary>
    public static Task<Kept<Tunnel>> TunnelAsync(RecordReader reader, Scope scope, string code, CancellationToken ct) =>
        RecordAsync<Tunnel>(reader, scope, RecordKind.Tunnel, code, ct);

    /// <summary>The change with that code; a beginning that only one code has is enough.</summary>
    public static Task<Kept<Change>> ChangeAsync(RecordReader reader, Scope scope, string code, CancellationToken ct) =>
        RecordAsync<Change>(reader, scope, RecordKind.Change, code, ct);

    /// <summary>The record with that code; a beginning that only one code has is enough.</summary>
    /// <exception cref="ProblemException">None has it, or several begin so: those that do are named.</exception>
    public static async Task<Kept<T>> RecordAsync<T>(
        RecordReader reader,
        Scope scope,
        RecordKind kind,
        string code,
        CancellationToken ct
    )
        where T : class, IRecord
    {
        var typed = code.Trim();
        if (await reader.ByCodeAsync<T>(scope, kind, typed, ct) is { } found)
            return found;
        var near = await reader.NearAsync(scope, kind, typed, ct);
        return near.Meant(typed) is { } meant
            ? (await reader.ByCodeAsync<T>(scope, kind, meant, ct))!
            : throw ProblemException.NotFound(kind.Word(), typed, near);
    }

    /// <summary>The id of the customer that a list is asked for; null when it is asked for all.</summary>
    /// <exception cref="ProblemException">There is no such customer.</exception>
    public static async Task<string?> OwnerAsync(
        RecordReader reader,
        Scope scope,
        string? customer,
        CancellationToken ct
    ) =>
        customer is null
            ? null
            : (await RecordAsync<Customer>(reader, scope, RecordKind.Customer, customer, ct)).Record.Id;

    internal static EndName EndOf(string? text) =>
        Enum.TryParse<EndName>(text, true, out var end) && text!.Length == 1
            ? end
            : throw ProblemException.Field("end", $"'{Typed.Short(text ?? "")}' is not an end", "A or B");
}
