namespace Vellumkeep.Storage.Rows;

/// <summary>
/// A version of a tunnel's pre-shared key: encrypted, with what may be known about it. Never part of a record, a
/// history difference or an export.
/// </summary>
public sealed class KeyRow
{
    public required string TunnelId { get; set; }

    public int Version { get; set; }

    /// <summary>prepared, in use, superseded, withdrawn.</summary>
    public required string State { get; set; }

    public required byte[] Ciphertext { get; set; }

    /// <summary>The encryption key it is under.</summary>
    public required string Under { get; set; }

    public required string CheckCode { get; set; }

    public int Bits { get; set; }

    public int Length { get; set; }

    public required string MadeBy { get; set; }

    public required string MadeAt { get; set; }

    public string? ChangeId { get; set; }
}

/// <summary>A file kept as proof of a step. The change's record holds its name, size and digest.</summary>
public sealed class ProofFileRow
{
    public required string ChangeId { get; set; }

    /// <summary>SHA-256, in lower-case hexadecimal.</summary>
    public required string Digest { get; set; }

    public required byte[] Bytes { get; set; }
}

/// <summary>That somebody was shown a key: who, when, why, and from where. Never altered.</summary>
public sealed class KeyViewRow
{
    public long Id { get; set; }

    public required string TunnelId { get; set; }

    public int Version { get; set; }

    public required string Who { get; set; }

    public required string At { get; set; }

    public required string Why { get; set; }

    public required string From { get; set; }
}
