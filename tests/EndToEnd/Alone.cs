using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>Tests that measure how long something takes: nothing else runs beside them.</summary>
[CollectionDefinition(Name, DisableParallelization = true)]
public sealed class Alone
{
    public const string Name = "alone";
}
