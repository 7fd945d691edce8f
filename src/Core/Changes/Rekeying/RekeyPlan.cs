using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>New keys: the order that keeps the gap shortest, or closes it where an end can hold two.</summary>
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
        var keys = views.Select(NextKey).ToImmutableArray();
        var steps = views.Zip(keys, (view, key) => (view, key.Version)).ToArray();
        var maker = new PlanMaker(
            inventory,
            inventory.With(steps.Select(s => OnlyNew(s.view.Tunnel, s.Version))),
            request.TunnelIds,
            today,
            between: inventory.With(steps.Select(s => BesideOld(s.view, s.Version))),
            ct: ct
        );
        maker.Prepare();
        foreach (var (tunnel, key) in maker.Tunnels.Zip(keys))
            maker.Add(MakeKey(tunnel.Then, key.Version));
        maker.Safeguard();
        maker.WorkEnds();
        var gaps = views.Select(WithoutGap).OfType<VerdictPart>().Concat(Gaps(maker)).ToArray();
        foreach (var t in maker.Tunnels)
            maker.Add(ProveAfresh(t.Then.Tunnel));
        maker.Prove();
        maker.Record();
        return Planned.Yes(maker.Done(Opening(maker.Tunnels[0].Then.Tunnel, keys), gaps) with { Keys = keys });
    }

    private static Refusal? Refused(TunnelView view)
    {
        var tunnel = view.Tunnel;
        if (tunnel.State is TunnelState.Planned or TunnelState.Retired)
            return new(
                null,
                "tunnel",
                $"{tunnel} is {WordsOf.States.Of(tunnel.State):w} and has no key.",
                $"Choose a tunnel that is in service."
            );
        return view.Ends.Any(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate)
            ? new(
                null,
                "tunnel",
                $"{tunnel} authenticates with certificates.",
                $"Plan a free change for new certificates."
            )
            : null;
    }

    private static KeyVersion NextKey(TunnelView view)
    {
        var held = view
            .Ends.Select(e => e.End.KeyHeld)
            .OfType<KeyHeld>()
            .SelectMany(k => k.Send.Concat(k.Receive))
            .Distinct()
            .Order()
            .ToImmutableArray();
        return new(view.Tunnel.Id, held.DefaultIfEmpty(0).Max() + 1, held);
    }

    /// <summary>The tunnel with the new key alone at both ends.</summary>
    private static Tunnel OnlyNew(Tunnel tunnel, int version) =>
        tunnel.WithEnds((_, end) => end with { KeyHeld = new([version], [version]) });

    /// <summary>Where an end can hold two, the old one stays beside the new until the other end has it.</summary>
    private static Tunnel BesideOld(TunnelView view, int version) =>
        view.Tunnel.WithEnds(
            (name, end) =>
            {
                ImmutableArray<int> versions =
                    HoldsTwo(view.End(name)) && end.KeyHeld is { } held
                        ? [.. held.Send.Union(held.Receive).Append(version)]
                        : [version];
                return end with { KeyHeld = new(versions, versions) };
            }
        );

    private static bool HoldsTwo(EndView end) => end.Platform.Keys?.HoldsTwo == true && end.End.KeyHeld is not null;

    private static VerdictPart? WithoutGap(TunnelView view) =>
        view.Ends.Where(HoldsTwo).ToArray() switch
        {
            [] => null,
            [var one] => new(
                Tone.Plain,
                $"{view.Tunnel}: {one.Name} can have both keys during the rekey, so there is no interruption."
            ),
            _ => new(
                Tone.Plain,
                $"{view.Tunnel}: both ends can have both keys during the rekey, so there is no interruption."
            ),
        };

    /// <summary>From the first end that has the new key to the second, in the minutes of the steps between.</summary>
    private static IEnumerable<VerdictPart> Gaps(PlanMaker maker)
    {
        var switching = maker.Steps.Where(s => s.Part == Part.Switch).ToList();
        foreach (var t in maker.Tunnels.Where(t => !Enum.GetValues<EndName>().Any(t.Adds)))
        {
            bool Brings(Step s) =>
                (s.TunnelId == t.Then.Tunnel.Id && s.Enter.Any(v => v.At?.Path.IsWithin(Held(s)) == true))
                || (s.Kind == StepKind.Activate && t.Then.Ends.Any(e => e.Gateway.Code == s.Gateway));
            var (first, last) = (switching.FindIndex(Brings), switching.FindLastIndex(Brings));
            var gap = first < 0 ? 0 : switching[(first + 1)..(last + 1)].Sum(s => s.Minutes);
            yield return new(
                Tone.Weak,
                $"{t.Then.Tunnel}: neither end can have two keys. From the first end's new key to the other's, "
                    + $"{Say.Count(gap, "minute"):w} by the steps, no authentication succeeds. A tunnel that is up "
                    + $"stays up until its next one, or until a device restarts it."
            );
        }
    }

    private static FieldPath Held(Step step) => TunnelPaths.Of(step.Where == Where.A ? EndName.A : EndName.B).KeyHeld;

    /// <summary>The step that makes a version of a tunnel's key here.</summary>
    internal static Step MakeKey(TunnelView view, int version) =>
        new()
        {
            Key = $"prepare-key-{view.Tunnel.Code}",
            Kind = StepKind.MakeKey,
            Part = Part.Prepare,
            Minutes = 3,
            Do = $"Make key version {version} of {view.Tunnel} here{HandedTo(view):w}.",
        };

    private static string HandedTo(TunnelView view) =>
        view.Ends.Select(StepWords.Asked).OfType<string>().Distinct().ToArray() is { Length: > 0 } others
            ? $", and hand it over to {Say.And(others)} by another channel than the sheet"
            : "";

    private static Step ProveAfresh(Tunnel tunnel) =>
        new()
        {
            Key = $"prove-reauthentication-{tunnel.Code}",
            Kind = StepKind.Prove,
            Part = Part.Prove,
            Minutes = 2,
            Do = $"Force {tunnel} to reauthenticate: clear its IKE SA. Expect it to come up with the new key.",
            Proof = $"a new IKE SA, and the check code of both ends",
            TunnelId = tunnel.Id,
        };

    private static Sentence Opening(Tunnel first, ImmutableArray<KeyVersion> keys) =>
        keys.Length == 1
            ? Sentence.Of(
                $"Replaces the key of {first}: version {keys[0].Version} for "
                    + $"{(keys[0].Replaces.IsEmpty ? "an unrecorded one" : $"version {string.Join(", ", keys[0].Replaces)}"):w}."
            )
            : Sentence.Of($"Replaces the keys of {Say.Count(keys.Length, "tunnel"):w}.");
}
