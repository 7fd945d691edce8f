using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Imports;

/// <summary>Keepfiles in and out. An import replaces whole records that the file contains and leaves the rest; all or nothing.</summary>
public sealed class Importing(Databases databases, Keeper keeper)
{
    public Task<ImportOutcome> ImportAsync(Asker asker, DateTimeOffset now, string text, bool dryRun, string? reason, CancellationToken ct, IProgress<Progressed>? progress = null) =>
        ImportAsync(asker, now, (names, gatewayById, newId) => Keepfile.Read(text, names, gatewayById, newId), dryRun, reason, ct, progress);

    /// <summary>Imports what <paramref name="file"/> reads, given the codes that are there, their gateways, and a way to make ids.</summary>
    public async Task<ImportOutcome> ImportAsync(Asker asker, DateTimeOffset now, Func<CodeNames, Func<string, Gateway?>, Func<string>, KeepfileRead> file, bool dryRun, string? reason, CancellationToken ct, IProgress<Progressed>? progress = null)
    {
        progress?.Report(new("lines read", 0, 0));
        var wrote = await keeper.WriteAsync(new(asker.Name, now, "import", string.IsNullOrWhiteSpace(reason) ? null : reason.Trim()), async (writing, reader) =>
        {
            var names = await reader.CodesAsync(Scope.Everything, ct);
            var gateways = new Dictionary<string, Gateway?>();
            var read = file(names, id => gateways.TryGetValue(id, out var g) ? g : gateways[id] = reader.ByIdAsync<Gateway>(Scope.Everything, id, ct).GetAwaiter().GetResult()?.Record, writing.NewId);
            if (!read.Problems.IsEmpty)
                throw Refuse(read.Problems);

            // Whose a gateway is says its site, in the file or kept.
            var owners = read.Records.OfType<Site>().ToDictionary(s => s.Id, s => (string?)s.CustomerId);
            async Task<string?> OwnerOfSite(string id) => owners.TryGetValue(id, out var known) ? known : owners[id] = (await reader.ByIdAsync<Site>(Scope.Everything, id, ct))?.Record.CustomerId;
            var added = new List<RecordName>();
            var changed = new List<ChangedRecord>();
            var left = 0;
            var behaviour = new List<string>();
            foreach (var record in read.Records)
            {
                var owner = record is Gateway g ? await OwnerOfSite(g.SiteId) : await Records.RecordWork.OwnerOf(record, reader, ct);
                if (writing.Made(record.Id) || await reader.ByIdAsync<IRecord>(Scope.Everything, record.Id, ct) is not { } kept)
                {
                    asker.Need(Role.Engineer, owner, record.Code);
                    added.Add(new(record.Kind.Word(), record.Code, NameOf(record)));
                    writing.Put(record, 0);
                    continue;
                }

                var moved = Edits.Between(RecordBody.Form(kept.Record), RecordBody.Form(record));
                if (moved.IsEmpty)
                {
                    left++;
                    continue;
                }

                asker.Need(Role.Engineer, owner, record.Code);
                changed.Add(new(record.Kind.Word(), record.Code, [.. moved.Select(m => new Difference(m.Path, Wordings.Text(m.Before, m.Path, names), Wordings.Text(m.After, m.Path, names)))]));
                if (!Behaviour.Altered(record.Kind, RecordBody.Form(kept.Record), RecordBody.Form(record)).IsEmpty)
                    behaviour.Add(record.Code);
                writing.Put(record, kept.Version);
            }

            if (behaviour.Count > 0 && !dryRun && string.IsNullOrWhiteSpace(reason))
                throw ProblemException.Field("reason", $"the file alters how {Say.And(behaviour.Take(4))}{(behaviour.Count > 4 ? $" and {behaviour.Count - 4} more" : "")} behave{(behaviour.Count == 1 ? "s" : "")}, so that it counts as a correction", "give a reason (--reason), such as: the devices have always had this");
            return (added, changed, left, names);
        }, ct, keep: !dryRun, progress);

        var codes = wrote.Result.names;
        var shown = wrote.Moves.Where(m => m.Finding.Severity != Severity.Note).Select(m => (m.Added, Shown: new ImportFinding(codes.TextOf(RecordKind.Tunnel, m.TunnelId), m.Finding.Code, Severities.Words.Of(m.Finding.Severity), m.Finding.What.Show(asker.Scope.Sees)))).ToArray();
        return new(dryRun, wrote.Result.added, wrote.Result.changed, wrote.Result.left, [.. shown.Where(s => s.Added).Select(s => s.Shown)], [.. shown.Where(s => !s.Added).Select(s => s.Shown)]);
    }

