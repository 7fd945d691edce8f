using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Changes.Rekeying;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.NewTunnels;

/// <summary>A tunnel that is recorded as planned is built, at both ends.</summary>
internal static class NewTunnelPlan
{
    public static Planned Of(Inventory inventory, NewTunnelRequest request, DateOnly today, CancellationToken ct)
    {
        var tunnels = request.Tunnels.Select(inventory.Get<Tunnel>).ToArray();
        var refused = tunnels.Where(t => t.State is not (TunnelState.Planned or TunnelState.Building)).ToArray();
        if (refused.Length > 0)
            return Planned.No(
                refused.Select(t => new Refusal(
                    null,
                    "tunnel",
                    $"{t} is {WordsOf.States.Of(t.State):w}.",
                    $"Choose a tunnel that is planned."
                ))
            );
        var keys = tunnels.Select(t => KeyOf(new(inventory, t, today))).ToArray();
        var built = tunnels.Zip(keys, (t, key) => Built(inventory, t, key, today));
        // While planned nothing of it is looked at; what building it would do is what counts.
        var maker = new PlanMaker(inventory, inventory.With(built), request.Tunnels, today, ct: ct);
        var views = maker.Tunnels.Select(t => t.Then).ToArray();
        maker.Prepare();
        foreach (var (view, key) in views.Zip(keys))
            if (key is { } version)
                maker.Add(RekeyPlan.MakeKey(view, version));
            else
                CertificateSteps.Prepare(maker, view);
        maker.Safeguard();
        maker.WorkEnds();
        maker.Prove();
        maker.Record();
        return Planned.Yes(
            maker.Done(Opening(views), views.SelectMany(Wrong)) with
            {
                NewPairs = [.. tunnels.SelectMany(t => t.Agreed.Pairs)],
                Keys =
                [
                    .. tunnels
                        .Zip(keys)
                        .Where(k => k.Second is not null)
                        .Select(k => new KeyVersion(k.First.Id, k.Second!.Value, [])),
                ],
            }
        );
    }

    /// <summary>The version of the key that it gets; null where it authenticates otherwise.</summary>
    private static int? KeyOf(TunnelView view) =>
        view.Ends.Any(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate)
            ? null
            : Math.Max(1, view.Tunnel.A.KeyHeld?.Send.DefaultIfEmpty(1).Max() ?? 1);

    /// <summary>
    /// The tunnel as it will be: in service, with its key, and with everything that its ends have entered.
    /// </summary>
    private static Tunnel Built(Inventory inventory, Tunnel tunnel, int? key, DateOnly today)
    {
        var built = tunnel with { State = TunnelState.InService, Since = today };
        if (key is { } version)
            built = built.WithEnds((_, end) => end with { KeyHeld = end.KeyHeld ?? new([version], [version]) });
        return new TunnelView(inventory.With(built), built, today).WithEntered();
    }

    private static Sentence Opening(TunnelView[] views) =>
        views.Length == 1
            ? Opening(views[0])
            : $"Builds {Say.And(views.Select(v => v.Tunnel.Code)):w} together, {Say.Count(views.Length, "tunnel"):w}.";

    private static Sentence Opening(TunnelView then)
    {
        var initiator = then.Ends.FirstOrDefault(e => e.Get(Settings.Initiation).Value?.Value == Initiation.Always);
        var with = then.A.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault();
        return $"Builds {then.Tunnel} between {then.A.Site.Name:w} and "
            + $"{then.B.Site.Name:w}{(with is null ? "" : $", protected by {with}"):w}; "
            + $"{(initiator is null ? "neither end initiates" : $"{initiator.Name} initiates"):w}.";
    }

    /// <summary>What was wrong with it while it was only planned stops it once it is built.</summary>
    private static IEnumerable<VerdictPart> Wrong(TunnelView then) =>
        Checks
            .Run(new(then))
            .Where(f => f.Severity == Severity.Blocks && f.Subject != "pending")
            .Take(3)
            .Select(f => new VerdictPart(Tone.Stops, f.Consequence ?? f.What));
}
