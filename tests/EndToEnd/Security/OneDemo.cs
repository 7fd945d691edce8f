using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>One running demo for the tests that leave each other's records alone.</summary>
[CollectionDefinition(Name)]
public sealed class OneDemo : ICollectionFixture<DemoService>
{
    public const string Name = "one demo";
}
