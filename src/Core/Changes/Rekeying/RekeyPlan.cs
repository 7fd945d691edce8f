using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>
/// New keys or certificates: tunnel by tunnel, both ends close together, and without a gap where an end can hold two.
/// </summary>
internal static class RekeyPlan
{
    public static Planned Of(Inventory inventory, RekeyRequest request, DateOnly today, CancellationToken ct)
    {
        var views = request
            .TunnelIds.Select(id => new TunnelView(inventory, inventory.Get<Tunnel>(id), today))
            .ToArray();
        var refused = views.Select(Refused).OfType<Refusal>().ToList();
        if (views.Length == 0)
            refused.Add(new(null, "tunnel", $"No tunnel is given.", $"Give at least one."));
        if (refused.Count > 0)
            return Planned.No(refused);
        var rekeys = views.Where(v => !ByCertificate(v)).Select(TunnelRekey.Of).ToArray();
        var maker = new PlanMaker(
            inventory,
            inventory.With(rekeys.Select(r => r.OnlyNew())),
            request.TunnelIds,
            today,
            between: inventory.With(rekeys.Select(r => r.BesideOld())),
            ct: ct
        )
        {
            EndsCloseTogether = true,
        };
        maker.Prepare();
        foreach (var rekey in rekeys)
        foreach (var key in rekey.Keys)
            maker.Add(MakeKey(rekey.View, key.Version));
        var certified = maker.Tunnels.Select(t => t.Then).Where(ByCertificate).ToArray();
        foreach (var view in certified)
            CertificateSteps.Prepare(maker, view);
        maker.Safeguard(everyGateway: certified.Length > 0);
        foreach (var view in certified)
            CertificateSteps.Install(maker, view);
        maker.WorkEnds();
        foreach (var view in certified)
            CertificateSteps.Switch(maker, view);
        foreach (var t in maker.Tunnels)
            maker.AddReauthentication(
                ProveAfresh(t.Then),
                $"with the new {(ByCertificate(t.Then) ? "certificates" : "key"):w}"
            );
        maker.Prove();
        maker.Record(certified.SelectMany(CertificateSteps.Record));
        ImmutableArray<KeyVersion> keys = [.. rekeys.SelectMany(r => r.Keys)];
        var plan = maker.Done(Opening(views, keys), rekeys.Select(r => WithoutGap(r.View)).OfType<VerdictPart>());
        return Planned.Yes(plan with { Keys = keys });
    }

    private static bool ByCertificate(TunnelView view) =>
        view.Ends.Any(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate);

    private static Refusal? Refused(TunnelView view) =>
        view.Tunnel.State is TunnelState.Planned or TunnelState.Retired
            ? new(
                null,
                "tunnel",
                $"{view.Tunnel} is {WordsOf.States.Of(view.Tunnel.State):w} and has no key.",
                $"Choose a tunnel that is in service."
            )
            : null;

    private static VerdictPart? WithoutGap(TunnelView view) =>
        view.Ends.Where(TunnelRekey.HoldsTwo).ToArray() switch
        {
            [] => null,
            [var one] => new(Tone.Plain, $"{view.Tunnel}: {one.Name} can have both keys during the rekey."),
            _ => new(Tone.Plain, $"{view.Tunnel}: both ends can have both keys during the rekey."),
        };

    /// <summary>The step that makes a version of a tunnel's key here.</summary>
    internal static Step MakeKey(TunnelView view, int version) =>
        new()
        {
            Key = $"prepare-key-{view.Tunnel.Code}-{version}",
            Kind = StepKind.MakeKey,
            Part = Part.Prepare,
            Minutes = 3,
            TunnelId = view.Tunnel.Id,
            Makes = version,
            Do = $"Make key version {version} of {view.Tunnel} here{HandedTo(view):w}.",
        };

    private static string HandedTo(TunnelView view) =>
        view.Ends.Select(StepWords.Asked).OfType<string>().Distinct().ToArray() is { Length: > 0 } others
            ? $", and hand it over to {Say.And(others)} by another channel than the sheet"
            : "";

    private static Step ProveAfresh(TunnelView view) =>
        new()
        {
            Key = $"prove-reauthentication-{view.Tunnel.Code}",
            Kind = StepKind.Prove,
            Part = Part.Prove,
            Minutes = 2,
            Do = $"Force {view.Tunnel} to reauthenticate: clear its IKE SA.",
            Proof = ByCertificate(view)
                ? Sentence.Of($"a new IKE SA, and the serial numbers of both certificates")
                : Sentence.Of($"a new IKE SA, and the check code of both ends"),
            TunnelId = view.Tunnel.Id,
        };

    private static Sentence Opening(TunnelView[] views, ImmutableArray<KeyVersion> keys)
    {
        if (views.Length > 1)
            return $"Replaces the keys of {Say.Count(views.Length, "tunnel"):w}, one tunnel after the other.";
        var tunnel = views[0].Tunnel;
        return keys.Length switch
        {
            0 => Sentence.Of($"Replaces the certificates of {tunnel}."),
            1 => Sentence.Of($"Replaces the key of {tunnel}: {Replacing(keys[0]):w}."),
            _ => Sentence.Of(
                $"Replaces the keys of {tunnel}, one for each direction: from A to B {Replacing(keys[0]):w}; from B to "
                    + $"A {Replacing(keys[1]):w}."
            ),
        };
    }

    private static string Replacing(KeyVersion key) =>
        key.Replaces.IsEmpty
            ? $"version {key.Version} for an unrecorded one"
            : $"version {key.Version} for version {string.Join(", ", key.Replaces)}";
}
