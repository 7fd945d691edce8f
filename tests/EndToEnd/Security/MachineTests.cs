using System.Diagnostics;
using System.Net;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>
/// What is done on the machine itself: files, folders, the key folder, the first lead, and what was altered behind the
/// service's back.
/// </summary>
public partial class MachineTests
{
    private const UnixFileMode Owner = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    [Fact]
    public async Task A_lost_key_folder_is_told_and_a_returning_one_opens_what_it_did()
    {
        await using var service = await RunningService.StartAsync();
        int version;
        using (var ines = await service.ClientAsync("ines"))
            version = (await ines.MakeKeyAsync("BRI-NETTLE", new(null), Ct)).Versions[0].Version;
        foreach (var file in Directory.GetFiles(service.Data).Concat(Directory.GetFiles(service.Keys)))
            File.GetUnixFileMode(file).ShouldBe(Owner, file);
        foreach (var folder in new[] { service.Data, service.Keys })
            File.GetUnixFileMode(folder).ShouldBe(Owner | UnixFileMode.UserExecute, folder);

        service.Kill();
        var away = service.Keys + "-away";
        Directory.Move(service.Keys, away);
        await service.StartAgainAsync();
        service.Log.ShouldContain("lacks 0001-");
        using (var ines = await service.ClientAsync("ines"))
        {
            (
                await Should.ThrowAsync<ServiceProblem>(ines.ShowKeyAsync("BRI-NETTLE", version, new("look"), Ct))
            ).Message.ShouldContain("not in the key folder");
            (
                await Should.ThrowAsync<ServiceProblem>(ines.MakeKeyAsync("SAL-SPIT", new(null), Ct))
            ).Message.ShouldContain("Restore the folder");
            (await ines.KeysAsync("BRI-NETTLE", Ct)).Versions[0].Viewed.ShouldBeEmpty();
        }

        service.Kill();
        var (status, told, _) = await RunningService.ServiceAsync(["re-encrypt", "--data", service.Data]);
        (status, told.Contains("1 key cannot be decrypted", StringComparison.Ordinal)).ShouldBe((0, true), told);
        // What was made meanwhile is not overwritten by what returns: the names differ.
        var meanwhile = Directory.GetFiles(service.Keys).Select(Path.GetFileName).ToArray();
        var returning = Directory.GetFiles(away).Select(Path.GetFileName).ToArray();
        meanwhile.Intersect(returning).ShouldBeEmpty();
        foreach (var file in returning)
            File.Copy(Path.Combine(away, file!), Path.Combine(service.Keys, file!), overwrite: false);
        Directory.Delete(away, true);
        await service.StartAgainAsync();
        using (var ines = await service.ClientAsync("ines"))
            (await ines.ShowKeyAsync("BRI-NETTLE", version, new("it is back"), Ct)).Key.Length.ShouldBeGreaterThan(20);
    }

    [Fact]
    public async Task What_is_lost_for_good_is_given_up_by_name_with_a_reason_and_keys_can_be_made_again()
    {
        await using var service = await RunningService.StartAsync();
        // A folder that holds nothing but what protects cookies is begun anew by the restart itself: nothing is
        // missing.
        service.Kill();
        Directory.Delete(service.Keys, true);
        await service.StartAgainAsync();
        service.Log.ShouldNotContain("lacks");
        int version;
        using (var ines = await service.ClientAsync("ines"))
            version = (await ines.MakeKeyAsync("BRI-NETTLE", new(null), Ct)).Versions[0].Version;

        service.Kill();
        Directory.Delete(service.Keys, true);
        await service.StartAgainAsync();
        var lost = System.Text.RegularExpressions.Regex.Match(service.Log, "lacks ([0-9]+-[0-9a-f]+)").Groups[1].Value;
        service.Kill();
        Task<(int Status, string Out, string Error)> GiveUp(string key, string reason) =>
            RunningService.ServiceAsync(["give-up", key, "--data", service.Data], reason + "\n");
        (await GiveUp("0009-abcdef01", "it burnt")).ShouldSatisfyAllConditions(
            g => g.Status.ShouldBe(2),
            g => g.Error.ShouldContain($"Expected: {lost}")
        );
        (await GiveUp(lost, " ")).Status.ShouldBe(2);
        (await GiveUp(lost, "the disk with the folder burnt")).ShouldSatisfyAllConditions(
            g => g.Status.ShouldBe(0, g.Error),
            g => g.Out.ShouldContain($"version {version} of the key of BRI-NETTLE")
        );
        await service.StartAgainAsync();
        using (var ines = await service.ClientAsync("ines"))
        {
            (
                await Should.ThrowAsync<ServiceProblem>(ines.ShowKeyAsync("BRI-NETTLE", version, new("look"), Ct))
            ).Message.ShouldContain("not stored here");
            (await ines.MakeKeyAsync("BRI-NETTLE", new(null), Ct)).Versions[0].Version.ShouldBe(version + 1);
        }

        using var odile = await service.ClientAsync("odile");
        (await odile.TextAsync("history", Ct)).ShouldContain("the disk with the folder burnt");
        (await odile.TextAsync("audit", Ct)).ShouldContain("give up keys");
    }

