namespace Vellumkeep.Storage.Tests;

public sealed class TamperedSqlite(DemoOnSqlite demo) : TamperTests(demo), IClassFixture<DemoOnSqlite>;

public sealed class TamperedPostgres(DemoOnPostgres demo) : TamperTests(demo), IClassFixture<DemoOnPostgres>;

/// <summary>
/// Whoever alters the database behind the service's back is found out: each table that the history vouches for is
/// altered, found, and put back.
/// </summary>
public abstract class TamperTests(KeptDemo demo)
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private async Task SqlAsync(FormattableString statement)
    {
        await using var context = demo.Databases.Open();
        (await context.Database.ExecuteSqlAsync(statement, Ct)).ShouldBeGreaterThan(0, statement.Format);
    }

    private Task<Verified> SeenAsync() => Verification.RunAsync(demo.Databases, Ct);

    private async Task HoldsAgainAsync()
    {
        var seen = await SeenAsync();
        (seen.Broken, seen.Differs.Count).ShouldBe((null, 0), string.Join("; ", seen.Differs));
    }

    [Theory]
    [InlineData("who")]
    [InlineData("act")]
    [InlineData("reason")]
    [InlineData("at")]
    [InlineData("before")]
    [InlineData("digest")]
    public async Task A_commit_that_says_something_else_breaks_the_chain_at_its_number(string column)
    {
        const long number = 3;
        await using var context = demo.Databases.Open();
        var kept = await context.Commits.AsNoTracking().SingleAsync(c => c.Number == number, Ct);
        Task SetAsync(string? value) =>
            column switch
            {
                "who" => SqlAsync($"update commits set who = {value ?? kept.Who} where number = {number}"),
                "act" => SqlAsync($"update commits set act = {value ?? kept.Act} where number = {number}"),
                "reason" => SqlAsync($"update commits set reason = {value ?? kept.Reason} where number = {number}"),
                "at" => SqlAsync(
                    $"""
                    update commits set at = {(value is null ? kept.At : kept.At.Replace("12:00:00", "12:00:01"))}
                    where number = {number}
                    """
                ),
                "before" => SqlAsync($"update commits set before = {value ?? kept.Before} where number = {number}"),
                _ => SqlAsync($"update commits set digest = {value ?? kept.Digest} where number = {number}"),
            };
        await SetAsync("somebody else");
        (await SeenAsync()).Broken.ShouldBe(number);
        await SetAsync(null);
        await HoldsAgainAsync();
    }

    [Fact]
    public async Task A_version_that_was_written_over_breaks_the_chain_at_its_commit_and_differs_from_the_record()
    {
        await using var context = demo.Databases.Open();
        var change = demo.Changes[0];
        var kept = await context.Versions.AsNoTracking().SingleAsync(v => v.RecordId == change.Id, Ct);
        byte[] altered = [.. kept.Body.Select(b => b == (byte)'w' ? (byte)'v' : b)];
        await SqlAsync($"update versions set body = {altered} where record_id = {change.Id}");
        var seen = await SeenAsync();
        seen.Broken.ShouldBe(kept.CommitNumber);
        seen.Differs.ShouldHaveSingleItem().ShouldContain($"{change.Code} stands otherwise than version 1");
        await SqlAsync($"update versions set body = {kept.Body} where record_id = {change.Id}");
        await HoldsAgainAsync();
    }

    [Fact]
    public async Task A_record_that_was_altered_differs_from_its_last_version_while_the_chain_holds()
    {
        await using var context = demo.Databases.Open();
        var site = DemoInventory.All.All.OfType<Site>().First();
        var kept = await context.Records.AsNoTracking().SingleAsync(r => r.Id == site.Id, Ct);
        byte[] altered = [.. kept.Body, (byte)' '];
        await SqlAsync($"update records set body = {altered} where id = {site.Id}");
        var seen = await SeenAsync();
        (seen.Broken, seen.Differs.ShouldHaveSingleItem()).ShouldBe(
            (null, $"site {site.Code} stands otherwise than version 1 in the history")
        );
        await SqlAsync($"update records set body = {kept.Body} where id = {site.Id}");
        await HoldsAgainAsync();
    }

    [Theory]
    [InlineData("owner_id")]
    [InlineData("name")]
    [InlineData("code")]
    public async Task A_record_that_is_listed_as_something_else_is_named(string column)
    {
        await using var context = demo.Databases.Open();
        var tunnel = DemoInventory.Tunnel("BRI-ASHLOW");
        var other = DemoInventory.All.ByCode<Customer>("SAL")!.Id;
        var kept = await context.Records.AsNoTracking().SingleAsync(r => r.Id == tunnel.Id, Ct);
        Task SetAsync(bool altered) =>
            column switch
            {
                "owner_id" => SqlAsync(
                    $"update records set owner_id = {(altered ? other : kept.OwnerId)} where id = {tunnel.Id}"
                ),
                "name" => SqlAsync(
                    $"update records set name = {(altered ? "harmless" : kept.Name)} where id = {tunnel.Id}"
                ),
                _ => SqlAsync(
                    $"update records set code = {(altered ? "BRI-OTHER" : kept.Code)} where id = {tunnel.Id}"
                ),
            };
        await SetAsync(true);
        (await SeenAsync()).Differs.ShouldHaveSingleItem().ShouldContain("is listed under another");
        await SetAsync(false);
        await HoldsAgainAsync();
    }

    [Fact]
    public async Task A_record_set_back_to_an_earlier_version_is_named()
    {
        var site = DemoInventory.All.All.OfType<Site>().Last();
        await demo.Keeper.WriteAsync(
            new("ines", KeptDemo.Noon, "edit"),
            (writing, _) =>
            {
                writing.Put(site with { Notes = "second" }, 1);
                return Task.FromResult(true);
            },
            Ct
        );
        await using var context = demo.Databases.Open();
        var second = await context.Records.AsNoTracking().SingleAsync(r => r.Id == site.Id, Ct);
        var first = await context.Versions.AsNoTracking().SingleAsync(v => v.RecordId == site.Id && v.Version == 1, Ct);
        await SqlAsync($"update records set body = {first.Body}, version = 1 where id = {site.Id}");
        (await SeenAsync())
            .Differs.ShouldHaveSingleItem()
            .ShouldBe($"site {site.Code} stands at version 1, and the history has a later one");
        await SqlAsync($"update records set body = {second.Body}, version = 2 where id = {site.Id}");
        await HoldsAgainAsync();
    }

    [Fact]
    public async Task A_commit_that_nobody_wrote_breaks_the_chain_at_its_number()
    {
        await using var context = demo.Databases.Open();
        var last = await context.Commits.AsNoTracking().OrderByDescending(c => c.Number).FirstAsync(Ct);
        var number = last.Number + 1;
        await SqlAsync(
            $"""
            insert into commits (number, at, who, act, before, digest)
            values ({number}, {last.At}, {"ines"}, {"edit"}, {last.Digest}, {last.Digest})
            """
        );
        (await SeenAsync()).Broken.ShouldBe(number);
        await SqlAsync($"delete from commits where number = {number}");
        await HoldsAgainAsync();
    }

    [Fact]
    public async Task Whoever_can_sign_in_and_was_never_recorded_is_named()
    {
        await using (var context = demo.Databases.Open())
        {
            context.People.Add(
                new()
                {
                    Name = "mallory",
                    RecordId = "person:mallory",
                    Display = "Mallory",
                    Grants = "lead",
                }
            );
            await context.SaveChangesAsync(Ct);
        }

        (await SeenAsync()).Differs.ShouldHaveSingleItem().ShouldStartWith("mallory can sign in");
        await SqlAsync($"delete from people where name = {"mallory"}");
        await HoldsAgainAsync();
    }
}
