namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-10: selectors from any to any on a policy-based end draw all traffic in.</summary>
public static class AnyOnPolicy
{
    /// <summary>Any-to-any selectors on a policy-based end (ADR-10).</summary>
    public static readonly Check Check = new("ADR-10", "any-to-any selectors on a policy-based end", c => c.View
            .Tunnel
            .Form != TunnelForm.PolicyBased
            ? []
            : c
                .View.Ends.Where(e =>
                    e.AnyToAny
                    || (
                        e.LocalSubnets.Value?.Items.Any(p => p.IsAny) == true
                        && e.RemoteSubnets.Value?.Items.Any(p => p.IsAny) == true
                    )
                )
                .Select(e => new Finding
                {
                    Severity = Severity.Risk,
                    Subject = e.Name.ToString(),
                    RowKey = RowKey.SubnetsOf(e.Name),
                    What = $"{e.Name} is policy-based and has any-to-any selectors.",
                    Why = $"All traffic that leaves {e.Gateway.Code} matches, and is sent into this tunnel.",
                    Do = $"Enter the wanted pairs, or make the tunnel route-based.",
                    Consequence =
                        $"{e.Name} sends all its traffic into this tunnel: any-to-any selectors on a policy-based end.",
                    Evidence = Checked.Of(c.Row(RowKey.SubnetsOf(e.Name))),
                }));
}
