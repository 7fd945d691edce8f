using System.IO.Compression;
using System.Net;
using System.Text;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

public partial class PastedKeyTests
{
    /// <summary>
    /// Number 2 of the doors: whatever is stored, and whosever the key is. The key is of another customer, whose
    /// gateways nothing of this has to do with.
    /// </summary>
    [Fact]
    public async Task A_kept_key_of_anybody_is_in_no_text_that_is_stored()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        var version = (await ines.MakeKeyAsync("SAL-SPIT", new(null), Ct)).Versions[0].Version;
        var key = (await ines.ShowKeyAsync("SAL-SPIT", version, new("entering it"), Ct)).Key;
        var change = await Working(ines, "BRI-SPARES");
        const string kept = "vellumkeep: keepfile/1\nsites: []\n";
        foreach (
            var (what, write) in new (string, Func<Task>)[]
            {
                ("reason of an import that changes nothing", () => ines.ImportAsync(kept, false, key, Ct)),
                ("who made a key", () => ines.MakeKeyAsync("BRI-MILK", new(null) { MadeBy = key }, Ct)),
                ("a check code", () =>
                    ines.MakeKeyAsync("BRI-MILK", new(null) { MadeBy = "them", CheckCode = key[..20] }, Ct)
                ),
                ("a filter's name", () => ines.SaveFilterAsync(new(key, "tunnels", "state=planned", false), Ct)),
                ("a filter's text", () => ines.SaveFilterAsync(new("mine", "tunnels", $"q={key}", false), Ct)),
                ("a token's name", () => ines.MakeTokenAsync(new(key, 5), Ct)),
                ("a remark", () => ines.ActAsync(change, "remark", new(key, null), null, Ct)),
                ("proof", () => ines.AttemptAsync(change, 1, new("done", null, null, null, null, key), Ct)),
                ("proof in two fields", () =>
                    ines.AttemptAsync(change, 1, new("done", key[13..], null, null, null, key[..13]), Ct)
                ),
                ("an address that is asked for", () => ines.TunnelAsync(key, Ct)),
            }
        )
        {
            var refused = await Should.ThrowAsync<ServiceProblem>(write(), what);
            refused.Message.ShouldContain("pre-shared key", Case.Insensitive, what);
        }

        foreach (var (name, octets) in Packed($"psk {key}"))
            (
                await Should.ThrowAsync<ServiceProblem>(
                    ines.AttemptAsync(
                        change,
                        1,
                        new("done", null, null, null, null) { File = new(name, Convert.ToBase64String(octets)) },
                        Ct
                    ),
                    name
                )
            ).Message.ShouldContain("pre-shared key", Case.Insensitive, name);
        // What somebody's program says of itself, and a call's own key.
        using var bare = Asking.By(demo.Service, await demo.Service.ClientTokenAsync("ines"));
        bare.DefaultRequestHeaders.Add("Idempotency-Key", key);
        bare.DefaultRequestHeaders.TryAddWithoutValidation("User-Agent", $"browser {key}");
        await Asking.PostAsync(
            bare,
            "saved-filters",
            """{"name":"fine","list":"tunnels","filter":"","shared":false}""",
            Ct
        );
        await Asking.SignInAsync(bare, "ines", "cold-store-1", Ct);
        foreach (var file in Directory.GetFiles(demo.Service.Data))
            Encoding
                .Latin1.GetString(await RunningService.ReadSharedAsync(file, Ct))
                .Contains(key, StringComparison.OrdinalIgnoreCase)
                .ShouldBeFalse(file);
        demo.Service.Log.ShouldNotContain(key);
    }

    private static IEnumerable<(string Name, byte[] Octets)> Packed(string text)
    {
        var octets = Encoding.UTF8.GetBytes(text);
        byte[] By(Func<Stream, Stream> pack)
        {
            var whole = new MemoryStream();
            using (var packed = pack(whole))
                packed.Write(octets);
            return whole.ToArray();
        }

        yield return ("a.gz", By(s => new GZipStream(s, CompressionLevel.Optimal, true)));
        yield return ("a.zz", By(s => new ZLibStream(s, CompressionLevel.Optimal, true)));
        yield return ("a.br", By(s => new BrotliStream(s, CompressionLevel.Optimal, true)));
        var zipped = new MemoryStream();
        using (var zip = new ZipArchive(zipped, ZipArchiveMode.Create, true))
        using (var entry = zip.CreateEntry("saved.txt").Open())
            entry.Write(octets);
        yield return ("a.zip", zipped.ToArray());
        octets = zipped.ToArray();
        yield return ("a.zip.gz", By(s => new GZipStream(s, CompressionLevel.Optimal, true)));
    }
}
