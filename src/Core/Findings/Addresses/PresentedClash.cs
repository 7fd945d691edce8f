namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>
/// ADR-05: a prefix that a network is presented as is in use already, at its own site or at the other.
/// </summary>
public static class PresentedClash
{
    /// <summary>Presented-as prefix clashes (ADR-05).</summary>
    public static readonly Check Check = new("ADR-05", "presented-as prefix clashes", c => c.View.Ends.SelectMany(e =>
            e.Site.Networks.Where(n =>
                    n.PresentedAs is { } shown && c.View.Tunnel.Agreed.Pairs.Any(p => p.On(e.Name).Overlaps(shown))
                )
                .SelectMany(n =>
                    c.View.Ends.SelectMany(side =>
                        side.Site.Networks.Where(o =>
                                o != n
                                && (
                                    o.Prefix.Overlaps(n.PresentedAs!.Value)
                                    || o.PresentedAs?.Overlaps(n.PresentedAs.Value) == true
                                )
                            )
                            .Select(o => new Finding
                            {
                                Severity = Severity.Blocks,
                                Subject = $"{e.Name}:{n.PresentedAs}:{side.Name}:{o.Prefix}",
                                RowKey = RowKey.SubnetsOf(e.Name),
                                Pairs =
                                [
                                    .. c.View.Tunnel.Agreed.Pairs.Where(p =>
                                        p.On(e.Name).Overlaps(n.PresentedAs!.Value)
                                    ),
                                ],
                                What =
                                    $"{n.Name:w} at {e.Name} is presented as {n.PresentedAs!.Value}, which "
                                    + $"{o.Name:w} at {side.Site.Name:w} uses.",
                                Why = $"NAT only shifts the overlap.",
                                Do = $"Present {n.Name:w} as a prefix that neither site uses.",
                                Consequence =
                                    $"{n.Name:w} is presented as {n.PresentedAs.Value}, which {o.Name:w} uses at "
                                    + $"{side.Site.Name:w}.",
                                Evidence =
                                [
                                    new Evidence(
                                        e.Name,
                                        "Presented as",
                                        n.PresentedAs.Value.ToString(),
                                        $"site {e.Site.Code}"
                                    ),
                                    new Evidence(side.Name, o.Name, o.AsPresented.ToString(), $"site {side.Site.Code}"),
                                ],
                            })
                    )
                )
        ));
}
