using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>
/// One running demo for the tests that leave each other's records alone. Nothing else runs beside them: they measure
/// time and memory.
/// </summary>
[CollectionDefinition(Name, DisableParallelization = true)]
public sealed class OneDemo : ICollectionFixture<DemoProcess>
{
    public const string Name = "one demo";
}

/// <summary>The same for those that measure nothing: other tests may run beside them.</summary>
[CollectionDefinition(Name)]
public sealed class SharedDemo : ICollectionFixture<DemoBeside>
{
    public const string Name = "shared demo";
}
