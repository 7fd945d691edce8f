using NetArchTest.Rules;
using Shouldly;
using Xunit;

namespace Vellumkeep.Core.Tests;

public class ArchitectureTests
{
    /// <summary>Dependencies point one way; what is not listed may not be referred to.</summary>
    [Theory]
    [InlineData(typeof(Inventory), "")]
    [InlineData(typeof(Exchange.Keepfiles.Keepfile), "Core")]
    [InlineData(typeof(Storage.Databases), "Core")]
    [InlineData(typeof(Contract.Me), "")]
    [InlineData(typeof(Client.KeepClient), "Contract")]
    [InlineData(typeof(Service.Demo.DemoScenario), "Core Exchange Storage Contract Views")]
    [InlineData(typeof(Views.TunnelPages), "Core Contract")]
    public void A_project_refers_only_to_those_below_it(Type of, string allowed) =>
        of
            .Assembly.GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(n => n.StartsWith("Vellumkeep.", StringComparison.Ordinal))
            .Select(n => n["Vellumkeep.".Length..])
            .Except(allowed.Split(' '))
            .ShouldBeEmpty();

    [Fact]
    public void The_core_touches_no_file_no_network_no_console_and_no_clock_of_its_own()
    {
        var result = Types
            .InAssembly(typeof(Inventory).Assembly)
            .ShouldNot()
            .HaveDependencyOnAny(
                "System.IO.File",
                "System.IO.Directory",
                "System.Net.Http",
                "System.Net.Sockets.Socket",
                "System.Console",
                "Microsoft",
                "System.TimeProvider",
                "System.Text.Json"
            )
            .GetResult();
        result.IsSuccessful.ShouldBeTrue(string.Join(", ", result.FailingTypeNames ?? []));
        var sources = Directory
            .GetFiles(Path.Combine(DemoInventory.Root, "src/Core"), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/"));
        sources
            .Where(f => File.ReadAllText(f) is var text && (text.Contains("DateTime.Now") || text.Contains(".UtcNow")))
            .ShouldBeEmpty();
    }
}
