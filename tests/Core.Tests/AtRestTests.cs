using System.Security.Cryptography;
using Shouldly;
using Vellumkeep.Storage.Writing;
using Xunit;

namespace Vellumkeep.Core.Tests;

public sealed class AtRestTests : IDisposable
{
    private readonly string data = Directory.CreateTempSubdirectory("at-rest-").FullName;
    private readonly string folder;
    private readonly Storage.Databases databases;

    public AtRestTests()
    {
        folder = Path.Combine(data, "keys");
        databases = Storage.Databases.Sqlite(Path.Combine(data, "vellumkeep.db"));
        databases.MigrateAsync(default).GetAwaiter().GetResult();
    }

    public void Dispose() => Directory.Delete(data, true);

    [Fact]
    public void What_is_sealed_opens_only_where_it_belongs_and_only_as_it_was()
    {
        var atRest = new AtRest(folder, databases);
        var (under, closed) = atRest.Encrypt("correct horse", "r1 4");
        atRest.Decrypt(under, closed, "r1 4").ShouldBe("correct horse");
        // The same secret is never encrypted alike, and another row's place does not open it.
        atRest.Encrypt("correct horse", "r1 4").Ciphertext.ShouldNotBe(closed);
        Should.Throw<CryptographicException>(() => atRest.Decrypt(under, closed, "r1 5"));
        for (var i = 0; i < closed.Length; i++)
        {
            var altered = (byte[])closed.Clone();
            altered[i] ^= 1;
            Should.Throw<CryptographicException>(() => atRest.Decrypt(under, altered, "r1 4"));
        }
    }

    [Fact]
    public void A_new_key_encrypts_from_then_on_and_the_old_one_opens_what_it_encrypted()
    {
        var atRest = new AtRest(folder, databases);
        var (first, closed) = atRest.Encrypt("a", "x");
        var second = atRest.NewKey();
        second.ShouldStartWith("0002-");
        atRest.Encrypt("b", "x").Under.ShouldBe(second);
        new AtRest(folder, databases).Decrypt(first, closed, "x").ShouldBe("a");
        var file = Path.Combine(folder, first + ".key");
        if (!OperatingSystem.IsWindows())
            File.GetUnixFileMode(file).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.Delete(file);
        Should
            .Throw<EncryptionKeyMissingException>(() => atRest.Decrypt(first, closed, "x"))
            .Message.ShouldContain("0001-");
    }
}
