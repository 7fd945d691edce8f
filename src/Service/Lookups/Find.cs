namespace Vellumkeep.Service.Lookups;

/// <summary>Records by the code that somebody typed, within what they may see.</summary>
public static class Find
{
    /// <summary>The tunnel with that code; a beginning that only one code has is enough.</summary>
    public static async Task<Kept<Tunnel>> TunnelAsync(
        RecordReader reader,
        Scope scope,
        string code,
        CancellationToken ct
    )
    {
        if (await reader.ByCodeAsync<Tunnel>(scope, RecordKind.Tunnel, code, ct) is { } found)
            return found;
        var beginning = await reader.BeginningAsync(scope, RecordKind.Tunnel, code, ct);
        return beginning.Count == 1
            ? (await reader.ByCodeAsync<Tunnel>(scope, RecordKind.Tunnel, beginning[0], ct))!
            : throw ProblemException.NotFound("tunnel", code, beginning);
    }

    public static async Task<Kept<Change>> ChangeAsync(
        RecordReader reader,
        Scope scope,
        string code,
        CancellationToken ct
    )
    {
        if (await reader.ByCodeAsync<Change>(scope, RecordKind.Change, code, ct) is { } found)
            return found;
        var beginning = await reader.BeginningAsync(scope, RecordKind.Change, code, ct);
        return beginning.Count == 1
            ? (await reader.ByCodeAsync<Change>(scope, RecordKind.Change, beginning[0], ct))!
            : throw ProblemException.NotFound("change", code, beginning);
    }

    internal static EndName EndOf(string? text) =>
        Enum.TryParse<EndName>(text, true, out var end) && text!.Length == 1
            ? end
            : throw ProblemException.Field("end", $"'{Typed.Short(text ?? "")}' is not an end", "A or B");
}
