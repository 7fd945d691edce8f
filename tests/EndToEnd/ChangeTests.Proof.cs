using System.Net;
using System.Text;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

public abstract partial class ChangeTests
{
    [Fact]
    public async Task Proof_may_be_a_file_and_no_proof_may_hold_the_key()
    {
        using var ines = await Demo.Service.ClientAsync("ines");
        var change = await Begun(
            ines,
            await Drafted(ines, new DraftRekey { Tunnel = "BRI-SPARES", Reason = "proof as a file" })
        );
        var made = (await ines.MakeKeyAsync("BRI-SPARES", new(change.Code), Ct)).Versions[0];
        var key = (await ines.ShowKeyAsync("BRI-SPARES", made.Version, new("to enter it"), Ct)).Key;
        byte[] picture = [0x89, 0x50, 0x4e, 0x47, 0, 1, 2, 3, 0xff, 0xfe];
        AttemptStep With(string name, byte[] bytes) =>
            new("done", null, null, null, null) { File = new(name, Convert.ToBase64String(bytes)) };

        var after = await ines.AttemptAsync(change.Code, 1, With("../counters.png", picture), Ct);
        var file = after.Steps[0].Attempts[0].File!;
        (file.Name, file.Size, file.Digest).ShouldBe(
            (
                "counters.png",
                picture.Length,
                Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(picture))
            )
        );
        using var http = new HttpClient();
        async Task<HttpResponseMessage> Get(string who, string digest)
        {
            using var request = new HttpRequestMessage(
                HttpMethod.Get,
                new Uri(Demo.Service.Url, $"/api/v1/changes/{change.Code}/proof/{digest}")
            );
            request.Headers.Authorization = new("Bearer", Demo.Token(who));
            return await http.SendAsync(request, Ct);
        }

        using (var given = await Get("bram", file.Digest))
        {
            (await given.Content.ReadAsByteArrayAsync(Ct)).ShouldBe(picture);
            // Never shown by the service itself, whatever it is.
            given.Content.Headers.ContentDisposition!.DispositionType.ShouldBe("attachment");
            given.Content.Headers.ContentType!.MediaType.ShouldBe("application/octet-stream");
        }

        foreach (var (who, digest) in new[] { ("maud-audit", file.Digest), ("bram", new string('0', 64)) })
            using (var refused = await Get(who, digest))
                refused.StatusCode.ShouldBe(HttpStatusCode.NotFound, who);
        (await ines.TextAsync($"changes/{change.Code}/record", Ct)).ShouldContain(
            $"the file counters.png, 10 octets, SHA-256 `{file.Digest}`"
        );

        // A saved configuration often holds the key in clear: whatever way it comes, it is not taken, and the refusal
        // does not repeat it.
        var configuration = Encoding.UTF8.GetBytes($"remote: 203.0.113.9\nkey: {key}\n");
        foreach (
            var (field, attempt) in new (string, AttemptStep)[]
            {
                ("file.content", With("saved.txt", configuration)),
                ("proof", new("done", null, null, null, null, $"it says {key}")),
                ("remark", new("done", "typed " + key, null, null, null)),
            }
        )
        {
            var refused = await Should.ThrowAsync<ServiceProblem>(ines.AttemptAsync(change.Code, 2, attempt, Ct));
            refused.Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
            refused.Message.ShouldContain(
                $"{field}: it contains a pre-shared key that is stored here",
                Case.Insensitive
            );
            refused.Message.ShouldNotContain(key);
        }

        foreach (
            var (wrong, says) in new[]
            {
                (With("", picture), "no name"),
                (With("empty.txt", []), "is empty"),
                (With("big.bin", new byte[(4 << 20) + 1]), "larger than 4 MiB"),
            }
        )
            (
                await Should.ThrowAsync<ServiceProblem>(ines.AttemptAsync(change.Code, 2, wrong, Ct))
            ).Message.ShouldContain(says);
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.AttemptAsync(
                    change.Code,
                    2,
                    new("done", null, null, null, null) { File = new("x.txt", "no base 64!") },
                    Ct
                )
            )
        ).Message.ShouldContain("RFC 4648");
        (
            await Should.ThrowAsync<ServiceProblem>(
                ines.AttemptAsync(change.Code, 2, new("done", null, null, null, null, new string('x', 20_001)), Ct)
            )
        ).Message.ShouldContain("20,001 characters");
        (await ines.AttemptAsync(change.Code, 2, With("just.bin", new byte[4 << 20]), Ct))
            .Steps[1]
            .Attempts[^1]
            .File!.Size.ShouldBe(4 << 20);

        var path = Path.Combine(Demo.Service.Data, "access.txt");
        await File.WriteAllTextAsync(path, "accepts", Ct);
        (await Demo.Command("ines", $"change step {change.Code} 3 --done --proof-file '{path}'")).Status.ShouldBe(0);
        (await Demo.Command("ines", $"change show {change.Code}")).Out.ShouldContain(
            "proof: the file access.txt, SHA-256"
        );
        (await Demo.Command("ines", $"change step {change.Code} 3 --done --proof '@{path}'")).Status.ShouldBe(0);
        (await ines.ChangeAsync(change.Code, Ct)).Steps[2].Attempts[^1].Proof.ShouldBe("accepts");
        (await Demo.Command("ines", $"change step {change.Code} 4 --done --proof-file /nowhere")).Error.ShouldContain(
            "There is no file /nowhere."
        );
    }

    /// <summary>
    /// An outer address that another gateway shows is not taken, wherever in the fleet that is; whoever may not see it
    /// is not told whose it is.
    /// </summary>
    [Fact]
    public async Task An_outer_address_of_another_gateway_is_not_taken()
    {
        using var ines = await Demo.Service.ClientAsync("ines");
        (
            await Should.ThrowAsync<ServiceProblem>(
                Drafted(
                    ines,
                    new DraftAddress
                    {
                        Reason = "x",
                        Gateway = "tid-seal-gw",
                        Address = "198.51.100.10",
                    }
                )
            )
        ).Message.ShouldContain("the outer address of churn-gw1");
        (
            await Should.ThrowAsync<ServiceProblem>(
                Drafted(
                    ines,
                    new DraftPlatform
                    {
                        Reason = "x",
                        Gateway = "tid-seal-gw",
                        Platform = "teasel",
                        Beside = "198.51.100.10",
                    }
                )
            )
        ).Message.ShouldContain("the outer address of churn-gw1");
        // The beginning of a profile's code is enough where one alone begins so.
        (
            await Drafted(
                ines,
                new DraftPlatform
                {
                    Reason = "x",
                    Gateway = "tid-seal-gw",
                    Platform = "teasel",
                    Beside = "203.0.113.251",
                }
            )
        ).Title.ShouldBe("Move tid-seal-gw to Teasel Minor");
    }
}
