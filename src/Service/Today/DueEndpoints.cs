using Vellumkeep.Service.Keys;

namespace Vellumkeep.Service.Today;

/// <summary>What falls due in the next days, and the age of keys.</summary>
public static class DueEndpoints
{
    private const int MostDays = 366;

    public static void MapDue(this RouteGroupBuilder api)
    {
        Due(api);
    }

    private static void Due(RouteGroupBuilder api) =>
        api.MapGet(
                "/due",
                async (int? days, Databases databases, TimeProvider clock, HttpContext http, CancellationToken ct) =>
                {
                    if (days is < 1 or > MostDays)
                        throw ProblemException.Field("days", $"{days} is out of range", $"1 to {MostDays}");
                    var scope = http.Asker().Scope;
                    var today = DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);
                    var until = today.AddDays(days ?? 90);
                    await using var context = databases.Open();
                    var due = await new DueList(context).DueAsync(scope, today, until, Bounds.MostDue + 1, ct);
                    var keys = await new KeyList(context).KeysAsync(scope, null, true, Bounds.MostDue, ct);
                    DueLine[] all =
                    [
                        .. due.Select(d => new DueLine(
                            d.Kind,
                            d.On,
                            string.CompareOrdinal(d.On, Scalars.Write(today)) < 0,
                            d.Of.Word(),
                            d.Code,
                            d.Name,
                            WhatOf(d)
                        )),
                        .. keys.Select(k => (Key: k, On: KeyListEndpoints.DueOf(k.Key)))
                            .Where(k => k.On <= until)
                            .Select(k => new DueLine(
                                "key",
                                Scalars.Write(k.On),
                                k.On < today,
                                RecordKind.Tunnel.Word(),
                                k.Key.Tunnel,
                                k.Key.TunnelName,
                                $"pre-shared key version {k.Key.Key.Version}"
                            )),
                    ];
                    return new DuePage(
                        Scalars.Write(today),
                        Scalars.Write(until),
                        [
                            .. all.OrderBy(d => d.On, StringComparer.Ordinal)
                                .ThenBy(d => d.Code, StringComparer.OrdinalIgnoreCase)
                                .Take(Bounds.MostDue),
                        ],
                        all.Length > Bounds.MostDue
                    );
                }
            )
            .For(Role.Reader)
            .WithName("due")
            .WithSummary(
                "Keys, certificates, temporary and pending values, acceptances, windows that fall due; days ahead"
            )
            .Refuses(422);

    private static string WhatOf(DueListed due)
    {
        var end = due.Path.Split('.')[0] switch
        {
            "a" => " at A",
            "b" => " at B",
            _ => "",
        };
        var field = due.Path.Split('.')[^1];
        return due.Kind switch
        {
            "window" or "review" => due.Name,
            "acceptance" => "accepted finding",
            "confirmation" => $"oldest confirmation{end}",
            _ => $"{Camel(field)}{end}",
        };
    }

    /// <summary>peerAddress is "peer address".</summary>
    private static string Camel(string key) =>
        string.Concat(
            key.TakeWhile(c => c != '[').Select(c => char.IsUpper(c) ? $" {char.ToLowerInvariant(c)}" : $"{c}")
        );
}
