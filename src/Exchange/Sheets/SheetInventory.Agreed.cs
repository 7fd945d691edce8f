namespace Vellumkeep.Exchange.Sheets;

public sealed partial class SheetInventory
{
    /// <summary>What the row or the two rows of a tunnel say of its settings: of both ends, of A alone, of B alone.</summary>
    private static (MapWriter Agreed, MapWriter OnA, MapWriter OnB) Said(
        Dictionary<string, Node> first,
        Dictionary<string, Node>? second
    )
    {
        var agreed = new MapWriter();
        var (onA, onB) = (new MapWriter(), new MapWriter());
        foreach (var key in first.Keys.Union(second?.Keys ?? Enumerable.Empty<string>()))
        {
            var (x, y) = (first.GetValueOrDefault(key), second?.GetValueOrDefault(key));
            // Where the two rows say different things, that is what each end has.
            if (x is not null && y is not null && !Node.Same(x, y))
                (onA, onB) = (onA.Add(key, x), onB.Add(key, y));
            else
                agreed.Add(key, x ?? y);
        }

        return (agreed, onA, onB);
    }

    /// <summary>The pairs that are wanted, where the lists leave no choice of them.</summary>
    /// <returns>Whether they do.</returns>
    private bool Pairs(MapWriter agreed, int row, string code, Prefix[] local, Prefix[] remote)
    {
        var plain = local.Length == 1 || remote.Length == 1;
        if (plain)
            agreed.List(
                "pairs",
                local.SelectMany(x => remote.Where(y => y.Family == x.Family).Select(y => (x, y))),
                p => new MapWriter().Add("a", p.x.ToString()).Add("b", p.y.ToString()).Done()
            );
        else if (local.Length > 1 && remote.Length > 1)
            notes.Add(
                new(
                    row + 1,
                    null,
                    $"Row {row + 1}, {code}: {local.Length} subnets at A and {remote.Length} at B; the sheet does "
                        + $"not say which pairs are wanted. Both lists were imported as entered. Enter the wanted "
                        + $"pairs on the tunnel's page"
                )
            );
        return plain;
    }
}
