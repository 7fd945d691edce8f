namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-09: another gateway shows the same outer address.</summary>
public static class AddressTwice
{
    /// <summary>Two gateways with one outer address (ADR-09).</summary>
    public static readonly Check Check = new("ADR-09", "two gateways with one outer address", c =>
        c.View.Ends.Where(e => e.Outer is not null)
            .SelectMany(e =>
                c.View.Inventory.At(e.Outer!.Value)
                    .Where(g => g.Id != e.Gateway.Id)
                    .OrderBy(g => g.Code, StringComparer.OrdinalIgnoreCase)
                    .Take(1)
                    .Select(g => new Finding
                    {
                        Severity = Severity.Risk,
                        Subject = e.Name.ToString(),
                        RowKey = RowKey.AddressOf(e.Name),
                        What =
                            $"{e.Gateway.Code} at {e.Name} and another gateway have the same outer address {e.Outer!.Value}.",
                        Why =
                            $"A peer cannot separate two gateways with one address, and in IKEv1 it cannot have a PSK for each.",
                        Do = $"Check which of the two records is wrong, or give each gateway its own address.",
                        Evidence = [new Evidence(e.Name, "Outer address", e.Outer.Value.ToString(), e.Gateway.Code)],
                    })
            )
    );
}
