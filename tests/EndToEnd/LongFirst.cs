using Vellumkeep.EndToEnd;
using Xunit;
using Xunit.Sdk;
using Xunit.v3;

[assembly: TestCollectionOrderer(typeof(LongFirst))]

namespace Vellumkeep.EndToEnd;

/// <summary>
/// The classes that take longest begin first, so that none of them is left over for one thread while the other has
/// nothing to do.
/// </summary>
public sealed class LongFirst : ITestCollectionOrderer
{
    private static readonly string[] Longest =
    [
        nameof(ConsoleTests),
        nameof(StorageTests),
        "MachineTests",
        "DoorTests",
        nameof(ChangesOnSqlite),
        nameof(ChangesOnPostgres),
        nameof(OfferedTests),
        "FuzzOnSqlite",
        "FuzzOnPostgres",
        nameof(WalkTests),
    ];

    public IReadOnlyCollection<TTestCollection> OrderTestCollections<TTestCollection>(
        IReadOnlyCollection<TTestCollection> testCollections
    )
        where TTestCollection : ITestCollection =>
        [.. testCollections.OrderBy(Place).ThenBy(c => c.TestCollectionDisplayName, StringComparer.Ordinal)];

    private static int Place<T>(T collection)
        where T : ITestCollection
    {
        var at = Array.FindIndex(Longest, name =>
            collection.TestCollectionDisplayName.Contains(name, StringComparison.Ordinal)
        );
        return at < 0 ? Longest.Length : at;
    }
}
