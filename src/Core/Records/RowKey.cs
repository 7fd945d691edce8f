namespace Vellumkeep.Core.Records;

/// <summary>What a row of a comparison is about.</summary>
public enum RowSubject
{
    /// <summary>A setting.</summary>
    Setting,

    /// <summary>The outer address of one end, and what the other has entered as peer address.</summary>
    Address,

    /// <summary>The identity that one end sends, and what the other expects.</summary>
    Identity,

    /// <summary>The subnets behind one end, as each end has entered them.</summary>
    Subnets,

    /// <summary>The key versions that an end holds.</summary>
    KeyHeld,

    /// <summary>The address that a pre-shared key is entered for.</summary>
    KeyFor,

    /// <summary>Firewall rules.</summary>
    Rules,

    /// <summary>No-NAT rules.</summary>
    NoNat,

    /// <summary>Routes.</summary>
    Routes,

    /// <summary>The addresses of the tunnel interfaces.</summary>
    TunnelAddress,

    /// <summary>Key versions each way, entered as the other end has them the other way round.</summary>
    KeysMirrored,

    /// <summary>The trust anchors of an end.</summary>
    Anchors,

    /// <summary>The days between which a certificate is valid.</summary>
    CertificateDates,

    /// <summary>The key usage of a certificate.</summary>
    CertificateUsage,

    /// <summary>The names in a certificate.</summary>
    CertificateName,
}

/// <summary>
/// Which row of a comparison something belongs to, or which value of an end a fix sets. There is one of each; it is
/// read from its text where somebody types it, and nowhere else.
/// </summary>
public sealed class RowKey
{
    private RowKey(string text, RowSubject subject, EndName? owner = null, Setting? setting = null) =>
        (Text, Subject, Owner, Setting) = (text, subject, owner, setting);

    /// <summary>What it is called in files, in JSON and at the command.</summary>
    public string Text { get; }

    /// <summary>What it is about.</summary>
    public RowSubject Subject { get; }

    /// <summary>The end that an address, an identity or subnets belong to; null for every other row.</summary>
    public EndName? Owner { get; }

    /// <summary>The setting; null for a row of anything else.</summary>
    public Setting? Setting { get; }

    /// <summary>The key versions that the ends hold.</summary>
    public static readonly RowKey KeyHeld = new("keyHeld", RowSubject.KeyHeld);

    /// <summary>The address that a pre-shared key is entered for.</summary>
    public static readonly RowKey KeyFor = new("keyFor", RowSubject.KeyFor);

    /// <summary>Firewall rules.</summary>
    public static readonly RowKey Rules = new("rules", RowSubject.Rules);

    /// <summary>No-NAT rules.</summary>
    public static readonly RowKey NoNat = new("noNat", RowSubject.NoNat);

    /// <summary>Routes.</summary>
    public static readonly RowKey Routes = new("routes", RowSubject.Routes);

    /// <summary>The addresses of the tunnel interfaces.</summary>
    public static readonly RowKey TunnelAddress = new("tunnelAddress", RowSubject.TunnelAddress);

    /// <summary>Key versions each way, as the other end has them the other way round.</summary>
    public static readonly RowKey KeysMirrored = new("keysMirrored", RowSubject.KeysMirrored);

    /// <summary>The trust anchors of an end.</summary>
    public static readonly RowKey Anchors = new("anchors", RowSubject.Anchors);

    /// <summary>The days between which a certificate is valid.</summary>
    public static readonly RowKey CertificateDates = new("certificateDates", RowSubject.CertificateDates);

    /// <summary>The key usage of a certificate.</summary>
    public static readonly RowKey CertificateUsage = new("certificateUsage", RowSubject.CertificateUsage);

    /// <summary>The names in a certificate.</summary>
    public static readonly RowKey CertificateName = new("certificateName", RowSubject.CertificateName);

    private static readonly RowKey[] Addresses = OfEnds("addressOf", RowSubject.Address);
    private static readonly RowKey[] Identities = OfEnds("identityOf", RowSubject.Identity);
    private static readonly RowKey[] SubnetsBehind = OfEnds("subnetsOf", RowSubject.Subnets);

    private static readonly ImmutableDictionary<string, RowKey> OfSettings = Settings.All.ToImmutableDictionary(
        s => s.Key,
        s => new RowKey(s.Key, RowSubject.Setting, setting: s)
    );

    /// <summary>Every row that can be confirmed or corrected, in the order in which they are named.</summary>
    public static readonly ImmutableArray<RowKey> Confirmable =
    [
        .. Addresses,
        .. Identities,
        .. SubnetsBehind,
        Rules,
        NoNat,
        Routes,
        .. Settings.All.Select(s => OfSettings[s.Key]),
    ];

    private static readonly ImmutableDictionary<string, RowKey> Known = Confirmable
        .Concat([KeyHeld, KeyFor, TunnelAddress])
        .Concat([KeysMirrored, Anchors, CertificateDates, CertificateUsage, CertificateName])
        .ToImmutableDictionary(r => r.Text, StringComparer.OrdinalIgnoreCase);

    /// <summary>The outer address of an end.</summary>
    public static RowKey AddressOf(EndName end) => Addresses[(int)end];

    /// <summary>The identity that an end sends.</summary>
    public static RowKey IdentityOf(EndName end) => Identities[(int)end];

    /// <summary>The subnets behind an end.</summary>
    public static RowKey SubnetsOf(EndName end) => SubnetsBehind[(int)end];

    /// <summary>The row of a setting.</summary>
    public static RowKey Of(Setting setting) => OfSettings[setting.Key];

    /// <summary>The row of a setting.</summary>
    public static implicit operator RowKey(Setting setting) => Of(setting);

    /// <summary>The row that a text names, whatever its case; null when there is none.</summary>
    public static RowKey? Find(string? text) => text is null ? null : Known.GetValueOrDefault(text);

    /// <inheritdoc/>
    public override string ToString() => Text;

    private static RowKey[] OfEnds(string text, RowSubject subject) =>
        [.. Enum.GetValues<EndName>().Select(end => new RowKey($"{text}{end}", subject, end))];
}
