using Vellumkeep.Exchange.Sheets;

namespace Vellumkeep.Service.Choices;

/// <summary>Proposals as people type them, and codes that nobody has.</summary>
public static class ProposalChoices
{
    public static void MapProposalChoices(this RouteGroupBuilder api)
    {
        api.MapGet("/choices/proposals/read", (string of, string text) => Read(of, text))
            .For(Role.Reader)
            .WithName("readProposals")
            .WithSummary(
                "Proposals in any spelling that a sheet can have, as they are written here, each with its strength"
            )
            .Refuses(422);
        api.MapGet(
                "/choices/code",
                async (
                    string of,
                    string name,
                    string? under,
                    Databases databases,
                    HttpContext http,
                    CancellationToken ct
                ) =>
                {
                    await using var context = databases.Open();
                    return new CodeSuggested(
                        await FreeAsync(new(context), http.Asker().Scope, of, name, under ?? "", ct)
                    );
                }
            )
            .For(Role.Engineer)
            .WithName("suggestCode")
            .WithSummary(
                "A code that nobody whom you see has, for a customer, site, gateway or platform profile. under: the code "
                    + "that it belongs to"
            )
            .Refuses(422);
    }

    private static ProposalsRead Read(string of, string text)
    {
        var isIke = of switch
        {
            "IKE" => true,
            "ESP" => false,
            _ => throw ProblemException.Field("of", $"'{Typed.Short(of)}' is neither IKE nor ESP", "IKE or ESP"),
        };
        if (text.Length > 1000)
            throw ProblemException.Field("text", "it is longer than 1,000 characters", "proposals, one or several");
        var read = isIke ? Cells.IkeProposals(text) : Cells.EspProposals(text).To(p => p.Proposals);
        return read.Ok
            ? new([.. read.Value.Select(p => ReadOne(isIke, p))], null, null)
            : new([], read.Wrong, read.Right);
    }

    private static ProposalRead ReadOne(bool isIke, string proposal)
    {
        var graded = isIke ? IkeProposal.Parse(proposal).To(Graded.Of) : EspProposal.Parse(proposal).To(Graded.Of);
        if (!graded.Ok)
            return new(proposal, null, null);
        var weak = graded
            .Value.Members.Where(m => m.Word is "SHOULD NOT" or "MUST NOT")
            .Select(m => $"{m.Name} {m.Word} be used ({m.Standard})")
            .ToArray();
        return new(proposal, $"{graded.Value.Bits} bits", weak.Length == 0 ? null : string.Join("; ", weak));
    }

    private static async Task<string> FreeAsync(
        RecordReader reader,
        Scope scope,
        string kind,
        string name,
        string under,
        CancellationToken ct
    )
    {
        var (of, code) = kind switch
        {
            "customers" => (RecordKind.Customer, Letters(name, 3).ToUpperInvariant()),
            "sites" => (
                RecordKind.Site,
                $"{under.ToUpperInvariant()}-{Letters(FirstWord(name), 10).ToUpperInvariant()}"
            ),
            "gateways" => (RecordKind.Gateway, $"{Letters(AfterDash(under), 12).ToLowerInvariant()}-gw"),
            "platforms" => (RecordKind.Platform, Kebab(name, 30)),
            _ => throw ProblemException.Field(
                "of",
                $"no code is suggested for '{Typed.Short(kind)}'",
                "customers, sites, gateways or platforms"
            ),
        };
        // Among those that the asker sees: whether others have one is told when it is taken, and not before.
        for (var number = 1; ; number++)
        {
            var tried = number == 1 ? code : $"{code}{number}";
            var taken = of switch
            {
                RecordKind.Customer => await reader.ByCodeAsync<Customer>(scope, of, tried, ct) is not null,
                RecordKind.Site => await reader.ByCodeAsync<Site>(scope, of, tried, ct) is not null,
                RecordKind.Platform => await reader.ByCodeAsync<Platform>(Scope.Everything, of, $"{tried}@1", ct)
                    is not null,
                _ => await reader.ByCodeAsync<Gateway>(scope, of, tried, ct) is not null,
            };
            if (!taken)
                return tried;
        }
    }

    private static string FirstWord(string name) =>
        name.Split(' ', StringSplitOptions.RemoveEmptyEntries).FirstOrDefault() ?? "";

    private static string Kebab(string name, int most)
    {
        var words = name.ToLowerInvariant()
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(w => new string([.. w.Where(char.IsAsciiLetterOrDigit)]))
            .Where(w => w.Length > 0);
        var code = string.Join('-', words);
        return code.Length == 0 ? "new" : code[..Math.Min(code.Length, most)].TrimEnd('-');
    }

    private static string AfterDash(string code) => code[(code.IndexOf('-') + 1)..];

    private static string Letters(string text, int most) =>
        new string([.. text.Where(char.IsAsciiLetterOrDigit).Take(most)]) is { Length: > 0 } letters ? letters : "new";
}
