using System.Security.Cryptography;
using Shouldly;
using Vellumkeep.Storage.Writing;
using Xunit;

namespace Vellumkeep.Core.Tests;

public sealed class SealingTests : IDisposable
{
    private readonly string data = Directory.CreateTempSubdirectory("sealing-").FullName;
    private readonly string folder;
    private readonly Storage.Databases databases;

    public SealingTests()
    {
        folder = Path.Combine(data, "keys");
        databases = Storage.Databases.Sqlite(Path.Combine(data, "vellumkeep.db"));
        databases.MigrateAsync(default).GetAwaiter().GetResult();
    }

    public void Dispose() => Directory.Delete(data, true);

    [Fact]
    public void What_is_sealed_opens_only_where_it_belongs_and_only_as_it_was()
    {
        var sealing = new Sealing(folder, databases);
        var (under, closed) = sealing.Seal("correct horse", "r1 4");
        sealing.Open(under, closed, "r1 4").ShouldBe("correct horse");
        // The same secret is never sealed alike, and another row's place does not open it.
        sealing.Seal("correct horse", "r1 4").Sealed.ShouldNotBe(closed);
        Should.Throw<CryptographicException>(() => sealing.Open(under, closed, "r1 5"));
        for (var i = 0; i < closed.Length; i++)
        {
            var altered = (byte[])closed.Clone();
            altered[i] ^= 1;
            Should.Throw<CryptographicException>(() => sealing.Open(under, altered, "r1 4"));
        }
    }

    [Fact]
    public void A_new_sealing_key_is_used_from_then_on_and_the_old_one_opens_what_it_sealed()
    {
        var sealing = new Sealing(folder, databases);
        var (first, closed) = sealing.Seal("a", "x");
        var second = sealing.Renew();
        second.ShouldStartWith("0002-");
        sealing.Seal("b", "x").Under.ShouldBe(second);
        new Sealing(folder, databases).Open(first, closed, "x").ShouldBe("a");
        var file = Path.Combine(folder, first + ".sealing");
        if (!OperatingSystem.IsWindows())
            File.GetUnixFileMode(file).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.Delete(file);
        Should.Throw<SealingKeyMissingException>(() => sealing.Open(first, closed, "x")).Message.ShouldContain("0001-");
    }
}
