using System.Net;
using System.Text;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>Changes of every kind through the service, on SQLite.</summary>
public class ChangesOnSqlite(DemoBeside demo) : ChangeTests(demo), IClassFixture<DemoBeside>
{
    /// <summary>Not even a dump of the database, or of the log, gives a key away.</summary>
    [Fact]
    public async Task A_key_is_nowhere_but_where_it_is_shown()
    {
        using var ines = await Demo.Service.ClientAsync("ines");
        using var odile = await Demo.Service.ClientAsync("odile");
        var change = await Drafted(ines, new DraftRekey { Tunnel = "BRI-NETTLE", Reason = "Perrin has left." });
        (
            await Should.ThrowAsync<ServiceProblem>(ines.ShowKeyAsync("BRI-NETTLE", 9, new("curious"), Ct))
        ).Status.ShouldBe(HttpStatusCode.NotFound);
        var made = (await ines.MakeKeyAsync("BRI-NETTLE", new(change.Code), Ct)).Versions[0];
        (made.Version, made.State, made.Change).ShouldBe((change.Keys[0].Version, "prepared", change.Code));
        made.Bits.ShouldBeGreaterThanOrEqualTo(128);
        (
            await Should.ThrowAsync<ServiceProblem>(ines.ShowKeyAsync("BRI-NETTLE", made.Version, new(" "), Ct))
        ).Message.ShouldContain("reason");
        var shown = await ines.ShowKeyAsync("BRI-NETTLE", made.Version, new("entering it at churn-gw1"), Ct);
        shown.Grouped.Replace(" ", "").ShouldBe(shown.Key);
        shown.CheckCode.ShouldBe(made.CheckCode);
        // A call that may be repeated keeps its answer for a day; one that tells a secret does not.
        foreach (
            var (who, call, body) in new (string, string, object)[]
            {
                ("ines", $"tunnels/BRI-NETTLE/keys/{made.Version}/show", new { reason = "again" }),
                ("odile", "people/perrin/password", new { }),
            }
        )
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, new Uri(Demo.Service.Url, "/api/v1/" + call))
            {
                Content = System.Net.Http.Json.JsonContent.Create(body),
                Headers = { { "Idempotency-Key", "once" } },
            };
            request.Headers.Authorization = new("Bearer", Demo.Token(who));
            using var http = new HttpClient();
            using var answer = await http.SendAsync(request, Ct);
            answer.StatusCode.ShouldBe(HttpStatusCode.OK);
            answer.Headers.CacheControl!.NoStore.ShouldBeTrue();
            var told = await answer.Content.ReadAsStringAsync(Ct);
            using var database = new Microsoft.Data.Sqlite.SqliteConnection(
                $"Data Source={Path.Combine(Demo.Service.Data, "vellumkeep.db")};Mode=ReadOnly"
            );
            database.Open();
            using var kept = database.CreateCommand();
            kept.CommandText = "select count(*) from answered";
            ((long)kept.ExecuteScalar()!).ShouldBe(0, told.Length.ToString());
        }

        // Who saw it is told to everybody who may see the tunnel, and stands in the history.
        var seen = (await odile.KeysAsync("BRI-NETTLE", Ct)).Versions.First(v => v.Version == made.Version).Viewed[0];
        (seen.Who, seen.Reason).ShouldBe(("ines", "entering it at churn-gw1"));
        (await Demo.Command("odile", "history list --who ines")).Out.ShouldContain("see key");
        var path = $"tunnels/BRI-NETTLE/keys";
        foreach (
            var text in new[]
            {
                await odile.ExportAsync(null, Ct),
                await odile.TextAsync("history", Ct),
                await odile.TextAsync(path, Ct),
                await odile.TextAsync($"changes/{change.Code}", Ct),
                await odile.TextAsync($"changes/{change.Code}/record", Ct),
                await odile.TextAsync($"search?q={shown.Key[..10]}", Ct),
                Demo.Service.Log,
            }
        )
            text.ShouldNotContain(shown.Key);
        foreach (var file in Directory.GetFiles(Demo.Service.Data, "*", SearchOption.AllDirectories))
            Encoding.Latin1.GetString(await RunningService.ReadSharedAsync(file, Ct)).ShouldNotContain(shown.Key);
        // A backup holds it encrypted, without what opens it.
        var backup = Path.Combine(Path.GetTempPath(), Guid.NewGuid() + ".vkb");
        (
            await Vellumkeep.Running.RunningService.ServiceAsync(["backup", backup, "--data", Demo.Service.Data])
        ).Status.ShouldBe(0);
        var bytes = await File.ReadAllBytesAsync(backup, Ct);
        Encoding.Latin1.GetString(bytes).ShouldNotContain(shown.Key);
        foreach (var key in Directory.GetFiles(Demo.Service.Keys))
            bytes.AsSpan().IndexOf(File.ReadAllBytes(key)).ShouldBe(-1);
        File.Delete(backup);
        // Encrypted anew under another encryption key it is the same.
        (
            await Vellumkeep.Running.RunningService.ServiceAsync(["re-encrypt", "--data", Demo.Service.Data])
        ).Out.ShouldContain("encrypted with 0002-");
        (
            await ines.ShowKeyAsync("BRI-NETTLE", made.Version, new("after the encryption key was replaced"), Ct)
        ).Key.ShouldBe(shown.Key);
    }
}

/// <summary>The same on PostgreSQL.</summary>
public class ChangesOnPostgres(PostgresDemoService demo) : ChangeTests(demo), IClassFixture<PostgresDemoService>;
