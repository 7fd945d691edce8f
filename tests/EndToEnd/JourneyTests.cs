using Shouldly;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>The main job by command, from a file to a recorded change.</summary>
public class JourneyTests(DemoBeside demo) : IClassFixture<DemoBeside>
{
    [Fact]
    public async Task From_import_to_recorded_change_by_command()
    {
        async Task<string> Ok(string who, string line, int status = 0)
        {
            var (got, output, error) = await demo.Command(who, line);
            got.ShouldBe(status, $"{line}\n{output}\n{error}");
            return output;
        }

        // Import: a dry run changes nothing, the import adds, and a second import finds everything already so.
        (await Ok("ines", "import demo/walk/cheese-cave.yaml --dry-run", 1)).ShouldContain(
            "would add blocks PAIR-03 on BRI-CAVE"
        );
        (await demo.Command("ines", "tunnel show BRI-CAVE")).Status.ShouldBe(3);
        (await Ok("ines", "import demo/walk/cheese-cave.yaml", 1)).ShouldContain("New 3 · Altered 0 · Same 0");
        (await Ok("ines", "import demo/walk/cheese-cave.yaml")).ShouldContain("New 0 · Altered 0 · Same 3");

        // Look, correct and confirm.
        System
            .Text.RegularExpressions.Regex.Replace(await Ok("ines", "tunnel show BRI-CAVE", 1), "\\s+", " ")
            .ShouldContain("No IKE proposal in common, integrity, PRF and DH group differ");
        var (refused, _, why) = await demo.Command(
            "ines",
            "tunnel correct BRI-CAVE --end B --row ikeProposals --value 'AES-256-CBC + SHA256 + DH 14'"
        );
        (refused, why).ShouldSatisfyAllConditions(
            r => r.refused.ShouldBe(2),
            r => r.why.ShouldContain("needs a reason")
        );
        (
            await Ok(
                "ines",
                "tunnel correct BRI-CAVE --end B --row ikeProposals --value 'AES-256-CBC + SHA256 + DH 14' "
                    + "--reason 'read wrong from the screen' --how read"
            )
        ).ShouldContain("Corrected: BRI-CAVE IKE proposals");
        (await Ok("ines", "tunnel confirm BRI-CAVE --end A --row pfs espLifetime --how read")).ShouldContain(
            "Confirmed: BRI-CAVE PFS: A required DH 14"
        );
        (
            await demo.Command("ines", "tunnel confirm BRI-CAVE --end A --row pfs --how read --value 'required DH 16'")
        ).Error.ShouldContain("correct it with a reason");
        (await Ok("ines", "tunnel list --find 10.62.30.77")).ShouldContain("BRI-CAVE");
        (await Ok("ines", "tunnel list --find 10.62.30.77")).ShouldNotContain("BRI-PETHER");

        // Draft, with an overlap refused first.
        var (no, _, overlap) = await demo.Command(
            "ines",
            "change draft subnets BRI-CAVE --end A --add 10.62.30.0/26 --reason test"
        );
        (no, overlap).ShouldSatisfyAllConditions(
            r => r.no.ShouldBe(2),
            r => r.overlap.ShouldContain("would overlap 10.62.30.0/24")
        );
        (
            await demo.Command("ines", "change draft subnets BRI-CAVE --end A --add 10.61.40.7/24 --reason test")
        ).Error.ShouldContain("10.61.40.0/24 for the network");
        var plan = await Ok("ines", "change draft subnets BRI-CAVE --end A --add 10.61.40.0/24 --reason 'cold store'");
        var code = plan.Split(' ')[0];
        plan.ShouldContain("Allow inbound 10.61.40.0/24 → 10.62.30.0/24");
        plan.ShouldContain("BRI-CAVE restarts, 20 seconds");

        // Review by somebody else, never by the author.
        await Ok("ines", $"change submit {code}");
        (await demo.Command("ines", $"change review {code} --approve")).ShouldSatisfyAllConditions(
            r => r.Status.ShouldBe(5),
            r => r.Error.ShouldContain("needs the role reviewer")
        );
        await Ok("tomas", $"change review {code} --approve --remark 'looks right'");
        await Ok("ines", $"change begin {code}");

        // Work: a failed step, tried again; a skipped one with its reason; a deviation; the rest done.
        (await demo.Command("ines", $"change step {code} 1 --failed")).Error.ShouldContain("Enter what happened");
        (await Ok("ines", $"change step {code} 1 --failed --remark 'modem silent'")).ShouldContain(
            "Step 1 failed: modem silent."
        );
        (await demo.Command("ines", $"change close {code}")).ShouldSatisfyAllConditions(
            r => r.Status.ShouldBe(5),
            r => r.Error.ShouldContain("cannot close")
        );
        using var client = await demo.Service.ClientAsync("ines");
        foreach (var step in (await client.ChangeAsync(code, Ct)).Steps)
            await Ok(
                "ines",
                step.Key == "subnets-remote-b-BRI-CAVE"
                        ? $"change step {code} {step.Number} --done --set-to 10.61.40.0/25 --reason 'only the lower "
                            + $"half is in use'"
                    : step.Key == "fails-before-BRI-CAVE"
                        ? $"change step {code} {step.Number} --skip --reason 'nobody at the cave yet'"
                    : $"change step {code} {step.Number} --done{(step.NeedsProof ? " --proof '5 of 5'" : "")}"
            );
        (await Ok("ines", $"change close {code}")).ShouldContain("was set to 10.61.40.0/25, not 10.61.40.0/24");

        // The inventory is what was built, and the history tells who, when and under which change.
        (await Ok("bram", "findings --tunnel BRI-CAVE --code PAIR-06")).ShouldContain(
            "A has 10.61.40.0/24 as a local subnet; B has only 10.61.40.0/25 of it as a remote subnet."
        );
        var history = await Ok("bram", "tunnel history BRI-CAVE");
        history.ShouldContain($"ines     close {code}");
        history.ShouldContain("b.subnets: nothing → remote 10.61.0.0/24, 10.61.40.0/25 confirmed typed");
        history.ShouldContain("correct  read wrong from the screen");
    }

