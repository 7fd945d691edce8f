namespace Vellumkeep.Service.Changes;

/// <summary>Outer addresses, each of one gateway alone.</summary>
internal static class OuterAddresses
{
    /// <summary>
    /// Refuses an outer address that another gateway shows, wherever in the fleet; it is named to whoever may see it.
    /// </summary>
    public static async Task<Address> FreeAsync(
        Storage.Writing.Writing writing,
        RecordReader reader,
        Asker asker,
        string field,
        Address address,
        string but,
        CancellationToken ct
    )
    {
        if (await new GatewayList(writing.Read).AtOuterAsync(Scope.Everything, address, ct) is { } id && id != but)
        {
            var there = (await reader.ByIdAsync<Gateway>(asker.Scope, id, ct))?.Record.Code;
            throw ProblemException.Field(
                field,
                $"{address} is the outer address of {there ?? "another customer's gateway"}",
                there is null ? "another address" : $"another address, or correct {there} first"
            );
        }

        return address;
    }
}
