using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>New keys: the order that keeps the gap shortest, or closes it where an end can hold two.</summary>
public static class Rekey
{
    public static Planned Plan(Inventory inventory, RekeyWish wish, DateOnly today, CancellationToken ct = default)
    {
        var refused = new List<Refusal>();
        var (mid, after) = (new List<IRecord>(), new List<IRecord>());
        var keys = new List<KeyVersion>();
        var gaps = new List<VerdictPart>();
        foreach (var id in wish.TunnelIds)
        {
            var tunnel = inventory.Get<Tunnel>(id);
            var view = new TunnelView(inventory, tunnel, today);
            if (tunnel.State is TunnelState.Planned or TunnelState.Retired)
                refused.Add(
                    new(
                        null,
                        "tunnel",
                        $"{tunnel} is {WordsOf.States.Of(tunnel.State):w} and holds no key.",
                        $"A tunnel that is in service."
                    )
                );
            else if (view.Ends.Any(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate))
                refused.Add(
                    new(
                        null,
                        "tunnel",
                        $"{tunnel} authenticates with certificates.",
                        $"A renewal of certificates is another kind of change."
                    )
                );
            else
            {
                var held = view
                    .Ends.SelectMany(e => e.End.KeyHeld is { } k ? k.Send.Concat(k.Receive) : [])
                    .Distinct()
                    .Order()
                    .ToImmutableArray();
                var next = held.DefaultIfEmpty(0).Max() + 1;
                keys.Add(new(id, next, held));
                MapNode Hold(MapNode form, Func<EndView, IEnumerable<int>> versions) =>
                    view.Ends.Aggregate(form, (f, e) =>
                        Edits.Put(
                            f,
                            $"{e.Name.Key()}.keyHeld",
                            new MapWriter().Add("both", ListNode.OfTexts(versions(e))).Done()
                        )
                    );
                var form = AfterForm.Of(tunnel);
                // Where an end can hold two, the old one stays beside the new until the other end has it.
                mid.Add(
                    AfterForm.Read(
                        tunnel,
                        Hold(form, e =>
                            e.Platform.Keys?.HoldsTwo == true && e.End.KeyHeld is { } k
                                ? k.Send.Union(k.Receive).Append(next)
                                : [next]
                        )
                    )
                );
                after.Add(AfterForm.Read(tunnel, Hold(form, _ => [next])));
                var two = view
                    .Ends.Where(e => e.Platform.Keys?.HoldsTwo == true && e.End.KeyHeld is not null)
                    .ToArray();
                if (two.Length > 0)
                    gaps.Add(
                        new(
                            Tone.Plain,
                            two.Length == 2
                                ? Sentence.Of(
                                    $"{tunnel}: both ends can hold both keys while they are replaced, so that there is no gap."
                                )
                                : Sentence.Of(
                                    $"{tunnel}: {two[0].Name} can hold both keys while they are replaced, so that there is no gap."
                                )
                        )
                    );
            }
        }

        if (wish.TunnelIds.IsEmpty)
            refused.Add(new(null, "tunnel", $"No tunnel is named.", $"At least one."));
        if (refused.Count > 0)
            return Planned.No(refused);
        var maker = new PlanMaker(inventory, inventory.With(after), wish.TunnelIds, today, inventory.With(mid), ct);
        maker.Prepare();
        foreach (var k in keys)
        {
            var view = maker.Tunnels.First(t => t.Was.Tunnel.Id == k.TunnelId).Then;
            maker.Add(
                $"prepare-key-{view.Tunnel.Code}",
                Part.Prepare,
                null,
                3,
                $"Have key version {k.Version} of {view.Tunnel} made here{NewTunnel.HandedTo(view):w}."
            );
        }

        maker.Safeguard();
        maker.Work();
        foreach (var t in maker.Tunnels.Where(t => !Enum.GetValues<EndName>().Any(t.Adds)))
        {
            // From the first end that has the new key to the second, in the minutes of the steps between.
            var steps = maker.Steps.Where(s => s.Part == Part.Switch).ToList();
            bool Brings(Step s) =>
                (s.TunnelId == t.Then.Tunnel.Id && s.Enter.Any(v => v.Key == "key"))
                || (
                    s.Key.StartsWith("activate-", StringComparison.Ordinal)
                    && t.Then.Ends.Any(e => e.Gateway.Code == s.Gateway)
                );
            var (first, last) = (steps.FindIndex(Brings), steps.FindLastIndex(Brings));
            var gap = first < 0 ? 0 : steps[(first + 1)..(last + 1)].Sum(s => s.Minutes);
            gaps.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"{t.Then.Tunnel}: neither end can hold two keys, so that there is a gap, {Say.Count(gap, "minute"):w} by the steps: from when one has the new key until the other has it no authentication succeeds; what is up stays up until its next one, or until its device restarts it."
                    )
                )
            );
        }

        foreach (var t in maker.Tunnels)
            maker.Add(
                $"prove-afresh-{t.Then.Tunnel.Code}",
                Part.Prove,
                null,
                2,
                $"Have {t.Then.Tunnel} authenticate afresh: clear its IKE SA and let it come up with the new key.",
                proof: $"a new IKE SA, and the check code read from both ends",
                tunnel: t.Then.Tunnel.Id
            );
        maker.Prove();
        maker.Record();
        var plan = maker.Done(
            keys.Count == 1
                ? Sentence.Of(
                    $"Replaces the key of {maker.Tunnels[0].Then.Tunnel}: version {keys[0].Version} for {(keys[0].Replaces.IsEmpty ? "one that is not recorded" : $"version {string.Join(", ", keys[0].Replaces)}"):w}."
                )
                : Sentence.Of($"Replaces the keys of {Say.Count(keys.Count, "tunnel"):w}."),
            said: gaps
        );
        return new(plan with { Keys = [.. keys] }, []);
    }
}
