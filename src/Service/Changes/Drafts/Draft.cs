namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>A change that is being drafted: who drafts it, and the records that it is read against.</summary>
internal sealed record Draft(
    Asker Asker,
    Storage.Writing.Writing Writing,
    RecordReader Reader,
    DateOnly Today,
    CancellationToken Ct
)
{
    /// <summary>A tunnel that is named.</summary>
    /// <exception cref="ProblemException">None is named, or there is none of that code.</exception>
    public async Task<Tunnel> TunnelAsync(string field, string? code) =>
        string.IsNullOrWhiteSpace(code)
            ? throw ProblemException.Field(field, "no tunnel is given", "the code of a tunnel")
            : (await Find.TunnelAsync(Reader, Asker.Scope, code, Ct)).Record;

    /// <summary>
    /// Another record that is named. The beginning of a code is enough where one record alone begins so.
    /// </summary>
    /// <exception cref="ProblemException">None is named, or there is none of that code.</exception>
    public async Task<T> NamedAsync<T>(string field, RecordKind kind, string? code)
        where T : class, IRecord
    {
        if (string.IsNullOrWhiteSpace(code))
            throw ProblemException.Field(field, $"no {kind.Word()} is given", $"the code of a {kind.Word()}");
        return (await Find.RecordAsync<T>(Reader, Asker.Scope, kind, code, Ct)).Record;
    }

    /// <summary>A suite, where one is named.</summary>
    public async Task<Suite?> SuiteAsync(string? code) =>
        code is null ? null : await NamedAsync<Suite>("suite", RecordKind.Suite, code);

    /// <summary>An outer address that no other gateway shows.</summary>
    public Task<Address> FreeAddressAsync(string field, string? text, Gateway gateway) =>
        Address.Parse(text ?? "") is { Ok: true } read
            ? OuterAddresses.FreeAsync(Writing, Reader, Asker, field, read.Value, gateway.Id, Ct)
            : throw ProblemException.Field(
                field,
                $"'{Typed.Short(text ?? "")}' is not an address",
                "an address such as 198.51.100.20"
            );

    /// <summary>The tunnels that end on a gateway and are more than planned, by their codes.</summary>
    public async Task<ImmutableArray<Tunnel>> BuiltOnAsync(Gateway gateway) =>
        [
            .. (await Reader.OnGatewayAsync(gateway.Id, Ct))
                .Where(t => t.State != TunnelState.Planned)
                .OrderBy(t => t.Code, StringComparer.OrdinalIgnoreCase),
        ];

    /// <summary>Prefixes as they were typed.</summary>
    /// <exception cref="ProblemException">One of them is none.</exception>
    public static ImmutableArray<Prefix> Prefixes(string field, IReadOnlyList<string>? texts) =>
        [.. (texts ?? []).Select(t => PrefixOf(field, t ?? ""))];

    private static Prefix PrefixOf(string field, string text)
    {
        var read = Prefix.Parse(text);
        return read.Ok
            ? read.Value
            : throw ProblemException
                .Field(field, read.Wrong!, read.Right!)
                .With(
                    "findings",
                    read.Slip == Slip.HostBits ? [Core.Findings.Addresses.HostBits.Check.Code] : Array.Empty<string>()
                );
    }

    /// <summary>A pair as it was typed: an A-side and a B-side prefix.</summary>
    public static SubnetPair PairOf(string text)
    {
        var parts = text.Split([" - ", ","], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (parts.Length != 2)
            throw ProblemException.Field(
                "pairs",
                $"'{Typed.Short(text)}' is not a pair",
                "an A-side and a B-side prefix, such as 10.50.0.0/24 - 10.51.0.0/24"
            );
        var (a, b) = (PrefixOf("pairs", parts[0]), PrefixOf("pairs", parts[1]));
        return a.Family == b.Family
            ? new(a, b)
            : throw ProblemException.Field(
                "pairs",
                $"{a} and {b} are of different families",
                "two IPv4 or two IPv6 prefixes"
            );
    }
}

/// <summary>What was read of a draft.</summary>
/// <param name="Request">What is wanted.</param>
/// <param name="Title">What it is called when nobody gave it a title.</param>
internal sealed record Drafted(ChangeRequest Request, Func<Inventory, string> Title)
{
    /// <summary>A draft whose title does not depend on other records.</summary>
    public static Drafted Of(ChangeRequest request, string title) => new(request, _ => title);
}
