namespace Vellumkeep.Core.Findings.Pair;

/// <summary>PAIR-17: the same prefix has different names on the two devices.</summary>
public static class NamesDiffer
{
    /// <summary>The same prefix under different names (PAIR-17).</summary>
    public static readonly Check Check = new("PAIR-17", "the same prefix under different names", c =>
        from a in c.View.A.End.PrefixNames
        join b in c.View.B.End.PrefixNames on a.Prefix equals b.Prefix
        where a.Name != b.Name
        select new Finding
        {
            Severity = Severity.Note,
            Subject = a.Prefix.ToString(),
            Pairs = [.. c.View.Tunnel.Agreed.Pairs.Where(p => p.A.Overlaps(a.Prefix) || p.B.Overlaps(a.Prefix))],
            What = $"{a.Prefix} is called {a.Name} at {EndName.A} and {b.Name} at {EndName.B}.",
            Why = $"An engineer who reads both devices cannot see that they are the same prefix.",
            Do = $"Use one name at both ends, by the naming pattern.",
            Evidence =
            [
                new Evidence(EndName.A, "Name", a.Name, c.View.A.Gateway.Code),
                new Evidence(EndName.B, "Name", b.Name, c.View.B.Gateway.Code),
            ],
        }
    );
}
