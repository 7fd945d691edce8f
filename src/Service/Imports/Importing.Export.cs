using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Imports;

/// <summary>Records as a keepfile.</summary>
public sealed partial class Importing
{
    public async Task<string> ExportAsync(Asker asker, DateTimeOffset now, string? customerCode, CancellationToken ct)
    {
        await using var context = databases.Open();
        var reader = new RecordReader(context);
        var records = await reader.AllAsync(asker.Scope, ct);
        var names = await reader.CodesAsync(Scope.Everything, ct);
        if (customerCode is not null)
        {
            var customer = records
                .OfType<Customer>()
                .FirstOrDefault(c => c.Code.Equals(customerCode, StringComparison.OrdinalIgnoreCase))
                ?? throw ProblemException.NotFound(
                    "customer",
                    customerCode,
                    NearCodes.Among(records.OfType<Customer>().Select(c => c.Code), customerCode)
                );
            var tunnels = records.OfType<Tunnel>().Where(t => t.CustomerId == customer.Id).ToArray();
            // With the customer's tunnels goes everything they refer to, so that the file stands on its own.
            var gateways = records
                .OfType<Gateway>()
                .Where(g => tunnels.Any(t => t.A.GatewayId == g.Id || t.B.GatewayId == g.Id))
                .ToArray();
            var sites = records
                .OfType<Site>()
                .Where(s => s.CustomerId == customer.Id || gateways.Any(g => g.SiteId == s.Id))
                .ToArray();
            records =
            [
                .. records.OfType<Customer>().Where(c => c.Id == customer.Id || sites.Any(s => s.CustomerId == c.Id)),
                .. records.OfType<Platform>().Where(p => gateways.Any(g => g.PlatformId == p.Id)),
                .. records.OfType<Suite>().Where(s => tunnels.Any(t => t.Agreed.SuiteId == s.Id)),
                .. sites,
                .. gateways,
                .. tunnels,
                .. records.OfType<Offer>().Where(o => o.CustomerId == customer.Id),
            ];
        }

        if (!asker.Scope.All)
        {
            // Suites and platform profiles are the house's; who sees some customers only gets those that they use,
            // because a suite's name may tell of another.
            records =
            [
                .. records.Where(r =>
                    r is not (Suite or Platform)
                    || records.OfType<Tunnel>().Any(t => t.Agreed.SuiteId == r.Id)
                    || records.OfType<Gateway>().Any(g => g.PlatformId == r.Id)
                ),
            ];
        }

        return Keepfile.Write(records, names, DateOnly.FromDateTime(now.UtcDateTime));
    }
}
