using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Sums;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes;

/// <summary>
/// Better protection, in stages where an end can hold several proposals: the new beside the old, proven, then the old
/// withdrawn.
/// </summary>
public static class Strengthen
{
    public static Planned Plan(Inventory inventory, StrengthenWish wish, DateOnly today, CancellationToken ct = default)
    {
        var tunnel = inventory.Get<Tunnel>(wish.TunnelId);
        var view = new TunnelView(inventory, tunnel, today);
        if (tunnel.State is TunnelState.Planned or TunnelState.Retired)
            return Planned.No([
                new(
                    null,
                    "tunnel",
                    $"{tunnel} is {WordsOf.States.Of(tunnel.State):w}.",
                    $"A tunnel that is in service."
                ),
            ]);
        var (pa, pb) = (view.A.Platform, view.B.Platform);
        var form = AfterForm.Of(tunnel);
        var suite = inventory.Find<Suite>(wish.SuiteId);
        var version = suite?.Settings.Get(Settings.IkeVersions)?.Value?.Items.Max()
            ?? new[] { IkeVersion.IKEv2, IkeVersion.IKEv1 }
                .Where(v => pa.IkeVersions.Contains(v) && pb.IkeVersions.Contains(v))
                .Select(v => (IkeVersion?)v)
                .FirstOrDefault();
        if (version is not { } ikev || !pa.IkeVersions.Contains(ikev) || !pb.IkeVersions.Contains(ikev))
            return Planned.No([
                new(
                    "PAIR-01",
                    "suite",
                    $"{pa.Title:w} at {EndName.A} and {pb.Title:w} at {EndName.B} do not both speak {(version is { } v ? WordsOf.IkeVersions.Of(v) : "one version"):w}.",
                    $"A suite for a version that both speak, or another platform first."
                ),
            ]);
        var wanted = new List<(Setting Setting, object Value)>();
        if (suite is not null)
        {
            foreach (var setting in suite.Settings.Said.Where(s => s.Negotiated))
                if (suite.Settings.GetRaw(setting) is { } raw && setting.ValueOf(raw) is { } value)
                    wanted.Add((setting, value));
            var refused = new List<Refusal>();
            foreach (var end in view.Ends)
                if (
                    Members(wanted).Distinct().Where(m => end.Platform.Can(m, ikev) == false).ToArray() is
                    { Length: > 0 } cannot
                )
                    refused.Add(
                        new(
                            "PAIR-02",
                            "suite",
                            $"{end.Platform.Title:w} at {end.Name} cannot do {Say.And(cannot)} under {WordsOf.IkeVersions.Of(ikev):w}, which {suite.Code} asks for.",
                            $"The strongest that both can do (leave the suite out), or another platform first."
                        )
                    );
            if (refused.Count > 0)
                return Planned.No(refused);
        }
        else
        {
            var (strongest, esp) = (CommonGround.Strongest(pa, pb, ikev), NewTunnel.StrongestEsp(pa, pb, ikev));
            if (strongest is null || esp is null)
                return Planned.No([
                    new(
                        "PAIR-02",
                        "suite",
                        $"{pa.Title:w} and {pb.Title:w} can do nothing in common that may still be used.",
                        $"Replace the older platform first."
                    ),
                ]);
            wanted.Add((Settings.IkeVersions, new Several<IkeVersion>([ikev])));
            wanted.Add((Settings.IkeProposals, new Several<IkeProposal>([strongest])));
            wanted.Add((Settings.EspProposals, new Several<EspProposal>([esp])));
            if (
                pa.PfsStances?.Contains(PfsStance.Required) != false
                && pb.PfsStances?.Contains(PfsStance.Required) != false
            )
                wanted.Add((Settings.Pfs, Pfs.Parse($"required {strongest.Group.Name}").Value));
        }

        // What was temporary until then ends with it.
        var same = wanted.All(w =>
            view.Ends.All(e =>
                w.Setting.On(e) is { Any: { } now, Source: not Source.Default } r
                && now.Equals(w.Value)
                && r.Until is null
            )
        );
        if (same)
            return Planned.No([
                new(
                    null,
                    "suite",
                    $"{tunnel} is protected so already at both ends.",
                    $"Another suite, or leave it as it is."
                ),
            ]);
        var then = wanted.Aggregate(form, (f, w) => AfterForm.Agree(f, w.Setting, w.Value));
        if (suite is not null)
        {
            then = Edits.Put(then, "agreed.suite", suite.Id);
            foreach (var (setting, _) in wanted)
                then = Edits.Put(then, $"agreed.{setting.Key}", null);
        }

        foreach (var end in view.Ends.Where(e => e.End.ProposalsFrom is not null))
            then = Edits.Put(then, $"{end.Name.Key()}.proposalsFrom", null);
        var after = AfterForm.Read(tunnel, then);
        Tunnel? mid = null;
        // Both ends can hold several, and the version stays: the new stands before the old until it is proven.
        if (view.Version == ikev && view.Ends.All(e => e.Platform.MostProposals > 1 && e.End.ProposalsFrom is null))
        {
            var between = then;
            foreach (var end in view.Ends)
            {
                if (
                    end.Get(Settings.IkeProposals).Value is { } oldIke
                    && wanted.FirstOrDefault(w => w.Setting == Settings.IkeProposals).Value
                        is Several<IkeProposal> newIke
                )
                    between = Edits.Put(
                        between,
                        $"{end.Name.Key()}.set.ikeProposals",
                        ListNode.OfTexts(newIke.Items.Union(oldIke.Items))
                    );
                if (
                    end.Get(Settings.EspProposals).Value is { } oldEsp
                    && wanted.FirstOrDefault(w => w.Setting == Settings.EspProposals).Value
                        is Several<EspProposal> newEsp
                )
                    between = Edits.Put(
                        between,
                        $"{end.Name.Key()}.set.espProposals",
                        ListNode.OfTexts(newEsp.Items.Union(oldEsp.Items))
                    );
                // Groups of PFS belong to the proposals: a rekey between the two ends' activations has to find one in
                // common.
                if (
                    end.Get(Settings.Pfs).Value is { Stance: not PfsStance.Refused } oldPfs
                    && wanted.FirstOrDefault(w => w.Setting == Settings.Pfs).Value
                        is Pfs { Stance: not PfsStance.Refused } newPfs
                )
                    between = Edits.Put(
                        between,
                        $"{end.Name.Key()}.set.pfs",
                        string.Join(
                            ", ",
                            [newPfs.ToString(), .. oldPfs.Groups.Except(newPfs.Groups).Select(g => g.Name)]
                        )
                    );
            }

            mid = AfterForm.Read(tunnel, between);
        }

        var maker = new PlanMaker(
            inventory,
            inventory.With(after),
            [tunnel.Id],
            today,
            mid is null ? null : inventory.With(mid),
            ct
        );
        maker.Prepare();
        maker.Safeguard();
        maker.Work();
        maker.Prove();
        maker.Record();
        var (was, will) = (
            view.A.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault(),
            maker.Tunnels[0].Then.A.Get(Settings.IkeProposals).Value?.Items.FirstOrDefault()
        );
        var said = new List<VerdictPart>
        {
            new(
                Tone.Plain,
                mid is not null
                    ? Sentence.Of(
                        $"In stages: the new proposals stand before the old at both ends, are proven, and the old are withdrawn."
                    )
                    : Sentence.Of(
                        $"In one stroke: {(view.Version != ikev ? $"the version moves to {WordsOf.IkeVersions.Of(ikev)}" : "one of the ends holds one proposal only"):w}."
                    )
            ),
        };
        foreach (var end in view.Ends.Where(e => e.End.ProposalsFrom is not null))
            said.Add(
                new(
                    Tone.Weak,
                    Sentence.Of(
                        $"At {end.Name} it used the shared set {end.End.ProposalsFrom!}; it gets its own, and the set stays for {Say.Count(inventory.UsersOf(end.Gateway.Id, end.End.ProposalsFrom!, tunnel.Id).Count(), "other tunnel"):w}."
                    )
                )
            );
        return new(
            maker.Done(
                Sentence.Of(
                    $"Protects {tunnel} with {(will is null ? "another suite" : will.ToString())} instead of {(was is null ? "what is not known" : was.ToString())}."
                ),
                said: said
            ),
            []
        );
    }

    private static IEnumerable<string> Members(IEnumerable<(Setting, object Value)> wanted) =>
        wanted.SelectMany(w =>
            w.Value switch
            {
                Several<IkeProposal> ike => ike.Items.SelectMany(p => Strength.Members(p).Select(m => m.Name)),
                Several<EspProposal> esp => esp.Items.SelectMany(p => Strength.Members(p).Select(m => m.Name)),
                _ => [],
            }
        );
}
