using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>Where an address is, and what is free.</summary>
public sealed partial class KeepClient
{
    /// <summary>
    /// What contains or overlaps <paramref name="asked"/>; or, with <paramref name="free"/>, what of
    /// <paramref name="length"/> is free within it.
    /// </summary>
    public Task<AddressResult> AddressesAsync(
        string? asked,
        string? free,
        int? length,
        string? customer,
        CancellationToken ct
    ) =>
        GetAsync<AddressResult>(
            "addresses"
                + Query(
                    ("q", asked),
                    ("free", free),
                    ("length", length?.ToString(System.Globalization.CultureInfo.InvariantCulture)),
                    ("customer", customer)
                ),
            ct
        );
}
