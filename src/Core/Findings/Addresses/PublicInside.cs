namespace Vellumkeep.Core.Findings.Addresses;

/// <summary>ADR-12: a subnet of a pair is public, and in no network that is recorded as the site's own.</summary>
public static class PublicInside
{
    /// <summary>A subnet is public and nobody says that it is the site's own (ADR-12).</summary>
    public static readonly Check Check = new("ADR-12", "public subnet that may not be the site's own", c =>
        from e in c.View.Ends
        from prefix in c.View.Tunnel.Agreed.Pairs.Select(p => p.On(e.Name)).Distinct()
        where prefix.Length > 0 && !prefix.First.IsPrivate && !IsOwn(e.Gateway, prefix)
        select new Finding
        {
            Severity = Severity.Risk,
            Subject = $"{e.Name}:{prefix}",
            RowKey = RowKey.SubnetsOf(e.Name),
            Pairs = [.. c.View.Tunnel.Agreed.Pairs.Where(p => p.On(e.Name) == prefix)],
            What = $"{prefix} behind {e.Name} is public address space, and {e.Gateway.Code} has no uplink in it.",
            Why =
                $"If it belongs to somebody else, {e.Name.Other()} can no longer reach the real owner, and a packet that "
                + $"misses the tunnel goes there.",
            Do =
                $"Ask {e.Owner.Name:w} whether {prefix} is registered to them. If not, present it as a private prefix.",
            Standard = "RFC 1918",
            Evidence = Checked.Of(c.Row(RowKey.SubnetsOf(e.Name))),
        }
    );

    /// <summary>Whether the gateway is itself connected to it.</summary>
    private static bool IsOwn(Gateway gateway, Prefix prefix) =>
        gateway.Uplinks.Any(u => u.Subnet?.Overlaps(prefix) == true || (u.Outer is { } at && prefix.Contains(at)));
}
