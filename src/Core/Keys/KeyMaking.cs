using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Core.Keys;

/// <summary>Where a version of a key stands.</summary>
public enum KeyState
{
    /// <summary>It is made and not in use yet.</summary>
    Prepared,

    /// <summary>It is in use.</summary>
    InUse,

    /// <summary>Another is in use, and it may still be held.</summary>
    Superseded,

    /// <summary>No end holds it any more.</summary>
    Withdrawn,
}

/// <summary>A pre-shared key that was made, and how much of it cannot be guessed, in bits.</summary>
/// <param name="Text">The key, as it is entered on a device.</param>
/// <param name="Bits">How much of it cannot be guessed.</param>
public sealed record MadeKey(string Text, int Bits)
{
    /// <summary>In groups of four, for reading aloud; the blanks are not part of it.</summary>
    public string Grouped => string.Join(' ', Text.Chunk(4).Select(c => new string(c)));
}

/// <summary>Making pre-shared keys, and findingText without saying them whether two people hold the same.</summary>
public static class KeyMaking
{
    /// <summary>The words of the states.</summary>
    public static readonly Words<KeyState> States = new(
        "a state of a key",
        (KeyState.Prepared, "prepared"),
        (KeyState.InUse, "in use"),
        (KeyState.Superseded, "superseded"),
        (KeyState.Withdrawn, "withdrawn")
    );

    /// <summary>The least that a key is worth, in bits: NIST SP 800-57 part 1 section 5.6.1, beyond 2030.</summary>
    public const int LeastBits = 128;

    /// <summary>Small letters and digits without look-alikes: no i, l, o, 0, 1.</summary>
    public const string Alphabet = "abcdefghjkmnpqrstuvwxyz23456789";

    /// <summary>
    /// Makes a key of at least <paramref name="bits"/> and never fewer than <see cref="LeastBits"/> bits within the
    /// limits of every platform; where the limits leave less than is requested for, as much as they leave.
    /// </summary>
    /// <param name="limits">What the platforms take.</param>
    /// <param name="bits">The strength of the strongest algorithm that it authenticates.</param>
    /// <param name="random">A number from 0 to below its argument, each as likely, from a cryptographic source.</param>
    public static Parsed<MadeKey> Make(IReadOnlyCollection<KeyLimits> limits, int bits, Func<int, int>? random = null)
    {
        random ??= RandomNumberGenerator.GetInt32;
        var refused = string.Concat(limits.Select(l => l.Refused));
        var letters = Alphabet.Where(c => !refused.Contains(c)).ToArray();
        var (least, most) = (limits.Max(l => l.Shortest) ?? 1, limits.Min(l => l.Longest) ?? 128);
        var each = Math.Log2(Math.Max(letters.Length, 1));
        var length = Math.Clamp((int)Math.Ceiling(Math.Max(bits, LeastBits) / each), least, Math.Max(least, most));
        if (least > most)
            return Parsed<MadeKey>.Fail(
                $"no length fits both platforms: one needs at least {least} characters, the other accepts at most {most}",
                "a certificate, or another platform"
            );
        if (length * each < LeastBits)
            return Parsed<MadeKey>.Fail(
                $"{most} characters of {letters.Length} kinds have {(int)(most * each)} bits, fewer than {LeastBits}",
                "a certificate, or another platform"
            );
        return Parsed<MadeKey>.Of(
            new(
                new([.. Enumerable.Range(0, length).Select(_ => letters[random(letters.Length)])]),
                (int)(length * each)
            )
        );
    }

    /// <summary>
    /// The check code of a key on a tunnel: the first 40 bits of HMAC-SHA-256 (RFC 2104) keyed by the key, over the
    /// tunnel's code and the version, in two groups of four letters. Different for each tunnel, so that it does not
    /// tell that two share a key.
    /// </summary>
    public static string CheckCode(string key, string tunnelCode, int version)
    {
        var mac = HMACSHA256.HashData(
            Encoding.UTF8.GetBytes(key),
            Encoding.UTF8.GetBytes(
                $"vellumkeep check code\n{tunnelCode.ToUpperInvariant()}\n{version.ToString(CultureInfo.InvariantCulture)}"
            )
        );
        const string letters = "abcdefghjkmnpqrstuvwxyz234567890";
        ulong value = 0;
        for (var i = 0; i < 5; i++)
            value = (value << 8) | mac[i];
        var text = new char[9];
        for (int i = 0, at = 0; i < 8; i++)
        {
            if (i == 4)
                text[at++] = '-';
            text[at++] = letters[(int)((value >> (35 - (5 * i))) & 31)];
        }

        return new(text);
    }
}