    public async Task<string> ExportAsync(Asker asker, DateTimeOffset now, string? customerCode, CancellationToken ct)
    {
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        var records = await reader.AllAsync(asker.Scope, ct);
        var names = await reader.CodesAsync(Scope.Everything, ct);
        if (customerCode is not null)
        {
            var customer = records.OfType<Customer>().FirstOrDefault(c => c.Code.Equals(customerCode, StringComparison.OrdinalIgnoreCase)) ?? throw ProblemException.NotFound("customer", customerCode);
            var tunnels = records.OfType<Tunnel>().Where(t => t.CustomerId == customer.Id).ToArray();
            // With the customer's tunnels goes everything they refer to, so that the file stands on its own.
            var gateways = records.OfType<Gateway>().Where(g => tunnels.Any(t => t.A.GatewayId == g.Id || t.B.GatewayId == g.Id)).ToArray();
            var sites = records.OfType<Site>().Where(s => s.CustomerId == customer.Id || gateways.Any(g => g.SiteId == s.Id)).ToArray();
            records =
            [
                .. records.OfType<Customer>().Where(c => c.Id == customer.Id || sites.Any(s => s.CustomerId == c.Id)),
                .. records.OfType<Platform>().Where(p => gateways.Any(g => g.PlatformId == p.Id)),
                .. records.OfType<Suite>().Where(s => tunnels.Any(t => t.Agreed.SuiteId == s.Id)),
                .. sites, .. gateways, .. tunnels, .. records.OfType<Offer>().Where(o => o.CustomerId == customer.Id),
            ];
        }

        if (!asker.Scope.All)
        {
            // Suites and platform profiles are the house's; who sees some customers only gets those that they use, because a suite's name may tell of another.
            records = [.. records.Where(r => r is not (Suite or Platform)
                || records.OfType<Tunnel>().Any(t => t.Agreed.SuiteId == r.Id) || records.OfType<Gateway>().Any(g => g.PlatformId == r.Id))];
        }

        return Keepfile.Write(records, names, DateOnly.FromDateTime(now.UtcDateTime));
    }

    private static ProblemException Refuse(ImmutableArray<Problem> problems)
    {
        var first = problems[0];
        var codes = problems.Where(p => p.Wrong.Contains("(ADR-01)", StringComparison.Ordinal)).Select(_ => "ADR-01").Distinct().ToArray();
        return new ProblemException(422, "unreadable-file", "The file was not taken",
            $"Line {first.Line}, {first.Field}: {first.Wrong}. Right would be: {first.Right}.{(problems.Length > 1 ? $" {problems.Length - 1} more below." : "")} Nothing was changed.")
            .With("field", first.Field).With("problems", problems.Take(200).Select(p => new FieldProblem(p.Field, p.Line, p.Wrong, p.Right))).With("count", problems.Length).With("findings", codes);
    }

    private static string NameOf(IRecord record) => record switch
    {
        Customer c => c.Name,
        Site s => s.Name,
        Tunnel t => t.Name,
        Platform p => p.Title,
        Suite s => s.About ?? "",
        Offer o => o.Name,
        _ => "",
    };
}
