namespace Vellumkeep.Service.Keys;

/// <summary>The versions of pre-shared keys of every tunnel, never the keys.</summary>
public static class KeyListEndpoints
{
    /// <summary>Months after which a key should be replaced. No standard sets it: it is our own measure.</summary>
    private const int MonthsOfKey = 12;

    public static void MapKeyList(this RouteGroupBuilder api)
    {
        Keys(api);
    }

    private static void Keys(RouteGroupBuilder api) =>
        api.MapGet("/keys", async (string? viewedBy, Databases databases, HttpContext http, CancellationToken ct) =>
            {
                await using var context = databases.Open();
                var keys = await new KeyList(context).KeysAsync(
                    http.Asker().Scope,
                    viewedBy,
                    false,
                    Bounds.MostKeys + 1,
                    ct
                );
                return new KeyListPage([.. keys.Take(Bounds.MostKeys).Select(Line)], keys.Count > Bounds.MostKeys);
            })
            .For(Role.Reader)
            .WithName("listAllKeys")
            .WithSummary("The versions of the keys of all tunnels: age, state, who has viewed them; not the keys");

    private static KeyListLine Line(KeyListed listed) =>
        new()
        {
            Tunnel = listed.Tunnel,
            TunnelName = listed.TunnelName,
            Version = listed.Key.Version,
            State = listed.Key.State,
            Bits = listed.Key.Bits,
            CheckCode = listed.Key.CheckCode,
            MadeBy = listed.Key.MadeBy,
            MadeAt = Days.Moment(listed.Key.MadeAt),
            Due = listed.Key.State == "in use" ? Scalars.Write(DueOf(listed.Key)) : null,
            Change = listed.Change,
            ViewedBy = listed.ViewedBy,
        };

    internal static DateOnly DueOf(KeyRow key) =>
        DateOnly.FromDateTime(Days.Moment(key.MadeAt).UtcDateTime).AddMonths(MonthsOfKey);
}
