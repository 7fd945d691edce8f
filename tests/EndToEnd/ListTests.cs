using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Shouldly;
using Vellumkeep.Core.Addressing;
using Vellumkeep.Core.Records;
using Vellumkeep.Running;
using Vellumkeep.Storage;
using Vellumkeep.Storage.Reading;
using Vellumkeep.Storage.Writing;
using Xunit;

namespace Vellumkeep.EndToEnd;

public class ListsOnSqlite : ListTests
{
    private readonly string folder = Directory.CreateTempSubdirectory("vellumkeep-lists-").FullName;

    protected override Task<Databases> OpenAsync() =>
        Task.FromResult(Databases.Sqlite(Path.Combine(folder, "vellumkeep.db")));

    protected override ValueTask EndAsync()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
        return default;
    }
}

public class ListsOnPostgres : ListTests
{
    private ShortPostgres? postgres;

    protected override async Task<Databases> OpenAsync() =>
        Databases.Postgres((postgres = await ShortPostgres.StartAsync()).Connection);

    protected override ValueTask EndAsync() => postgres!.DisposeAsync();
}

/// <summary>
/// Lists against what a plain walk over everything gives: prefixes that overlap, pages one after the other, what a
/// customer's history holds.
/// </summary>
public abstract class ListTests : IAsyncLifetime
{
    private readonly Random random = new(20261125);
    private readonly List<(Prefix Prefix, string Code)> placed = [];
    private Databases databases = null!;
    private Keeper keeper = null!;
    private string[] customers = [];

    protected abstract Task<Databases> OpenAsync();

    protected abstract ValueTask EndAsync();

    public async ValueTask InitializeAsync()
    {
        databases = await OpenAsync();
        keeper = new(databases);
        await databases.MigrateAsync(Ct);
        customers = (
            await keeper.WriteAsync(
                new("ines", At(0), "import"),
                (writing, _) =>
                    Task.FromResult(
                        Enumerable
                            .Range(0, 4)
                            .Select(n =>
                            {
                                var customer = new Customer
                                {
                                    Id = writing.NewId(),
                                    Code = $"C{n}",
                                    Name = $"Customer {n}",
                                };
                                writing.Put(customer, 0);
                                return customer.Id;
                            })
                            .ToArray()
                    ),
                Ct
            )
        ).Result;
        // One large commit, then many small ones of whoever.
        await SitesAsync(0, 130, 1);
        for (var n = 130; n < 170; n++)
            await SitesAsync(n, 1, n);
    }

    public ValueTask DisposeAsync() => EndAsync();

    [Fact]
    public async Task What_overlaps_a_prefix_is_what_a_walk_over_all_of_them_finds()
    {
        await using var context = databases.Open();
        Prefix[] asked =
        [
            .. Enumerable.Range(0, 60).Select(_ => Some()),
            Prefix.Parse("0.0.0.0/0").Value,
            Prefix.Parse("::/0").Value,
            Prefix.Parse("10.0.0.0/8").Value,
            Prefix.Parse("255.255.255.255/32").Value,
            .. placed.Take(20).Select(p => p.Prefix),
        ];
        var met = 0;
        foreach (var prefix in asked)
        {
            var wanted = placed
                .Where(p => p.Prefix.Overlaps(prefix))
                .Select(p => $"{p.Prefix} {p.Code}")
                .Distinct()
                .Order(StringComparer.Ordinal)
                .ToArray();
            (await new PlaceList(context).PlacesAsync(Scope.Everything, prefix, null, Ct))!
                .Select(p => $"{p.Prefix} {p.Code}")
                .Order(StringComparer.Ordinal)
                .ToArray()
                .ShouldBe(wanted, prefix.ToString());
            var found = (await new SearchList(context).SearchAsync(Scope.Everything, prefix.ToString(), 200, Ct))
                .Found.Select(f => $"{f.Fits} {f.Code}")
                .Order(StringComparer.Ordinal)
                .ToArray();
            if (wanted.Length <= 200)
                found.ShouldBe(wanted, prefix.ToString());
            else
                found.Intersect(wanted).Count().ShouldBe(200, prefix.ToString());
            met += wanted.Length;
        }

        met.ShouldBeGreaterThan(300);
        // Asked in words, one of the two.
        var one = placed[3].Prefix;
        (await new SearchList(context).SearchAsync(Scope.Everything, $"everything inside {one}", 200, Ct))
            .Found.Select(f => Prefix.Parse(f.Fits).Value)
            .ToArray()
            .ShouldAllBe(p => one.Contains(p));
        (await new SearchList(context).SearchAsync(Scope.Everything, $"what contains {one.First}?", 200, Ct))
            .Found.Select(f => Prefix.Parse(f.Fits).Value)
            .ShouldSatisfyAllConditions(f => f.ShouldContain(one), f => f.ShouldAllBe(p => p.Contains(one.First)));
    }

