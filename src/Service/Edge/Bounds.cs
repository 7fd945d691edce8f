namespace Vellumkeep.Service.Edge;

/// <summary>How much one call may bring. What is larger is refused at the edge, before it costs anything.</summary>
public static class Bounds
{
    private const long KiB = 1024,
        MiB = 1024 * 1024;

    /// <summary>Octets of a body, where an endpoint says nothing else.</summary>
    public const long Body = 256 * KiB;

    public const long NoBody = 1 * KiB;

    public const long SignIn = 4 * KiB;

    /// <summary>The form of a record: the largest that its own bounds allow.</summary>
    public const long Record = 1 * MiB;

    /// <summary>A step with a file of 4 MiB in Base64.</summary>
    public const long Proof = 6 * MiB;

    /// <summary>A sheet or keepfile.</summary>
    public const long Import = 16 * MiB;

    /// <summary>Characters of a text in a query or path.</summary>
    public const int QueryText = 1000;

    /// <summary>Characters of a text in a body, where its declaration says nothing else.</summary>
    public const int BodyText = 4000;

    /// <summary>Items of a list in a body.</summary>
    public const int Items = 1000;

    /// <summary>Keys in a path into a record's form; the forms are less than ten deep.</summary>
    public const int PathDepth = 12;

    public const int PathLength = 400;

    /// <summary>Prefixes that one change adds or removes.</summary>
    public const int PrefixesPerChange = 200;

    /// <summary>Tunnels that one change is about, by name.</summary>
    public const int TunnelsPerChange = 200;

    /// <summary>Sites that the page of a customer names; the list of sites goes on.</summary>
    public const int SitesOnPage = 500;

    /// <summary>Due dates and key versions in one answer; what is more is said to be more.</summary>
    public const int MostDue = 2000;

    public const int MostKeys = 5000;

    /// <summary>
    /// Sites, and networks of sites, that one drawing or address plan shows: what is more nobody can read.
    /// </summary>
    public const int Drawn = 500;

    /// <summary>The first and the last moment that may be given.</summary>
    public static readonly DateTimeOffset FirstMoment = new(
        Scalars.FirstDay.ToDateTime(TimeOnly.MinValue),
        TimeSpan.Zero
    );

    public static readonly DateTimeOffset LastMoment = new(
        Scalars.LastDay.ToDateTime(TimeOnly.MinValue),
        TimeSpan.Zero
    );
}
