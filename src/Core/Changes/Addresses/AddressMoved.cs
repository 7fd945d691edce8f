namespace Vellumkeep.Core.Changes.Addresses;

/// <summary>An outer address that becomes another.</summary>
/// <param name="Old">What it was; null when nobody knows.</param>
/// <param name="Now">What it becomes.</param>
internal sealed record AddressMoved(Address? Old, Address Now)
{
    /// <summary>The name by which the gateway was known instead of an address; null when it had none.</summary>
    public string? OldName { get; init; }

    /// <summary>Whether a peer entry is for what goes: the address, or the name.</summary>
    public bool IsOld(PeerAddress? peer) => IsOld(peer?.Address) || (OldName is not null && peer?.Name == OldName);

    /// <summary>Whether an address is the one that goes.</summary>
    public bool IsOld(Address? address) => Old is not null && address == Old;

    /// <summary>An identity (RFC 7296 section 3.5) with the address moved, where it is that address.</summary>
    [return: NotNullIfNotNull(nameof(identity))]
    public Identity? In(Identity? identity) =>
        Old is { } old && identity is { Type: IdentityKind.Address } && identity.Value == old.ToString()
            ? Identity.Parse($"address {Now}").Value
            : identity;

    /// <summary>What is recorded of an identity with the address moved: nobody has looked at the new one yet.</summary>
    public Recorded<Identity>? In(Recorded<Identity>? recorded) =>
        recorded?.Value is { } identity && In(identity) is var moved && moved != identity
            ? Recorded<Identity>.Known(moved)
            : recorded;
}