    [Fact]
    public async Task Pages_one_after_the_other_are_the_whole_list_and_a_day_is_what_fell_on_it()
    {
        await using var context = databases.Open();
        async Task<List<StoredCommit>> All(CommitFilter filter, Scope scope, int most)
        {
            var all = new List<StoredCommit>();
            for (long? before = null; ; )
            {
                var (items, cursor) = await new HistoryList(context).CommitsAsync(scope, filter, before, most, Ct);
                items.Count.ShouldBeLessThanOrEqualTo(most);
                all.AddRange(items);
                if ((before = cursor) is null)
                    return all;
            }
        }

        var whole = await All(new(null, null, null, null, null), Scope.Everything, 1000);
        (whole.Count, whole[0].Commit.Number).ShouldBe((42, 42L));
        whole.Select(c => c.Commit.Number).ShouldBe(Enumerable.Range(1, 42).Reverse().Select(n => (long)n));
        // The large commit names its first records and says how many there are.
        whole
            .Single(c => c.Commit.Number == 2)
            .ShouldSatisfyAllConditions(c => c.Records.Count.ShouldBe(50), c => c.Wrote.ShouldBe(130));
        foreach (
            var filter in new CommitFilter[]
            {
                new(null, null, null, null, null),
                new("tomas", null, null, null, null),
                new(null, customers[1], null, null, null),
                new(null, null, RecordKind.Site, null, null),
                new(null, customers[2], RecordKind.Site, Day(140), Day(160)),
                new(null, null, null, Day(141), Day(141)),
                new("ines", customers[0], null, null, Day(150)),
            }
        )
        {
            var once = await All(filter, Scope.Everything, 1000);
            (await All(filter, Scope.Everything, 3))
                .Select(c => c.Commit.Number)
                .ShouldBe(once.Select(c => c.Commit.Number), filter.ToString());
            once.Count.ShouldBeGreaterThan(0, filter.ToString());
            once.ShouldAllBe(c =>
                (filter.Who == null || c.Commit.Who == filter.Who)
                && (
                    filter.From == null
                    || string.Compare(c.Commit.At, $"{filter.From:yyyy-MM-dd}", StringComparison.Ordinal) >= 0
                )
                && (
                    filter.To == null
                    || string.Compare(c.Commit.At, $"{filter.To.Value.AddDays(1):yyyy-MM-dd}", StringComparison.Ordinal)
                        < 0
                )
            );
        }

        // A customer's local: each of its sites once, and of a commit of several customers only what is theirs, without
        // the reason that spoke of all.
        var own = await All(new(null, null, null, null, null), Scope.Of([customers[1]]), 1000);
        own.SelectMany(c => c.Records).ShouldAllBe(r => r.Code == "C1" || Owner(r.Code) == 1);
        own.Single(c => c.Commit.Number == 2)
            .ShouldSatisfyAllConditions(
                c => c.Whole.ShouldBeFalse(),
                c =>
                    c.Wrote.ShouldBe(
                        placed.Select(p => p.Code).Distinct().Count(code => Number(code) < 130 && Owner(code) == 1)
                    )
            );
        // Commit 6 wrote S133 alone.
        own.Single(c => c.Commit.Number == 6)
            .ShouldSatisfyAllConditions(c => c.Whole.ShouldBeTrue(), c => c.Records.Single().Code.ShouldBe("S133"));
    }

