using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// The keys under which secrets are sealed: files of 32 random octets in a folder that is not the database, the newest one used for what is sealed from now on.
/// AES-256-GCM (NIST SP 800-38D) with a nonce of 96 bits; what a secret belongs to is authenticated with it, so that it cannot be put in another's place.
/// </summary>
public sealed class Sealing(string folder)
{
    private const int Nonce = 12, Tag = 16;

    /// <summary>The name of the key that is used now; made when there is none.</summary>
    public string Current => Names().LastOrDefault() ?? Renew();

    /// <summary>Makes a new key, which is used from now on; the older ones stay for what they sealed.</summary>
    public string Renew()
    {
        Directory.CreateDirectory(folder);
        var number = Names().Select(n => int.Parse(n, CultureInfo.InvariantCulture)).DefaultIfEmpty(0).Max() + 1;
        var name = number.ToString("0000", CultureInfo.InvariantCulture);
        var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write, Share = FileShare.None };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        using var file = new FileStream(FileOf(name), options);
        file.Write(RandomNumberGenerator.GetBytes(32));
        file.Flush(flushToDisk: true);
        return name;
    }

    /// <param name="belongs">What the secret is of, such as a tunnel and a version.</param>
    public (string Under, byte[] Sealed) Seal(string secret, string belongs)
    {
        var under = Current;
        var plain = Encoding.UTF8.GetBytes(secret);
        var all = new byte[Nonce + plain.Length + Tag];
        RandomNumberGenerator.Fill(all.AsSpan(0, Nonce));
        using var aes = new AesGcm(Read(under), Tag);
        aes.Encrypt(all.AsSpan(0, Nonce), plain, all.AsSpan(Nonce, plain.Length), all.AsSpan(Nonce + plain.Length), Encoding.UTF8.GetBytes(belongs));
        CryptographicOperations.ZeroMemory(plain);
        return (under, all);
    }

    /// <exception cref="SealingKeyMissingException">The key under which it was sealed is not in the folder.</exception>
    /// <exception cref="CryptographicException">It was altered, or put in another's place.</exception>
    public string Open(string under, byte[] all, string belongs)
    {
        var plain = new byte[all.Length - Nonce - Tag];
        using var aes = new AesGcm(Read(under), Tag);
        aes.Decrypt(all.AsSpan(0, Nonce), all.AsSpan(Nonce, plain.Length), all.AsSpan(Nonce + plain.Length), plain, Encoding.UTF8.GetBytes(belongs));
        var text = Encoding.UTF8.GetString(plain);
        CryptographicOperations.ZeroMemory(plain);
        return text;
    }

    private string[] Names() => Directory.Exists(folder) ? [.. Directory.GetFiles(folder, "*.sealing").Select(f => Path.GetFileNameWithoutExtension(f)).Order(StringComparer.Ordinal)] : [];

    private string FileOf(string name) => Path.Combine(folder, name + ".sealing");

    private byte[] Read(string name) => File.Exists(FileOf(name)) && File.ReadAllBytes(FileOf(name)) is { Length: 32 } key ? key : throw new SealingKeyMissingException(name, folder);
}

/// <summary>A secret was sealed under a key that is not there.</summary>
public sealed class SealingKeyMissingException(string name, string folder) : Exception($"The sealing key {name} is not in {folder}. Bring it back from where it is kept, or make new keys for what it sealed.");
