using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Strengthening;

/// <summary>
/// Better protection, in stages where an end can hold several proposals: the new beside the old, proven, then the old
/// withdrawn.
/// </summary>
internal static class StrengthenPlan
{
    public static Planned Of(Inventory inventory, StrengthenRequest request, DateOnly today, CancellationToken ct)
    {
        var tunnel = inventory.Get<Tunnel>(request.TunnelId);
        var view = new TunnelView(inventory, tunnel, today);
        var suite = inventory.Find<Suite>(request.SuiteId);
        var (wanted, refused) = WantedProtection.Of(view, suite);
        if (wanted is null)
            return Planned.No(refused);
        var after = Protected(view, wanted, suite);
        // Both ends can hold several, and the version stays: the new stands before the old until it is proven.
        var staged =
            view.Version == wanted.Version
            && view.Ends.All(e => e.Platform.MostProposals > 1 && e.End.ProposalsFrom is null);
        var maker = new PlanMaker(
            inventory,
            inventory.With(after),
            [tunnel.Id],
            today,
            staged ? inventory.With(BesideOld(view, after, wanted)) : null,
            ct
        );
        maker.Prepare();
        maker.Safeguard();
        maker.WorkEnds();
        maker.Prove();
        maker.Record();
        var was = view.A.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault();
        var will = maker.Tunnels[0].Then.A.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault();
        return Planned.Yes(
            maker.Done(
                $"Protects {tunnel} with {(will is null ? "another suite" : will.ToString())} instead of "
                    + $"{(was is null ? "unknown proposals" : was.ToString())}.",
                [
                    Manner(maker.Tunnels[0], wanted, staged),
                    .. view.Ends.Where(e => e.End.ProposalsFrom is not null).Select(Shared),
                ]
            )
        );
    }

    /// <summary>The tunnel as it will be.</summary>
    private static Tunnel Protected(TunnelView view, WantedProtection wanted, Suite? suite)
    {
        var after = wanted.Values.Aggregate(view.Tunnel, (t, w) => t.WithAgreed(w.Setting, w.Value));
        // What a suite says is agreed by naming it.
        if (suite is not null)
            after = after with
            {
                Agreed = after.Agreed with
                {
                    SuiteId = suite.Id,
                    Both = wanted.Values.Aggregate(after.Agreed.Both, (set, w) => set.Without(w.Setting)),
                },
            };
        return after.WithEnds((_, end) => end with { ProposalsFrom = null });
    }

    /// <summary>The tunnel in between: the new before the old at both ends.</summary>
    private static Tunnel BesideOld(TunnelView view, Tunnel after, WantedProtection wanted) =>
        after.WithEnds(
            (name, end) =>
            {
                var was = view.End(name);
                if (
                    was.Get(Settings.IkeProposals).Value is { } oldIke
                    && wanted.Of(Settings.IkeProposals) is Several<IkeProposal> newIke
                )
                    end = end.WithSetting(Settings.IkeProposals, Both(newIke, oldIke));
                if (
                    was.Get(Settings.EspProposals).Value is { } oldEsp
                    && wanted.Of(Settings.EspProposals) is Several<EspProposal> newEsp
                )
                    end = end.WithSetting(Settings.EspProposals, Both(newEsp, oldEsp));
                // Groups of PFS belong to the proposals: a rekey between the two ends' activations has to find one in
                // common.
                if (
                    was.Get(Settings.Pfs).Value is { Stance: not PfsStance.Refused } oldPfs
                    && wanted.Of(Settings.Pfs) is Pfs { Stance: not PfsStance.Refused } newPfs
                )
                    end = end.WithSetting(Settings.Pfs, newPfs.Beside(oldPfs.Groups));
                return end;
            }
        );

    private static Several<T> Both<T>(Several<T> first, Several<T> then) => new([.. first.Items.Union(then.Items)]);

    private static VerdictPart Manner(TunnelStages t, WantedProtection wanted, bool staged)
    {
        var adding = Enum.GetValues<EndName>().Where(t.Adds).ToArray();
        if (!staged || adding.Length == 0)
            return new(Tone.Plain, $"In one step: {WhyInOneStep(t.Was, wanted)}.");
        return new(
            Tone.Plain,
            $"In stages: first the new proposals are added before the old ones at "
                + $"{(adding.Length == 2 ? "both ends" : adding[0].ToString()):w} and tested, then the old ones are removed."
        );
    }

    private static Sentence WhyInOneStep(TunnelView view, WantedProtection wanted)
    {
        if (view.Version != wanted.Version)
            return $"the version changes to {WordsOf.IkeVersions.Of(wanted.Version):w}";
        if (view.Ends.FirstOrDefault(e => e.End.ProposalsFrom is not null) is { } shared)
            return $"{shared.Name} uses the shared proposals {shared.End.ProposalsFrom!}";
        if (view.Ends.FirstOrDefault(e => e.Platform.MostProposals is null) is { } silent)
            return $"the profile of {silent.Platform.Title:w} does not say how many proposals it holds";
        return view.Ends.FirstOrDefault(e => e.Platform.MostProposals is 1) is { } one
            ? $"{one.Name} holds one proposal only"
            : Sentence.Of($"no end has both the old and the new proposals for a while");
    }

    private static VerdictPart Shared(EndView end)
    {
        var set = end.End.ProposalsFrom!;
        var tunnel = end.Tunnel;
        var others = tunnel.Inventory.UsersOf(end.Gateway.Id, set, tunnel.Tunnel.Id).Count();
        return new(
            Tone.Weak,
            $"At {end.Name} it used the shared proposals {set}. It gets its own; {set} stays for "
                + $"{Say.Count(others, "other tunnel"):w}."
        );
    }
}
