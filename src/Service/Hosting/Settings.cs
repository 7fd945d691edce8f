namespace Vellumkeep.Service.Hosting;

/// <summary>How the service is started: on the command line (--data, --postgres, --demo, --clock), in the environment or in appsettings.json, under <c>Vellumkeep</c>.</summary>
public sealed class ServiceSettings
{
    /// <summary>The folder of the SQLite database and of the keys that protect cookies.</summary>
    public string Data { get; set; } = "data";

    /// <summary>The folder of the keys under which secrets are sealed; <c>sealing</c> beside the data when empty. Keep it apart from backups of the database.</summary>
    public string? Sealing { get; set; }

    /// <summary>The code of the customer record that is the house itself: its freezes hold for every change.</summary>
    public string? House { get; set; }

    /// <summary>Within how many hours urgent work is reviewed afterwards; 1 to 720.</summary>
    public int ReviewWithinHours { get; set; } = 24;

    /// <summary>A PostgreSQL connection string; SQLite when empty.</summary>
    public string? Postgres { get; set; }

    /// <summary>A folder with the demo scenario: loaded into an empty database, with its people.</summary>
    public string? Demo { get; set; }

    /// <summary>A moment (ISO 8601) at which the clock stands still, for pictures. Only together with the demo.</summary>
    public string? Clock { get; set; }
}

/// <summary>A clock that stands still.</summary>
public sealed class StandingClock(DateTimeOffset at) : TimeProvider
{
    public override DateTimeOffset GetUtcNow() => at;
}
