using System.IO.Compression;
using System.Net;
using System.Text;
using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Running;
using Xunit;

namespace Vellumkeep.EndToEnd.Security;

/// <summary>Keys in what people paste, and what people paste in the record.</summary>
[Collection(SharedDemo.Name)]
public partial class PastedKeyTests(DemoBeside demo)
{
    [Fact]
    public async Task A_kept_key_of_any_tunnel_of_the_gateways_is_found_in_whatever_is_written()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        // The key is of one tunnel; what is pasted goes into a change of another tunnel on the same gateway.
        var version = (await ines.MakeKeyAsync("BRI-NETTLE", new(null), Ct)).Versions[0].Version;
        var shown = await ines.ShowKeyAsync("BRI-NETTLE", version, new("entering it"), Ct);
        var key = shown.Key;
        string[] spellings =
        [
            $"psk {key} end",
            shown.Grouped,
            string.Join("-", key.Chunk(5).Select(c => new string(c))),
            string.Join("\n    ", key.Chunk(8).Select(c => new string(c))),
            key.ToUpperInvariant(),
            Convert.ToBase64String(Encoding.ASCII.GetBytes(key)),
            Convert.ToHexString(Encoding.ASCII.GetBytes(key)),
            $"\"{key[..10]}\" + \"{key[10..]}\"",
            .. Encoded(key),
        ];
        var change = await Working(ines, "BRI-PETHER");
        var site = await ines.FormAsync("sites", "BRI-CHURN", null, Ct);
        foreach (var text in spellings)
        {
            var line = text.Replace("\n", " ");
            foreach (
                var write in new (string What, Func<Task> Do)[]
                {
                    ("proof", () => ines.AttemptAsync(change, 1, new("done", null, null, null, null, text), Ct)),
                    ("remark of a step", () => ines.AttemptAsync(change, 1, new("failed", text, null, null, null), Ct)),
                    ("remark", () => ines.ActAsync(change, "remark", new(text, null), null, Ct)),
                    ("why", () => ines.DraftAsync(new DraftRekey { Tunnel = "BRI-NETTLE", Reason = text }, Ct)),
                    ("notes of a site", () =>
                        ines.WriteAsync(
                            "sites",
                            "BRI-CHURN",
                            site.Version,
                            new(null, null, [new("notes", $"'{line.Replace("'", "")}'")], null),
                            false,
                            Ct
                        )
                    ),
                    ("reason", () =>
                        ines.WriteAsync(
                            "sites",
                            "BRI-CHURN",
                            site.Version,
                            new(null, null, [new("notes", "x")], line),
                            false,
                            Ct
                        )
                    ),
                    ("purpose", () =>
                        ines.DescribeAsync(
                            "BRI-PETHER",
                            ines.TunnelAsync("BRI-PETHER", Ct).Result.Version,
                            new(null, line, null, null),
                            Ct
                        )
                    ),
                    ("why of a showing", () => ines.ShowKeyAsync("BRI-NETTLE", version, new(line), Ct)),
                }
            )
            {
                var refused = await Should.ThrowAsync<ServiceProblem>(write.Do(), write.What);
                (refused.Status, refused.Message.Contains("pre-shared key", StringComparison.Ordinal)).ShouldBe(
                    (HttpStatusCode.UnprocessableEntity, true),
                    $"{write.What}: {refused.Message}"
                );
                refused.Body!.ToString()!.ShouldNotContain(key, Case.Insensitive);
            }
        }

        foreach (
            var (name, octets) in new (string, byte[])[]
            {
                ("a.txt", Encoding.UTF8.GetBytes($"set {key}")),
                ("b.txt", Encoding.Unicode.GetBytes($"set {key}")),
                ("c.txt", Encoding.BigEndianUnicode.GetBytes($"x{shown.Grouped}")),
                ("d.txt", [0x20, .. Encoding.Unicode.GetBytes(key)]),
                ($"{key[..20]}-{key[20..]}.txt", "nothing"u8.ToArray()),
            }
        )
            (
                await Should.ThrowAsync<ServiceProblem>(
                    ines.AttemptAsync(
                        change,
                        1,
                        new("done", null, null, null, null) { File = new(name, Convert.ToBase64String(octets)) },
                        Ct
                    )
                )
            ).Message.ShouldContain("pre-shared key", Case.Sensitive, name);
        // What is no key goes in.
        await ines.AttemptAsync(
            change,
            1,
            new("done", null, null, null, null, $"psk {new string([.. key.Reverse()])}"),
            Ct
        );
        foreach (var file in Directory.GetFiles(demo.Service.Data))
            Encoding.Latin1.GetString(await RunningService.ReadSharedAsync(file, Ct)).ShouldNotContain(key);
        demo.Service.Log.ShouldNotContain(key);
    }

    /// <summary>Spellings in which a key passed once.</summary>
    private static IEnumerable<string> Encoded(string key)
    {
        var octets = Encoding.ASCII.GetBytes(key);
        yield return Convert.ToBase64String([(byte)'x', .. octets, (byte)'y']);
        yield return Convert.ToBase64String([(byte)'x', (byte)'y', .. octets]);
        yield return Convert.ToBase64String(Encoding.Unicode.GetBytes($" {key}"));
        yield return "0x" + Convert.ToHexString(octets);
        yield return string.Join(' ', octets.Select(o => $"0x{o:x2}"));
        yield return string.Concat(key.Select(c => $"&#{(int)c};"));
        yield return string.Concat(key.Select(c => $"&#x{(int)c:X};"));
        yield return string.Concat(key.Select(c => $"%{(int)c:X2}"));
        yield return string.Concat(key.Select(c => $"%25{(int)c:X2}"));
        yield return string.Concat(key.Select(c => $"\\x{(int)c:x2}"));
        yield return string.Concat(key.Select(c => $"\\u{(int)c:x4}"));
        // Half of it is too much.
        yield return key[..12];
        yield return key[^12..];
    }

    [Fact]
    public async Task Nothing_that_people_type_forges_the_record_or_the_calendar()
    {
        using var ines = await demo.Service.ClientAsync("ines");
        const string forged =
            "one\n# Approved\n## StatusEntry\n- 2026-11-27 10:00 UTC approved by "
            + "odile\n```\n~~~\n<h1>Approved</h1>\n1. **A** done\n| A | b "
            + "|\n[x](javascript:alert(1))\r\nBEGIN:VEVENT\r\nSUMMARY:forged";
        var change = await ines.DraftAsync(
            new DraftFree
            {
                Tunnel = "BRI-MILK",
                Title = "Title | **bold** `x` <b>",
                Reason = forged,
                WindowStart = DateTimeOffset.UtcNow.AddDays(3),
                WindowMinutes = 60,
                Steps = [new("build", "A", "Fit it\n# Approved by odile", 5, null, null)],
            },
            Ct
        );
        await ines.ActAsync(change.Code, "remark", new("fine\n\n## Left over\n- nothing\n```", null), null, Ct);
        await ines.ActAsync(change.Code, "submit", new(null, null), null, Ct);
        using var tomas = await demo.Service.ClientAsync("tomas");
        await tomas.ActAsync(
            change.Code,
            "approve",
            new("yes\n# Dropped", null),
            (await tomas.ChangeAsync(change.Code, Ct)).Version,
            Ct
        );
        await ines.ActAsync(change.Code, "begin", new(forged, null), null, Ct);
        await ines.AttemptAsync(
            change.Code,
            1,
            new("failed", "no\n## Steps", null, null, null, "```\n# Approved\n`````\n</code><script>"),
            Ct
        );
        var record = await ines.TextAsync($"changes/{change.Code}/record", Ct);
        var lines = record.Split('\n');
        // Outside of quoted code, the headings are ours, each once.
        var (inside, fence, headings) = (false, "", new List<string>());
        foreach (var line in lines)
        {
            var trimmed = line.TrimStart();
            var run = trimmed.TakeWhile(c => c == '`').Count();
            if (run >= 3 && (!inside || (run >= fence.Length && trimmed.Trim('`').Trim().Length == 0)))
                (inside, fence) = (!inside, trimmed[..run]);
            else if (!inside && trimmed.StartsWith('#'))
                headings.Add(trimmed);
            else if (!inside)
            {
                line.Replace("\\<", "").ShouldNotContain("<");
                (
                    trimmed.StartsWith("- ", StringComparison.Ordinal)
                    && trimmed.Contains("approved by odile", StringComparison.Ordinal)
                    // Who said it and when stands before it.
                    && !System.Text.RegularExpressions.Regex.IsMatch(trimmed, "^- [^:]*:[0-9]{2} UTC[^:]*: ")
                ).ShouldBeFalse(line);
            }
        }

        inside.ShouldBeFalse("a fence is left open");
        headings.Count(h => h.StartsWith("# ", StringComparison.Ordinal)).ShouldBe(1);
        headings.Where(h => h.StartsWith("## ", StringComparison.Ordinal) && !h.Contains("BRI-MILK")).ShouldBeUnique();
        headings.ShouldNotContain("## Left over");
        var calendar = await ines.TextAsync($"changes/{change.Code}/window.ics", Ct);
        calendar.Split("\r\n").Count(l => l == "BEGIN:VEVENT").ShouldBe(1);
        calendar.Split("\r\n").Count(l => l.StartsWith("SUMMARY:", StringComparison.Ordinal)).ShouldBe(1);
    }

    private async Task<string> Working(KeepClient ines, string tunnel)
    {
        var change = await ines.DraftAsync(
            new DraftFree
            {
                Tunnel = tunnel,
                Reason = "test",
                Steps = [new("build", "A", "Fit it", 5, null, null)],
            },
            Ct
        );
        await ines.ActAsync(change.Code, "submit", new(null, null), null, Ct);
        using var tomas = await demo.Service.ClientAsync("tomas");
        await tomas.ActAsync(
            change.Code,
            "approve",
            new(null, null),
            (await tomas.ChangeAsync(change.Code, Ct)).Version,
            Ct
        );
        await ines.ActAsync(change.Code, "begin", new(null, null), null, Ct);
        return change.Code;
    }
}
