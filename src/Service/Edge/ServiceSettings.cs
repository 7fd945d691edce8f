using System.Net;
using System.Net.Sockets;

namespace Vellumkeep.Service.Edge;

/// <summary>
/// How the service is started: on the command line (<see cref="Hosting.ServiceCommand"/>), in the environment or in
/// appsettings.json, under <c>Vellumkeep</c>.
/// </summary>
public sealed class ServiceSettings
{
    /// <summary>The folder of the SQLite database.</summary>
    public string Data { get; set; } = "data";

    /// <summary>
    /// The folder of the keys under which secrets are encrypted at rest; beside the data folder, with <c>-keys</c>
    /// after its name, when empty. Keep it apart from backups of the database.
    /// </summary>
    public string? KeyFolder { get; set; }

    /// <summary>The code of the customer record that is the house itself: its freezes hold for every change.</summary>
    public string? House { get; set; }

    /// <summary>Within how many hours urgent work is reviewed afterwards; 1 to 720.</summary>
    public int ReviewWithinHours { get; set; } = 24;

    /// <summary>
    /// The most records that one import may bring; 100 to 1,000,000. More of them keep other writers waiting for longer
    /// than a second.
    /// </summary>
    public int LargestImport { get; set; } = 200_000;

    /// <summary>A PostgreSQL connection string; SQLite when empty.</summary>
    public string? Postgres { get; set; }

    /// <summary>
    /// The proxies in front of the service, by address or prefix, with commas between; none when empty. What they say
    /// of the caller's address and scheme is believed, and what anybody else says of it is not.
    /// </summary>
    public string? TrustedProxies { get; set; }

    /// <summary>A folder with the demo scenario: loaded into an empty database, with its people.</summary>
    public string? Demo { get; set; }

    /// <summary>
    /// A moment (ISO 8601) at which the clock stands still, for pictures. Only together with the demo.
    /// </summary>
    public string? Clock { get; set; }

    /// <summary>The key folder, given or beside the data.</summary>
    public string Keys =>
        KeyFolder is { Length: > 0 } given
            ? given
            : Path.GetFullPath(Data).TrimEnd(Path.DirectorySeparatorChar) + "-keys";

    /// <summary>The trusted proxies as prefixes; one address is a prefix of its whole length.</summary>
    public IEnumerable<IPNetwork> Proxies => Named(TrustedProxies).Select(p => ProxyOf(p)!.Value);

    private static string[] Named(string? list) =>
        (list ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    private static IPNetwork? ProxyOf(string text) =>
        IPNetwork.TryParse(text, out var network) ? network
        : IPAddress.TryParse(text, out var one)
            ? new IPNetwork(one, one.AddressFamily == AddressFamily.InterNetwork ? 32 : 128)
        : null;

    /// <summary>What is wrong with the settings, in one line with what would be right; null when nothing is.</summary>
    public string? Wrong()
    {
        if (ReviewWithinHours is < 1 or > 720)
            return $"--review-within-hours is {ReviewWithinHours}. Expected: 1 to 720, the time within which urgent "
                + $"work must be reviewed.";
        if (LargestImport is < 100 or > 1_000_000)
            return $"--largest-import is {LargestImport}. Expected: 100 to 1000000 records.";
        if (Named(TrustedProxies).FirstOrDefault(p => ProxyOf(p) is null) is { } proxy)
            return $"--trusted-proxies has '{Typed.Short(proxy)}', which is no address or prefix. Expected: addresses or "
                + $"prefixes with commas between, such as 192.0.2.10,198.51.100.0/28.";
        if (Demo is { Length: > 0 } && !Directory.Exists(Demo))
            return $"--demo is '{Typed.Short(Demo)}', and there is no such folder. Expected: the folder with the demo's files.";
        if (Clock is not { Length: > 0 })
            return null;
        if (Demo is not { Length: > 0 })
            return "A fixed clock is only for the demo. Expected: --demo with --clock, or neither.";
        return Stands is null
            ? $"--clock is '{Typed.Short(Clock)}'. Expected: a moment such as 2026-11-24T08:00:00Z."
            : null;
    }

    /// <summary>The moment at which the clock stands; null when it goes.</summary>
    public DateTimeOffset? Stands =>
        DateTimeOffset.TryParse(Clock, CultureInfo.InvariantCulture, DateTimeStyles.None, out var moment)
            ? moment
            : null;
}

/// <summary>A clock that stands still.</summary>
public sealed class StandingClock(DateTimeOffset at) : TimeProvider
{
    public override DateTimeOffset GetUtcNow() => at;
}
