namespace Vellumkeep.Exchange.Sheets;

/// <summary>
/// What a column of a sheet can hold. A field with an end is written <c>a.subnets</c> or <c>b.subnets</c>; without one
/// it belongs to the end that the row is of.
/// </summary>
public sealed record SheetField(string Key, string About)
{
    /// <summary>Every field, in the order in which they are offered.</summary>
    public static readonly ImmutableArray<SheetField> All =
    [
        new("tunnel", "code or name of the tunnel"),
        new("customer", "code or name of the customer"),
        new("end", "A or B, where each end has a row of its own"),
        .. new[]
        {
            ("site", "name of the site"),
            ("gateway", "name of the device"),
            ("platform", "make and model"),
            ("outer", "outer address, a name, or dynamic"),
            ("subnets", "protected subnets"),
            ("identity", "identity it sends"),
        }.SelectMany(f =>
            new[]
            {
                new SheetField($"a.{f.Item1}", $"{f.Item2}, end A"),
                new SheetField($"b.{f.Item1}", $"{f.Item2}, end B"),
                new SheetField(f.Item1, $"{f.Item2}, of the row's end"),
            }
        ),
        new("ikeVersion", "IKEv1 or IKEv2"),
        new("mode", "main or aggressive"),
        new("ikeProposal", "IKE (phase 1) proposals"),
        new("ikeEncryption", "encryption of IKE (phase 1), where each algorithm has a column"),
        new("ikeHash", "hash or PRF of IKE (phase 1), where each algorithm has a column"),
        new("ikeDhGroup", "DH group of IKE (phase 1), where each algorithm has a column"),
        new("ikeLifetime", "IKE lifetime"),
        new("espProposal", "ESP (phase 2) proposals"),
        new("espEncryption", "encryption of ESP (phase 2), where each algorithm has a column"),
        new("espHash", "integrity of ESP (phase 2), where each algorithm has a column"),
        new("espLifetime", "ESP lifetime"),
        new("pfs", "PFS group, yes or no"),
        new("authentication", "PSK or certificate"),
        new("state", "state of the tunnel"),
        new("contact", "contact person"),
        new("notes", "anything else"),
        new("key", "a key: never read"),
        new("nothing", "left out"),
    ];
}