    [Fact]
    public async Task Files_are_their_owners_alone_whatever_the_umask()
    {
        var data = Path.Combine(Directory.CreateTempSubdirectory("vellumkeep-").FullName, "data");
        var dll = Path.Combine(RunningService.Root, "src/Service/bin/Release/net10.0/Vellumkeep.Service.dll");
        foreach (
            var line in new[]
            {
                $"echo four-unrelated-words | dotnet {dll} add-lead Odile --data {data}",
                $"dotnet {dll} backup {data}/../a.backup --data {data}",
                $"dotnet {dll} re-encrypt --data {data}",
            }
        )
        {
            using var process = Process.Start(
                new ProcessStartInfo("bash", ["-c", $"umask 000; {line}"])
                {
                    RedirectStandardOutput = true,
                    RedirectStandardError = true,
                }
            )!;
            await process.WaitForExitAsync(Ct);
            process.ExitCode.ShouldBe(0, await process.StandardError.ReadToEndAsync(Ct));
        }

        foreach (var file in Directory.GetFiles(Path.GetDirectoryName(data)!, "*", SearchOption.AllDirectories))
            File.GetUnixFileMode(file).ShouldBe(Owner, file);
        foreach (var folder in Directory.GetDirectories(Path.GetDirectoryName(data)!))
            File.GetUnixFileMode(folder).ShouldBe(Owner | UnixFileMode.UserExecute, folder);
        // A first lead with a capital letter signs in, and people can be listed.
        await using var service = await RunningService.StartAsync(false, "--data", data);
        using var nobody = new KeepClient(service.Url, null);
        using var odile = new KeepClient(
            service.Url,
            (await nobody.TokenByPasswordAsync(new("ODILE", "four-unrelated-words", "t", 1), Ct)).Token
        );
        (await odile.PeopleAsync(Ct)).Select(p => p.Name).ShouldBe(["odile"]);
        // The last lead stays one.
        var form = await odile.FormAsync("people", "odile", null, Ct);
        (
            await Should.ThrowAsync<ServiceProblem>(
                odile.WriteAsync(
                    "people",
                    "odile",
                    form.Version,
                    new(null, null, [new("roles", "reader")], "tired"),
                    false,
                    Ct
                )
            )
        ).Message.ShouldContain("last lead");
        (
            await Should.ThrowAsync<ServiceProblem>(
                odile.RetireAsync("people", "odile", form.Version, "gone", false, Ct)
            )
        ).Message.ShouldContain("last lead");
        await odile.AddAsync(
            "people",
            new(null, null, [new("code", "wren"), new("name", "Wren"), new("roles", "lead")], null),
            false,
            Ct
        );
        await odile.WriteAsync(
            "people",
            "odile",
            form.Version,
            new(null, null, [new("roles", "reader")], "tired"),
            false,
            Ct
        );
        foreach (
            var (code, name) in new[]
            {
                ("A\u202eB", "x"),
                ("AB", "a\u202eb"),
                ("AB", "a\u200bb"),
                ("AB", "a\u0007b"),
                ("AB\uffff", "x"),
            }
        )
            (
                await Should.ThrowAsync<ServiceProblem>(
                    odile.AddAsync(
                        "customers",
                        new(null, null, [new("code", code), new("name", name)], null),
                        false,
                        Ct
                    )
                )
            ).Status.ShouldBeOneOf(HttpStatusCode.UnprocessableEntity, HttpStatusCode.Forbidden);
        (await RunningService.ServiceAsync(["unlock", "odile", "--data", data])).Status.ShouldBe(0);
    }

    [Fact]
    public async Task What_was_altered_beside_the_history_is_found()
    {
        await using var service = await RunningService.StartAsync();
        using var odile = await service.ClientAsync("odile");
        (await odile.VerifyAsync(Ct)).ShouldSatisfyAllConditions(
            v => v.Broken.ShouldBeNull(),
            v => v.Differs.ShouldBeEmpty()
        );
        foreach (
            var (sql, says) in new[]
            {
                ("update people set grants = 'lead' where name = 'bram'", "bram has other grants"),
                (
                    "insert into people (name, record_id, display, grants, password_hash, must_replace, disabled) "
                        + "values ('ghost', 'x', 'Ghost', 'lead', '', 0, 0)",
                    "ghost can sign in"
                ),
                (
                    "update records set body = (select body from records where code = 'SAL-HARBOUR') where code = 'BRI-CHURN'",
                    "site BRI-CHURN stands otherwise"
                ),
                (
                    "update records set owner_id = (select id from records where code = 'SAL' and kind = 0) where "
                        + "code = 'BRI-ASHLOW' and id in (select id from tunnels)",
                    "tunnel BRI-ASHLOW is listed under another"
                ),
                (
                    "delete from records where code = 'TID-SEAL' and id in (select id from tunnels)",
                    "TID-SEAL is in the history and not among the records"
                ),
            }
        )
        {
            using var database = new SqliteConnection($"Data Source={Path.Combine(service.Data, "vellumkeep.db")}");
            await database.OpenAsync(Ct);
            using var command = database.CreateCommand();
            command.CommandText = sql;
            (await command.ExecuteNonQueryAsync(Ct)).ShouldBe(1, sql);
            (await odile.VerifyAsync(Ct)).Differs.ShouldContain(d => d.Contains(says, StringComparison.Ordinal), says);
        }

        (await service.CommandAsync("history verify", null, await service.ClientTokenAsync("odile"))).Status.ShouldBe(
            1
        );
    }
}
