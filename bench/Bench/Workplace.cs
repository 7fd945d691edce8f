namespace Vellumkeep.Bench;

/// <summary>Where a run works: the project, the folder of its fleet, and what that fleet is made of.</summary>
/// <param name="Parts">The fleet is this many times smaller than the whole one.</param>
internal sealed record Workplace(string Root, string Folder, int Parts, int Seed)
{
    /// <summary>The day on which the fleet is looked at.</summary>
    public static readonly DateOnly Today = new(2026, 11, 24);

    public string File => Path.Combine(Folder, "vellumkeep.db");

    public Databases Databases => Databases.Sqlite(File);

    public bool Made => System.IO.File.Exists(File);

    /// <summary>The place of a fleet in the project, unless another folder is named.</summary>
    public static Workplace Of(string root, int parts, int seed, string? folder = null) =>
        new(root, folder ?? Path.Combine(root, $".fleet/{parts}-{seed}"), parts, seed);
}

/// <summary>One line of the table: what was measured against what, the ratio, and the times that it is of.</summary>
internal sealed record Ratio(string What, string Of, string Times)
{
    public override string ToString() => $"| {What} | {Of} | {Times} |";
}
