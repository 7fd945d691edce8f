using Shouldly;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using Xunit;

namespace Vellumkeep.EndToEnd;

public abstract partial class ChangeTests
{
    [Fact]
    public async Task A_platform_is_replaced_from_plan_to_record_by_command()
    {
        var (status, text, _) = await demo.Command(
            "odile",
            "change draft platform tid-main-gw alderquay-major@1 --reason support-has-ended"
        );
        status.ShouldBeInRange(0, 1);
        text.ShouldContain("AES-128-CBC + HMAC-SHA1-96");
        var code = text.Split(' ')[0];
        using var odile = await demo.Service.ClientAsync("odile");
        var change = await odile.ChangeAsync(code, Ct);
        // What old boxes did automatically is entered now; what the new one does automatically is not.
        change.Translations.ShouldContain(t =>
            t.Tunnel == "TID-PUMP"
            && t.What == "NAT traversal"
            && t.Carries == "kept"
            && t.Before == "never, by default"
        );
        change.Translations.ShouldContain(t =>
            t.Tunnel == "TID-PUMP" && t.What == "IKE proposals" && t.Carries == "changed" && t.After!.Contains("DH 5")
        );
        change.Translations.ShouldNotContain(t => t.Carries == "impossible");
        change
            .Steps.First(s => s.Key.StartsWith("cut-", StringComparison.Ordinal))
            .Stops!.Text.ShouldContain("TID-PUMP carries no traffic from here to step");
        await demo.Command("odile", $"change submit {code}");
        (await demo.Command("tomas", $"change review {code} --approve")).Status.ShouldBe(0);
        await demo.Command("odile", $"change begin {code}");
        foreach (var step in change.Steps)
            (await demo.Command("odile", $"change step {code} {step.Number} --done --proof ok")).Error.ShouldBe("");
        (await demo.Command("odile", $"change close {code}")).Out.ShouldContain("Done by odile");
        (await demo.Command("odile", "gateway show tid-main-gw")).Out.ShouldContain("Alderquay Major");
        (await demo.Command("odile", "tunnel show TID-PUMP --all")).Out.ShouldContain("AES-128-CBC");
        (await demo.Command("odile", $"change record {code}")).Out.ShouldStartWith(
            $"# {code} Move tid-main-gw to Alderquay Major"
        );
    }
}