    [Fact]
    public async Task The_history_goes_forward_in_time_when_a_clock_went_back()
    {
        await keeper.NoteAsync(new("ines", At(3), "clock went back"), Ct);
        await using var context = databases.Open();
        var (items, _) = await new HistoryList(context).CommitsAsync(
            Scope.Everything,
            new(null, null, null, Day(169), null),
            null,
            10,
            Ct
        );
        items.Select(c => c.Commit.Act).ShouldBe(["clock went back", "import"]);
        (await Verification.RunAsync(databases, Ct)).ShouldSatisfyAllConditions(
            v => v.Broken.ShouldBeNull(),
            v => v.Differs.ShouldBeEmpty()
        );
    }

    [Fact]
    public async Task A_clock_that_ran_far_ahead_does_not_spoil_the_days_after_it_and_is_told_once()
    {
        var ahead = new DateTimeOffset(2099, 1, 1, 0, 0, 0, TimeSpan.Zero);
        await keeper.NoteAsync(new("ines", At(180), "before"), Ct);
        await keeper.NoteAsync(new("ines", ahead, "far ahead"), Ct);
        await keeper.NoteAsync(new("ines", At(181), "put right"), Ct);
        await keeper.NoteAsync(new("ines", At(182), "the day after"), Ct);
        await using var context = databases.Open();
        // As of the day on which the clock was put right: what was written by it until then, and not what came
        // after.
        var last = await context.Commits.MaxAsync(c => c.Number, Ct);
        (await context.Commits.OrderBy(c => c.Number).Select(c => c.At.Substring(0, 10)).ToListAsync(Ct))
            .TakeLast(4)
            .ShouldBe([Text(180), "2099-01-01", Text(181), Text(182)]);
        (await Past.OnAsync(context, Day(181), Ct)).Commit.ShouldBe(last - 1);
        (await context.Audit.CountAsync(a => a.What == "clock", Ct)).ShouldBe(1);
        (await Verification.RunAsync(databases, Ct)).Broken.ShouldBeNull();
        // One that goes back by days is overruled by the commit before.
        await keeper.NoteAsync(new("ines", At(100), "behind"), Ct);
        (await context.Commits.OrderByDescending(c => c.Number).Select(c => c.At).FirstAsync(Ct)).ShouldStartWith(
            Text(182)
        );
        static string Text(int day) => At(day).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
    }

    private static DateTimeOffset At(int day) => new DateTimeOffset(2026, 1, 1, 9, 0, 0, TimeSpan.Zero).AddDays(day);

    private static DateOnly Day(int day) => DateOnly.FromDateTime(At(day).UtcDateTime);

    private static int Number(string code) => int.Parse(code[1..], System.Globalization.CultureInfo.InvariantCulture);

    private static int Owner(string code) => Number(code) % 4;

    private Task SitesAsync(int from, int count, int day) =>
        keeper.WriteAsync(
            new(from % 3 == 0 ? "tomas" : "ines", At(day), "import", "as they told us"),
            (writing, _) =>
            {
                for (var n = from; n < from + count; n++)
                {
                    var networks = Enumerable
                        .Range(0, random.Next(1, 4))
                        .Select(_ => Some())
                        .Distinct()
                        .Select((p, i) => new Network(p, $"net {i}", null, null, []))
                        .ToArray();
                    placed.AddRange(networks.Select(x => (x.Prefix, $"S{n}")));
                    writing.Put(
                        new Site
                        {
                            Id = writing.NewId(),
                            Code = $"S{n}",
                            CustomerId = customers[n % 4],
                            Name = $"Site {n}",
                            Networks = [.. networks],
                        },
                        0
                    );
                }

                return Task.FromResult(true);
            },
            Ct
        );

    /// <summary>Any prefix, most of them close together, so that many contain one another.</summary>
    private Prefix Some()
    {
        var length = random.Next(4) == 0 ? random.Next(0, 33) : random.Next(14, 31);
        return random.Next(5) == 0
            ? Prefix.Around(
                Address.Of(Family.IPv6, ((UInt128)0x20010db8 << 96) | ((UInt128)(uint)random.Next(64) << 64)),
                random.Next(30, 129)
            )
            : Prefix.Around(
                Address.Of(
                    Family.IPv4,
                    random.Next(6) == 0
                        ? (uint)random.NextInt64(uint.MaxValue)
                        : 0x0A000000u | (uint)random.Next(1 << 18)
                ),
                length
            );
    }
}
