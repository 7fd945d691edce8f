namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>The kinds of change, each with what reads it.</summary>
internal static class RequestReaders
{
    /// <summary>Reads a draft by the reader of its kind.</summary>
    /// <exception cref="ProblemException">Something that was given cannot be read.</exception>
    public static Task<Drafted> ReadAsync(Draft draft, DraftChange given) =>
        given switch
        {
            DraftSubnets g => SubnetsDraft.ReadAsync(draft, g),
            DraftNewTunnel g => NewTunnelDraft.ReadAsync(draft, g),
            DraftRekey g => RekeyDraft.ReadAsync(draft, g),
            DraftStrengthen g => StrengthenDraft.ReadAsync(draft, g),
            DraftPlatform g => PlatformDraft.ReadAsync(draft, g),
            DraftAddress g => AddressDraft.ReadAsync(draft, g),
            DraftRetire g => RetireDraft.ReadAsync(draft, g),
            DraftFree g => FreeDraft.ReadAsync(draft, g),
            _ => throw new ArgumentException($"No reader reads a {given.GetType().Name}.", nameof(given)),
        };
}
