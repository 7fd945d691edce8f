namespace Vellumkeep.Storage.Rows;

/// <summary>A day on which something of a record falls due.</summary>
public sealed class DueRow
{
    public required string RecordId { get; set; }

    /// <summary>
    /// Its word: temporary value, pending value, acceptance, certificate, confirmation, window, review.
    /// </summary>
    public required string Kind { get; set; }

    /// <summary>Where it stands in the written form.</summary>
    public required string Path { get; set; }

    /// <summary>The last day on which it holds, as 2026-11-29.</summary>
    public required string On { get; set; }
}

/// <summary>One commit of the chain: its digest covers the one before it and every body it wrote.</summary>
public sealed class CommitRow
{
    public long Number { get; set; }

    /// <summary>UTC, in the round-trip form, so that both databases order it alike.</summary>
    public required string At { get; set; }

    public required string Who { get; set; }

    public required string Act { get; set; }

    public string? Reason { get; set; }

    public string? ChangeId { get; set; }

    public required string Before { get; set; }

    public required string Digest { get; set; }
}

/// <summary>One version of one record, as it was then. Never altered.</summary>
public sealed class VersionRow
{
    public required string RecordId { get; set; }

    public int Version { get; set; }

    public RecordKind Kind { get; set; }

    public long CommitNumber { get; set; }

    public required byte[] Body { get; set; }

    /// <summary>
    /// Code in upper case, name, state and owner as they were in this version: what a list as it was is made of. Not
    /// part of the digest; the body is.
    /// </summary>
    public string CodeKey { get; set; } = "";

    public string Name { get; set; } = "";

    public string? State { get; set; }

    public string? OwnerId { get; set; }
}

/// <summary>
/// That a version of a record referred to another: for asking what ran through a gateway on a day. Never altered.
/// </summary>
public sealed class VersionLinkRow
{
    public required string ToId { get; set; }

    public required string RecordId { get; set; }

    public int Version { get; set; }
}

/// <summary>
/// A word by which a record is found, in small letters. Field says what it is of it; "around" is a word of what the
/// record refers to.
/// </summary>
public sealed class WordRow
{
    public required string Word { get; set; }

    public required string RecordId { get; set; }

    public required string Field { get; set; }
}

/// <summary>A filter on a list, named and perhaps shared.</summary>
public sealed class SavedFilterRow
{
    public required string Id { get; set; }

    public required string Person { get; set; }

    public required string Name { get; set; }

    /// <summary>The list it is of: tunnels, findings.</summary>
    public required string List { get; set; }

    /// <summary>The filter as the query of an address: <c>customer=BRI&amp;severity=blocks</c>.</summary>
    public required string Filter { get; set; }

    public bool Shared { get; set; }
}

/// <summary>The current version of a record, with what it is found by.</summary>
public sealed class RecordRow
{
    public required string Id { get; set; }

    public RecordKind Kind { get; set; }

    public required string Code { get; set; }

    /// <summary>The code in upper case: unique within the kind.</summary>
    public required string CodeKey { get; set; }

    /// <summary>
    /// The customer whose record it is; null for platform profiles and suites, which are the house's.
    /// </summary>
    public string? OwnerId { get; set; }

    public required string Name { get; set; }

    /// <summary>The state of a tunnel or change, in its word; retired for anything else that is out of use.</summary>
    public string? State { get; set; }

    public int Version { get; set; }

    public long CommitNumber { get; set; }

    public required byte[] Body { get; set; }
}

/// <summary>
/// That one record refers to another: a tunnel's gateways, a gateway's site and platform, the tunnel of a change.
/// </summary>
public sealed class LinkRow
{
    public required string FromId { get; set; }

    public required string ToId { get; set; }

    public required string Role { get; set; }
}

/// <summary>
/// A prefix of a record, for asking what overlaps: addresses as 32 hexadecimal digits, so that they order as text.
/// </summary>
public sealed class PrefixRow
{
    public long Id { get; set; }

    public required string RecordId { get; set; }

    /// <summary>The gateway that sends to it (a tunnel's remote prefix); null for a network of a site.</summary>
    public string? GatewayId { get; set; }

    /// <summary>own, remote or network.</summary>
    public required string Role { get; set; }

    public int Family { get; set; }

    public required string Low { get; set; }

    public required string High { get; set; }
}

/// <summary>That a tunnel uses a shared entry of a gateway.</summary>
public sealed class SharedEntryRow
{
    public required string TunnelId { get; set; }

    public required string GatewayId { get; set; }

    public required string Part { get; set; }
}

/// <summary>
/// A key by which a gateway finds something of a tunnel: its peer entry (an address, a name, any), its tunnel address,
/// its fallback order; or, with <see cref="Held"/> false, the address that it gets packets of the tunnel from.
/// </summary>
public sealed class LookupRow
{
    public required string TunnelId { get; set; }

    public required string GatewayId { get; set; }

    public required string Key { get; set; }

    public bool Held { get; set; }
}

/// <summary>
/// What a list shows of a tunnel without opening it: its verdict, its worst finding, and the words it is found by.
/// </summary>
public sealed class TunnelRow
{
    public required string Id { get; set; }

    /// <summary>0 blocks to 3 note; 4 when nothing was found.</summary>
    public int Worst { get; set; }

    public required byte[] Verdict { get; set; }

    public required string EndA { get; set; }

    public required string EndB { get; set; }

    /// <summary>
    /// The first day on which its findings may differ although no record changed: a deadline, a certificate, an
    /// acceptance; null when there is none.
    /// </summary>
    public string? CheckAgainOn { get; set; }

    /// <summary>The version of the checks that found what is kept.</summary>
    public int CheckedBy { get; set; }
}

/// <summary>A finding as it stands.</summary>
public sealed class FindingRow
{
    public required string TunnelId { get; set; }

    public required string Code { get; set; }

    public required string Subject { get; set; }

    public int Severity { get; set; }

    public required string Digest { get; set; }

    public required string Since { get; set; }

    public required byte[] Body { get; set; }

    /// <summary>Its place among the findings of its tunnel, as the checks give them.</summary>
    public int Place { get; set; }

    /// <summary>
    /// The tunnel's code in upper case, and whose it is: what a list of findings is ordered and narrowed by.
    /// </summary>
    public string CodeKey { get; set; } = "";

    public string OwnerId { get; set; } = "";
}

/// <summary>
/// That a call which carried an idempotency key is being carried out, or was: what it was and what it wrote, never its
/// body, what it was given or what it answered.
/// </summary>
public sealed class AnsweredRow
{
    public required string Person { get; set; }

    public required string Key { get; set; }

    /// <summary>
    /// The call and a keyed digest of what it was given (HMAC-SHA-256 under a key that is not in the database).
    /// </summary>
    public required string Asked { get; set; }

    public required string At { get; set; }

    /// <summary>The status that it ended with; 0 while it is carried out.</summary>
    public int Status { get; set; }

    /// <summary>The last commit that it wrote; null when it wrote none.</summary>
    public long? CommitNumber { get; set; }
}
