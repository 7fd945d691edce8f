using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>Keys, proposals, PFS and lifetimes.</summary>
public sealed partial class Compare
{
    private void Keys()
    {
        if (view.Ends.All(e => e.Get(Settings.Authentication).Value?.Value == Authentication.Certificate))
            return;
        Resolved<KeyHeld> Held(EndView e) =>
            e.End.KeyHeld is { } k ? new(k, Source.Set, null, null) : Resolved<KeyHeld>.Unknown;
        var (a, b) = (Held(view.A), Held(view.B));
        var fits =
            a.Value is { } x
            && b.Value is { } y
            // IKEv1 has one key for both directions (RFC 2409 section 5).
            && (view.Version != IkeVersion.IKEv1 || (x.OneForBoth && y.OneForBoth))
            && x.Send.Intersect(y.Receive).Any()
            && y.Send.Intersect(x.Receive).Any();
        Add(
            RowKey.KeyHeld,
            "Key held",
            a,
            b,
            fits,
            fits || !a.Known || !b.Known ? null : new KeysDiffer(a.Value!, b.Value!)
        );
    }

    private void Methods()
    {
        var (a, b) = (view.A.Get(Settings.Authentication), view.B.Get(Settings.Authentication));
        bool?[] fit = [.. view.Ends.Select(e => MethodFit.Of(e, view.Version).Fits)];
        var differs = fit.Contains(false);
        rows.Add(
            new(
                Settings.Authentication,
                Settings.Authentication.Label,
                Cell.Of(a),
                Cell.Of(b),
                RelationOf(a, b, !differs, undetermined: !differs && fit.Contains(null)),
                OnlyOn(a.Known, b.Known),
                differs ? new MethodsDiffer() : null
            )
        );
    }

    private void Ike()
    {
        Negotiated(Settings.IkeProposals, (from, to, answering) =>
            Choice.Ike(Usable.IkeOffers(from, view.Version), Usable.Ike(to, view.Version), answering, view.Version)
        );
    }

    private void Esp() =>
        Negotiated(Settings.EspProposals, (from, to, answering) =>
            Choice.Esp(Usable.EspOffers(from, view.Version), Usable.Esp(to, view.Version), answering)
        );

    /// <summary>
    /// Rehearses the choice from either side. Where the answering platform's rule is not known, only what every rule
    /// would decide alike is decided.
    /// </summary>
    private void Negotiated<T>(Setting<Several<T>> setting, Func<EndView, EndView, Answering, Chosen<T>> choose)
        where T : class
    {
        var (a, b) = (view.A.Get(setting), view.B.Get(setting));
        if (!a.Known || !b.Known)
        {
            Add(setting, setting.Label, a, b, false, null);
            return;
        }

        var undetermined = false;
        Chosen<T> From(EndView initiator)
        {
            var strict = choose(initiator, initiator.Other, Answering.SameList);
            if (strict.Proposal is not null || initiator.Other.Platform.Answers == Answering.SameList)
                return strict;
            var loose = choose(initiator, initiator.Other, Answering.AnyCombination);
            if (initiator.Other.Platform.Answers is null && loose.Proposal is not null)
                undetermined = true;
            return loose;
        }

        var (fromA, fromB) = (From(view.A), From(view.B));
        Difference? difference = (fromA.Proposal, fromB.Proposal) switch
        {
            (null, null) => new NoProposal(null, fromA.Miss),
            (null, _) => new NoProposal(EndName.A, fromA.Miss),
            (_, null) => new NoProposal(EndName.B, fromB.Miss),
            _ => null,
        };
        rows.Add(
            new(
                setting,
                setting.Label,
                Cell.Of(a),
                Cell.Of(b),
                RelationOf(a, b, difference is null, undetermined),
                null,
                undetermined ? null : difference
            )
        );
    }

    private void Pfs()
    {
        var (a, b) = (view.A.Get(Settings.Pfs), view.B.Get(Settings.Pfs));
        PfsMisfit? difference = null;
        var undetermined = false;
        // Where every selector has a PFS of its own, that of the ends decides nothing.
        var ofEnds = new PfsOfPairs(a.Value, b.Value, []);
        var groups = view.PfsGroups(view.Tunnel.Agreed.Pairs).ToArray();
        var decides = groups.Length == 0 || groups.Any(g => g.A == ofEnds.A && g.B == ofEnds.B);
        if (decides && a.Value is { } x && b.Value is { } y)
        {
            var group = Choice
                .Ike(
                    Usable.Ike(view.A, view.Version),
                    Usable.Ike(view.B, view.Version),
                    Answering.SameList,
                    view.Version
                )
                .Proposal?.Group;
            var (asksA, asksB) = (Choice.PfsFits(x, y, group, view.Version), Choice.PfsFits(y, x, group, view.Version));
            undetermined = asksA is null || asksB is null;
            if (asksA == false || asksB == false)
            {
                var later = Timing.Rekeying.OfPfs(view, group, ofEnds);
                difference = new(
                    asksA == asksB ? null
                        : asksA == true ? EndName.B
                        : EndName.A,
                    view.Version == IkeVersion.IKEv1,
                    later?.FirstRefusal,
                    later?.Lost?.To,
                    later?.HiddenBy,
                    later?.Flaps,
                    later is null,
                    later?.Certain != false
                );
            }
        }

        Add(Settings.Pfs, Settings.Pfs.Label, a, b, difference is null, difference, undetermined);
    }

    private static Difference? Lifetimes(Life a, Life b)
    {
        if (a.Time.InSeconds == b.Time.InSeconds && a.Data?.InKilobytes == b.Data?.InKilobytes)
            return null;
        // The slip is looked for first on the end that is no whole number of hours, then on the longer one: few people
        // mean either.
        foreach (
            var end in new[] { EndName.A, EndName.B }
                .OrderBy(e => (e == EndName.A ? a : b).Time.InSeconds % 3600 == 0)
                .ThenByDescending(e => (e == EndName.A ? a : b).Time.InSeconds)
        )
        {
            var (odd, right) = end == EndName.A ? (a.Time, b.Time) : (b.Time, a.Time);
            if (Slip(odd, right) is { } slip)
                return new LifetimesDiffer(a, b, end, slip, right);
        }

        return new LifetimesDiffer(a, b, null, null, null);
    }

    /// <summary>
    /// Whether <paramref name="odd"/> would equal <paramref name="right"/> if it had been typed in another unit, or
    /// with one digit more or fewer.
    /// </summary>
    private static string? Slip(Lifetime odd, Lifetime right)
    {
        foreach (var unit in Enum.GetValues<TimeUnit>())
            if (unit != odd.Unit && odd.Amount * (long)unit == right.InSeconds)
                return $"looks like {Lifetime.Of(odd.Amount, unit)} typed in the wrong unit";
        if (right.In(odd.Unit) is not { } same || same.Amount == odd.Amount)
            return null;
        var (shorter, longer) = (
            odd.Amount.ToString(CultureInfo.InvariantCulture),
            same.Amount.ToString(CultureInfo.InvariantCulture)
        );
        var lost = shorter.Length < longer.Length;
        if (!lost)
            (shorter, longer) = (longer, shorter);
        if (longer.Length != shorter.Length + 1 || shorter.Length < 3)
            return null;
        for (var i = 0; i < longer.Length; i++)
            if (longer.Remove(i, 1) == shorter)
                return $"looks like {same} with a digit {(lost ? "missing" : "too many")}";
        return null;
    }
}
