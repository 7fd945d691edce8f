using System.Diagnostics;
using System.Globalization;
using Shouldly;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.Storage.Tests;

/// <summary>
/// Ratios of processor time that are taken in one run on a small fleet, within about twice what they are: what is lost is
/// seen on the day it happens, whatever else the machine does. docs/performance.md has the whole ones.
/// </summary>
public class SmallBenchTests
{
    [Fact]
    public async Task Checking_importing_and_opening_a_tunnel_cost_no_more_than_they_did()
    {
        var folder = Directory.CreateTempSubdirectory("vellumkeep-small-").FullName;
        var bench = Path.Combine(RunningService.Root, "bench/Bench/bin/Release/net10.0/Vellumkeep.Bench.dll");
        using var run = Process.Start(
            new ProcessStartInfo("dotnet", [bench, "small", "--parts", "40", "--data", folder])
            {
                RedirectStandardOutput = true,
            }
        )!;
        var said = await run.StandardOutput.ReadToEndAsync(TestContext.Current.CancellationToken);
        await run.WaitForExitAsync(TestContext.Current.CancellationToken);
        Directory.Delete(folder, true);
        var ratios = said.Split('\n')
            .Select(l => l.Split(' '))
            .Where(l => l is ["ratio", _, _])
            .ToDictionary(l => l[1], l => double.Parse(l[2], CultureInfo.InvariantCulture));
        ratios["check/read"].ShouldBeLessThan(3, said);
        ratios["import/inserts"].ShouldBeLessThan(15, said);
        ratios["page/empty"].ShouldBeLessThan(200, said);
    }
}
