using System.Security.Cryptography;
using System.Text;
using Shouldly;
using Vellumkeep.Core.Findings;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>
/// What the checks find on the demo, as a digest beside the version of the checks. Where they find otherwise the
/// version has to be raised, so that services check their fleets again; with KEEP_CHECKS=1 the test writes what it
/// found.
/// </summary>
public class CheckVersionTests
{
    private static readonly string File = Path.Combine(DemoInventory.Root, "tests/Core.Tests/cases/checks.txt");

    [Fact]
    public void Checks_that_find_otherwise_have_another_version()
    {
        var found = new StringBuilder();
        foreach (var tunnel in DemoInventory.All.Tunnels.OrderBy(t => t.Code, StringComparer.Ordinal))
        foreach (var f in Checks.Run(DemoInventory.Checked(tunnel)))
            found.AppendLine($"{tunnel.Code} {f.Digest} {f.Why} {f.Do}");
        var now =
            $"{Checks.Version} {Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(found.ToString())))}\n";
        if (Environment.GetEnvironmentVariable("KEEP_CHECKS") == "1")
            System.IO.File.WriteAllText(File, now);
        var kept = System.IO.File.ReadAllText(File);
        (now == kept || now.Split(' ')[0] != kept.Split(' ')[0]).ShouldBeTrue(
            "The checks find otherwise: raise Checks.Version, then keep what they find with KEEP_CHECKS=1."
        );
        now.ShouldBe(kept, "Keep what the checks find with KEEP_CHECKS=1.");
    }
}