    [Fact]
    public async Task Backing_out_leaves_the_inventory_as_it_was()
    {
        var before = (await demo.Command("ines", "export --customer SAL")).Out;
        // Its window is tonight.
        (await demo.Command("ines", "change begin SAL-0001 --reason 'to see it backed out'")).Status.ShouldBe(0);
        (await demo.Command("ines", "change step SAL-0001 1 --done")).Status.ShouldBe(0);
        (await demo.Command("ines", "change back-out SAL-0001")).Error.ShouldContain("Enter the reason");
        (await demo.Command("ines", "change back-out SAL-0001 --remark 'the pier is flooded'")).Out.ShouldContain(
            "The records are as they were."
        );
        (await demo.Command("ines", "export --customer SAL")).Out.ShouldBe(before);
    }

    [Fact]
    public async Task What_is_exported_imports_to_no_change()
    {
        var file = Path.Combine(demo.Service.Data, "all.yaml");
        (await demo.Command("odile", $"export --output {file}")).Status.ShouldBe(0);
        var (status, output, _) = await demo.Command("odile", $"import {file}");
        output.ShouldContain("New 0 · Altered 0");
        status.ShouldBe(0);
    }

    [Fact]
    public async Task Signing_in_keeps_a_token_for_the_owner_only_and_wrong_use_and_no_service_have_their_status()
    {
        (await demo.Service.CommandAsync("today")).Status.ShouldBe(5);
        (
            await demo.Service.CommandAsync($"sign-in --url {demo.Service.Url} --name bram", "wrong\n")
        ).ShouldSatisfyAllConditions(r => r.Status.ShouldBe(5), r => r.Error.ShouldContain("Wrong name or password"));
        (
            await demo.Service.CommandAsync($"sign-in --url {demo.Service.Url} --name bram", "cold-store-4\n")
        ).Status.ShouldBe(0);
        var kept = Path.Combine(demo.Service.Data, "config/vellumkeep/session.json");
        File.GetUnixFileMode(kept).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
        (await demo.Service.CommandAsync("tunnel list --customer BRI --json")).Out.ShouldContain(
            "\"code\": \"BRI-ASHLOW\""
        );
        (await demo.Service.CommandAsync("tunnel nonsense")).Status.ShouldBe(2);
        (
            await demo.Service.CommandAsync(
                "tunnel list",
                token: "x",
                environment: new Dictionary<string, string> { ["VELLUMKEEP_URL"] = "http://127.0.0.1:9" }
            )
        ).Status.ShouldBe(6);
    }
}
