using System.Security.Cryptography;
using Microsoft.AspNetCore.Identity;

namespace Vellumkeep.Service.People;

/// <summary>
/// Passwords: kept as slow hashes, and refused when somebody would guess them. Length counts, not a mixture of signs.
/// </summary>
public sealed class Passwords(ServiceSettings settings)
{
    private const int Shortest = 12,
        Longest = 200;

    /// <summary>
    /// Of a long password only so much is looked at: guessing costs grow with length, and it is long already.
    /// </summary>
    private const int Looked = 60;

    /// <summary>
    /// From 0 (guessed in a thousand tries) to 4 (more than ten thousand million); 3 stands for more than a hundred
    /// million.
    /// </summary>
    private const int LeastScore = 3;

    /// <summary>The passwords of the demo, which are printed and so are refused anywhere else.</summary>
    private const string DemoPasswords = "cold-store-";

    private const string Right = "at least 12 characters that are hard to guess, such as four unrelated words";

    private static readonly PasswordHasher<string> Hasher = new();
    private static readonly string NobodysHash = Hasher.HashPassword("nobody", MakePassword());

    private bool IsDemo => settings.Demo is { Length: > 0 };

    /// <summary>A password that nobody chose: four groups of letters and digits without look-alikes, 98 bits.</summary>
    public static string MakePassword() =>
        string.Join(
            '-',
            Enumerable.Range(0, 4).Select(_ => RandomNumberGenerator.GetString("abcdefghjkmnpqrstuvwxyz23456789", 5))
        );

    /// <summary>
    /// The hash to keep, by PBKDF2 (RFC 8018) with HMAC-SHA-512, a salt of its own and 100,000 rounds.
    /// </summary>
    public static string Hash(string name, string password) => Hasher.HashPassword(name, password);

    /// <summary>
    /// Whether a password is the one whose hash is kept. Without a hash the same work is done and nothing fits, so that
    /// the time tells nothing.
    /// </summary>
    public bool Fits(string name, string? hash, string password)
    {
        var known = hash is { Length: > 0 };
        var fits =
            Hasher.VerifyHashedPassword(name, known ? hash! : NobodysHash, password)
            != PasswordVerificationResult.Failed;
        return fits && known && (IsDemo || !IsOfTheDemo(password));
    }

    /// <summary>
    /// Refuses a password that is too short, common, or made of what everybody knows of the person. The password itself
    /// is never repeated.
    /// </summary>
    public void Need(string name, string display, string password)
    {
        if (Refusal(name, display, password) is { } wrong)
            throw ProblemException.Field(
                "password",
                wrong,
                password.Length > Longest ? $"{Shortest} to {Longest} characters" : Right
            );
    }

    private string? Refusal(string name, string display, string password)
    {
        if (password.Length < Shortest)
            return $"it has {password.Length} characters";
        if (password.Length > Longest)
            return $"it is longer than {Longest} characters";
        if (password.Contains(name, StringComparison.OrdinalIgnoreCase))
            return "it contains the sign-in name";
        if (IsOfTheDemo(password))
            return IsDemo ? null : "it is a demo password, which is published";
        string[] known =
        [
            name,
            .. display.Split(' ', StringSplitOptions.RemoveEmptyEntries),
            "vellumkeep",
            "ipsec",
            "tunnel",
        ];
        var looked = Zxcvbn.Zxcvbn.MatchPassword(password.Length > Looked ? password[..Looked] : password, known);
        return looked.Score < LeastScore
            ? "it is easy to guess: common words, names, years, key sequences or repetitions"
            : null;
    }

    private static bool IsOfTheDemo(string password) =>
        password.StartsWith(DemoPasswords, StringComparison.OrdinalIgnoreCase);
}
