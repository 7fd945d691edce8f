namespace Vellumkeep.Core.Records;

/// <summary>What is entered as the peer's address: an address, a name, or any.</summary>
/// <param name="Address">The address; null when it is a name or any.</param>
/// <param name="Name">The name; null when it is an address or any.</param>
public sealed record PeerAddress(Address? Address, string? Name)
{
    /// <summary>Whatever address it comes from.</summary>
    public static readonly PeerAddress Any = new(null, null);

    /// <summary>Whether any address will do.</summary>
    public bool IsAny => Address is null && Name is null;

    /// <summary>Reads an address, a name, or <c>any</c>.</summary>
    public static Parsed<PeerAddress> Parse(string text)
    {
        if (text.Equals("any", StringComparison.OrdinalIgnoreCase))
            return Parsed<PeerAddress>.Of(Any);
        if (IsName(text))
            return Parsed<PeerAddress>.Of(new(null, text.ToLowerInvariant()));
        var address = Addressing.Address.Parse(text);
        return address.Ok
            ? Parsed<PeerAddress>.Of(new(address.Value, null))
            : Parsed<PeerAddress>.Fail(
                $"'{Typed.Short(text)}' is not a peer address",
                "an address such as 203.0.113.77, a name such as ashlow.brindle.example, or any"
            );
    }

    /// <summary>Reads an address or a name; <c>any</c> is no one address.</summary>
    public static Parsed<PeerAddress> ParseOne(string text)
    {
        var read = Parse(text);
        return read is { Ok: true, Value.IsAny: true }
            ? Parsed<PeerAddress>.Fail("'any' is not one of several peer addresses", "an address or a name")
            : read;
    }

    /// <summary>Whether an uplink is known by it.</summary>
    public bool Names(Uplink uplink) =>
        (Address is { } at && uplink.Outer == at) || (Name is { } name && uplink.Address.Value?.Name == name);

    private static bool IsName(string text) =>
        text.Any(char.IsLetter)
        && !text.Contains(':')
        && text.Contains('.')
        && text.All(c => char.IsAsciiLetterOrDigit(c) || c is '.' or '-');

    /// <inheritdoc/>
    public override string ToString() => Address?.ToString() ?? Name ?? "any";
}
