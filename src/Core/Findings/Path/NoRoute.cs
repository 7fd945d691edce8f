using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-01: route-based ends need a route into the tunnel for every remote subnet.</summary>
public static class NoRoute
{
    /// <summary>No route into the tunnel for a remote subnet (PATH-01).</summary>
    public static readonly Check Check = new("PATH-01", "no route into the tunnel for a remote subnet", c => c.View
            .Tunnel
            .Form != TunnelForm.RouteBased
            ? []
            : c.View.Ends.SelectMany(end =>
                c.Pairs.Where(p => p.At(end.Name).Route == Presence.No)
                    .GroupBy(p => p.Pair.On(end.Name.Other()))
                    .Select(g => new Finding
                    {
                        Severity = Severity.Blocks,
                        Subject = $"{end.Name}:{g.Key}",
                        RowKey = RowKey.Routes,
                        Pairs = [.. g.Select(p => p.Pair)],
                        What =
                            $"{end.Name} has no route into the tunnel for {g.Key} ({c.View.NameOf(end.Name.Other(), g.Key):w}).",
                        Why =
                            $"A route-based end sends only routed prefixes into the tunnel. The rest follows the "
                            + $"default route, unencrypted.",
                        Do = $"Add a route to {g.Key} into the tunnel at {end.Name}.",
                        Consequence =
                            $"{end.Name} sends no traffic for {c.View.NameOf(end.Name.Other(), g.Key):w} into the "
                            + $"tunnel: no route to {g.Key}.",
                        Evidence = Checked.Of(c.Row(RowKey.Routes)),
                    })
            ));
}
