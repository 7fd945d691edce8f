using Vellumkeep.Core.Changes.Planning;

namespace Vellumkeep.Core.Changes.Playing;

/// <summary>An entry that a step enters, alters or removes on the device of an end.</summary>
/// <param name="Tunnel">The tunnel that it is entered for.</param>
/// <param name="End">The end on whose device it stands.</param>
/// <param name="Entry">The entry, as it stands then, or as it stood where it is removed.</param>
/// <param name="Gone">Whether it is removed.</param>
/// <param name="Later">Whether in the stage in which the old is withdrawn.</param>
internal sealed record DeviceEntry(TunnelStages Tunnel, EndName End, Entry Entry, bool Gone, bool Later);

/// <summary>What a step does on the devices beside its kind: the play knows nothing else of it.</summary>
internal sealed class Deeds
{
    private readonly Dictionary<string, List<DeviceEntry>> entries = [];
    private readonly Dictionary<string, HashSet<string>> clears = [];
    private readonly Dictionary<string, (string TunnelId, EndName End)> certificates = [];

    /// <summary>A step enters or removes something.</summary>
    public void Enter(string stepKey, DeviceEntry entry)
    {
        if (!entries.TryGetValue(stepKey, out var list))
            entries[stepKey] = list = [];
        list.Add(entry);
    }

    /// <summary>A step clears the SAs of a tunnel, so that it negotiates anew.</summary>
    public void Clear(string stepKey, string tunnelId)
    {
        if (!clears.TryGetValue(stepKey, out var list))
            clears[stepKey] = list = [];
        list.Add(tunnelId);
    }

    /// <summary>A step puts another certificate into use at an end.</summary>
    public void UseCertificate(string stepKey, string tunnelId, EndName end) => certificates[stepKey] = (tunnelId, end);

    /// <summary>What a step enters and removes, in order.</summary>
    public IReadOnlyList<DeviceEntry> EntriesOf(string stepKey) => entries.GetValueOrDefault(stepKey, []);

    /// <summary>The tunnels whose SAs a step clears.</summary>
    public IReadOnlyCollection<string> ClearedBy(string stepKey) => clears.GetValueOrDefault(stepKey, []);

    /// <summary>The end at which a step puts another certificate into use; null when it does not.</summary>
    public (string TunnelId, EndName End)? CertificateOf(string stepKey) =>
        certificates.TryGetValue(stepKey, out var at) ? at : null;
}

/// <summary>What an entry is, by what a platform's profile says altering it interrupts.</summary>
internal static class AlteredBy
{
    private static readonly ImmutableHashSet<string> Lifetimes =
    [
        Settings.IkeLifetime.Key,
        Settings.EspLifetime.Key,
        Settings.Reauthentication.Key,
    ];

    public static Altering Of(Entry entry) =>
        entry.Work switch
        {
            Work.Rules or Work.NoNat => Altering.Rules,
            Work.Routes or Work.Discard or Work.Routing => Altering.Routes,
            Work.Interface => Altering.Interface,
            Work.Selectors => Altering.Subnets,
            Work.Key => entry.Versions.IsEmpty ? Altering.Certificate : Altering.Key,
            Work.Proposals => Lifetimes.Contains(entry.Key) ? Altering.Lifetimes : Altering.Proposals,
            Work.Peer => entry.Key switch
            {
                Entry.Sends or Entry.Expects => Altering.Identity,
                Entry.KeyFor => Altering.Key,
                _ => Altering.PeerAddress,
            },
            _ => Altering.Options,
        };
}
