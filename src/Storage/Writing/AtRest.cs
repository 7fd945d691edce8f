using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// The keys under which secrets are encrypted at rest: files of 32 random octets in a folder that is not the database,
/// the newest one used for what is encrypted from now on. AES-256-GCM (NIST SP 800-38D) with a nonce of 96 bits; what a
/// secret belongs to is authenticated with it, so that it cannot be put in another's place. A key's name is a number
/// and random digits: a folder that comes back never overwrites a key that was made meanwhile.
/// </summary>
public sealed class AtRest(string folder, Databases databases)
{
    private const int Nonce = 12,
        Tag = 16,
        KeyLength = 32;

    private readonly Lock door = new();

    public string Folder { get; } = folder;

    /// <summary>
    /// The names of keys that a pre-shared key in the database is encrypted under, and that are not in the folder. What
    /// protects cookies is made again when it is lost, and people sign in again: nothing of that is missing.
    /// </summary>
    public IReadOnlyList<string> Missing()
    {
        using var context = databases.Open();
        string[] used = [.. context.Keys.Where(k => k.Under != "").Select(k => k.Under).Distinct()];
        return [.. used.Except(Names()).Order(StringComparer.Ordinal)];
    }

    /// <summary>Makes a new key, which is used from now on; the older ones stay for what they encrypted.</summary>
    /// <returns>Its name.</returns>
    public string NewKey()
    {
        lock (door)
        {
            Private.Folder(Folder);
            var number = Names().Concat(Used()).Select(NumberOf).DefaultIfEmpty(0).Max() + 1;
            var name =
                $"{number.ToString("0000", CultureInfo.InvariantCulture)}-"
                + $"{RandomNumberGenerator.GetHexString(8, lowercase: true)}";
            // Written beside and renamed, so that a key is there whole or not at all.
            using (var file = Private.Create(FileOf(name) + ".part"))
            {
                file.Write(RandomNumberGenerator.GetBytes(KeyLength));
                file.Flush(flushToDisk: true);
            }

            File.Move(FileOf(name) + ".part", FileOf(name), overwrite: false);
            return name;
        }
    }

    /// <param name="belongs">What the secret is of, such as a tunnel and a version.</param>
    public (string Under, byte[] Ciphertext) Encrypt(string secret, string belongs)
    {
        var under = Current();
        var plain = Encoding.UTF8.GetBytes(secret);
        var all = new byte[Nonce + plain.Length + Tag];
        RandomNumberGenerator.Fill(all.AsSpan(0, Nonce));
        using var aes = new AesGcm(Read(under), Tag);
        aes.Encrypt(
            all.AsSpan(0, Nonce),
            plain,
            all.AsSpan(Nonce, plain.Length),
            all.AsSpan(Nonce + plain.Length),
            Encoding.UTF8.GetBytes(belongs)
        );
        CryptographicOperations.ZeroMemory(plain);
        return (under, all);
    }

    /// <exception cref="EncryptionKeyMissingException">The key under which it was encrypted is not in the
    /// folder.</exception>
    /// <exception cref="CryptographicException">It was altered, or put in another's place.</exception>
    public string Decrypt(string under, byte[] all, string belongs)
    {
        if (all.Length < Nonce + Tag)
            throw new CryptographicException("It is cut short.");
        var plain = new byte[all.Length - Nonce - Tag];
        using var aes = new AesGcm(Read(under), Tag);
        aes.Decrypt(
            all.AsSpan(0, Nonce),
            all.AsSpan(Nonce, plain.Length),
            all.AsSpan(Nonce + plain.Length),
            plain,
            Encoding.UTF8.GetBytes(belongs)
        );
        var text = Encoding.UTF8.GetString(plain);
        CryptographicOperations.ZeroMemory(plain);
        return text;
    }

    /// <summary>
    /// A digest that nobody can compute who has the database alone: HMAC-SHA-256 (RFC 2104) under a key derived (RFC
    /// 5869) from the oldest of the folder.
    /// </summary>
    public string Mac(byte[] data)
    {
        Current();
        var key = HKDF.DeriveKey(
            HashAlgorithmName.SHA256,
            Read(Names()[0]),
            KeyLength,
            info: "vellumkeep mac"u8.ToArray()
        );
        return Convert.ToHexStringLower(HMACSHA256.HashData(key, data));
    }

    /// <summary>The name of the key that is used now; made when there is none.</summary>
    private string Current()
    {
        lock (door)
            return Names().LastOrDefault() ?? NewKey();
    }

    private string[] Names() =>
        Directory.Exists(Folder)
            ?
            [
                .. Directory
                    .GetFiles(Folder, "*.key")
                    .Select(f => Path.GetFileNameWithoutExtension(f))
                    .OrderBy(NumberOf)
                    .ThenBy(n => n, StringComparer.Ordinal),
            ]
            : [];

    private string[] Used()
    {
        using var context = databases.Open();
        return
        [
            .. context.Keys.Where(k => k.Under != "").Select(k => k.Under).Distinct(),
            .. context.CookieKeys.Select(k => k.Under).Distinct(),
        ];
    }

    private static int NumberOf(string name) =>
        int.TryParse(name.Split('-')[0], NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? number : 0;

    private string FileOf(string name) => Path.Combine(Folder, name + ".key");

    private byte[] Read(string name) =>
        File.Exists(FileOf(name)) && File.ReadAllBytes(FileOf(name)) is { Length: KeyLength } key
            ? key
            : throw new EncryptionKeyMissingException(name, Folder);
}

/// <summary>A secret was encrypted under a key that is not there.</summary>
public sealed class EncryptionKeyMissingException(string name, string folder)
    : Exception(
        $"The key {name} is not in the key folder {folder}. Bring it back from where it is kept, or make new keys "
            + $"for what it encrypted."
    );
