using Shouldly;
using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Resolution;
using Xunit;

namespace Vellumkeep.Core.Tests;

/// <summary>What carries the traffic when a tunnel is dead: the next place of its order, and after how long.</summary>
public class FallBackTests
{
    private static string? Told(Tunnel tunnel, Inventory? among = null) =>
        FallBack.Of(new TunnelView((among ?? DemoInventory.All).With(tunnel), tunnel, DemoInventory.Today))?.ToString();

    private static Tunnel First => DemoInventory.Tunnel("QUI-BRI") with { Fallback = new("QUI-BRI", 1) };

    private static Tunnel Second => DemoInventory.Tunnel("QUI-BRI-2");

    [Fact]
    public void The_next_place_of_the_same_order_takes_over()
    {
        Told(First)!.ShouldStartWith("Next in QUI-BRI is QUI-BRI-2");
        Told(First with { Fallback = null }).ShouldBeNull();
        Told(First with { Fallback = new("QUI-BRI", 3) }).ShouldBeNull();
        (Told(First with { Fallback = new("QUI-SAL", 1) }) ?? "").ShouldNotContain("QUI-BRI-2");
    }

    [Fact]
    public void Of_several_the_nearest_place_is_next()
    {
        var third = Second with { Id = "tunnel:third", Code = "QUI-BRI-3", Fallback = new("QUI-BRI", 3) };
        Told(First, DemoInventory.All.With(third))!.ShouldStartWith("Next in QUI-BRI is QUI-BRI-2");
        Told(First, DemoInventory.All.With(third, Second with { Fallback = new("QUI-BRI", 4) }))!
            .ShouldStartWith("Next in QUI-BRI is QUI-BRI-3");
    }

    [Fact]
    public void One_that_is_retired_takes_nothing_over()
    {
        Told(First, DemoInventory.All.With(Second with { State = TunnelState.Retired })).ShouldBeNull();
    }

    [Fact]
    public void Each_end_is_told_when_it_notices_or_that_nobody_knows()
    {
        var view = new TunnelView(DemoInventory.All.With(First), First, DemoInventory.Today);
        var told = Told(First)!;
        foreach (var end in view.Ends)
            if (Detection.Of(end, "", "").Seconds is { } seconds)
                told.ShouldContain($"traffic from {end.Name} after {seconds:0.#} s");
            else
                told.ShouldContain($"traffic from {end.Name} after an unknown time");
        var off = First with { A = Off(First.A), B = Off(First.B) };
        Told(off)!.ShouldContain("traffic from A after an unknown time, traffic from B after an unknown time");
    }

    private static TunnelEnd Off(TunnelEnd end) =>
        end with
        {
            Set = end.Set.With(Settings.Dpd, Recorded<Dpd>.Known(Dpd.Parse("off").Value!)),
        };

    [Fact]
    public void One_that_does_not_come_up_itself_is_told_to_be_no_help()
    {
        var down = Second with
        {
            B = Second.B with { Set = Second.B.Set.With(Settings.IkeVersions, Only(IkeVersion.IKEv1)) },
            A = Second.A with { Set = Second.A.Set.With(Settings.IkeVersions, Only(IkeVersion.IKEv2)) },
        };
        Told(First, DemoInventory.All.With(down))!.ShouldContain("does not come up");
        Told(First)!.ShouldNotContain("does not come up");
    }

    private static Recorded<Several<IkeVersion>> Only(IkeVersion version) =>
        Recorded<Several<IkeVersion>>.Known(new([version]));
}
