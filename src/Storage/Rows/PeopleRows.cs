namespace Vellumkeep.Storage.Rows;

/// <summary>
/// What signing in needs of a person: projected from the record, and beside it the password's slow hash, which is no
/// part of any record.
/// </summary>
public sealed class PersonRow
{
    public required string Name { get; set; }

    public required string RecordId { get; set; }

    public required string Display { get; set; }

    /// <summary>
    /// The grants in their written form by customer ids, parted by semicolons: <c>reader;engineer for r1-2</c>.
    /// </summary>
    public required string Grants { get; set; }

    /// <summary>Empty until a password is set; nothing fits it then.</summary>
    public string PasswordHash { get; set; } = "";

    /// <summary>The password was given by somebody else and has to be replaced at the first sign-in.</summary>
    public bool MustReplace { get; set; }

    /// <summary>They have left.</summary>
    public bool Disabled { get; set; }
}

/// <summary>
/// Wrong tries to sign in, counted under a key: a name from an address, a name from anywhere, an address for any name.
/// Names that nobody has are counted alike.
/// </summary>
public sealed class SignInTryRow
{
    /// <summary>
    /// What is counted, as a digest: a stranger's typing, which may be a password in the wrong field, is not kept.
    /// </summary>
    public required string Key { get; set; }

    /// <summary>
    /// The counts that a try at one name from one address is counted under as well, so that all of them can be forgiven
    /// together; null for those themselves.
    /// </summary>
    public string? OfName { get; set; }

    public string? OfAddress { get; set; }

    /// <summary>Tries since <see cref="Since"/>, those at the same moment among them.</summary>
    public int Count { get; set; }

    public required string Since { get; set; }
}

/// <summary>An address from which somebody has signed in: strangers elsewhere do not keep them out there.</summary>
public sealed class KnownAddressRow
{
    public required string Person { get; set; }

    public required string Address { get; set; }

    public required string LastAt { get; set; }
}

/// <summary>
/// What happened at the door and around secrets: sign-ins, refusals, exports, backups, showings of keys. Never altered,
/// and never a secret in it. What changes records is in the history.
/// </summary>
public sealed class AuditRow
{
    public long Id { get; set; }

    public required string At { get; set; }

    /// <summary>The sign-in name; for a sign-in that failed, the name of somebody who is here or "unknown".</summary>
    public required string Who { get; set; }

    public required string What { get; set; }

    /// <summary>What it was about: a tunnel's key, a customer's export, a call.</summary>
    public required string About { get; set; }

    /// <summary>done or refused.</summary>
    public required string Outcome { get; set; }

    /// <summary>The address that asked.</summary>
    public required string From { get; set; }
}

/// <summary>A token of a person, kept only as a digest.</summary>
public sealed class TokenRow
{
    public required string Id { get; set; }

    public required string Person { get; set; }

    public required string Name { get; set; }

    public required string Hash { get; set; }

    /// <summary>The most it may do: a role in its word. The person's own roles bind it as well.</summary>
    public string Most { get; set; } = "lead";

    public string MadeAt { get; set; } = "";

    public string? UsedAt { get; set; }

    public required string ExpiresAt { get; set; }
}

/// <summary>Somebody signed in with a browser.</summary>
public sealed class SessionRow
{
    public required string Id { get; set; }

    public required string Person { get; set; }

    public required string BeganAt { get; set; }

    public required string ActiveAt { get; set; }

    /// <summary>The program that asked, as it says of itself, and the address it asked from.</summary>
    public required string From { get; set; }
}

/// <summary>
/// A key that protects cookies, encrypted at rest. In the database, so that a second service on it reads the first
/// one's.
/// </summary>
public sealed class CookieKeyRow
{
    public int Id { get; set; }

    public required string Name { get; set; }

    /// <summary>The key of the key folder that it is encrypted under.</summary>
    public required string Under { get; set; }

    public required byte[] Ciphertext { get; set; }
}
