using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Fixes;

public static partial class FixFinder
{
    /// <summary>
    /// What one end offers added at the other, where its platform can; else the strongest that both can, at both.
    /// </summary>
    private static IEnumerable<ImmutableArray<FixValue>> Proposals<T>(
        TunnelView view,
        EndView s,
        EndView a,
        Setting<Several<T>> setting,
        Func<Platform, Platform, IkeVersion, IEnumerable<T>> ground,
        Func<T, Graded> grade,
        Func<T, bool> usable,
        IkeVersion version
    )
        where T : class
    {
        bool Can(EndView e, T p) => grade(p).Members.All(m => e.Platform.Can(m.Name, version) == true);
        foreach (var (from, to) in new[] { (s, a), (a, s) })
        foreach (
            var p in (from.Get(setting).Value?.Items ?? [])
                .Where(p => usable(p) && Can(to, p))
                .OrderByDescending(p => grade(p).Bits)
        )
        {
            var items = to.Get(setting).Value?.Items ?? [];
            yield return [new(to.Name, setting, string.Join("; ", items.Add(p)))];
            // In aggressive mode the group of the first is the only one that is offered.
            yield return [new(to.Name, setting, string.Join("; ", items.Insert(0, p)))];
        }

        var best = ground(s.Platform, a.Platform, version)
            .OrderBy(p => grade(p).Worst >= Requirement.ShouldNot)
            .ThenByDescending(p => grade(p).Bits)
            .FirstOrDefault();
        if (best is not null)
        {
            // When one end has it already, adding it at the other is enough.
            foreach (var end in view.Ends.Where(e => e.Other.Get(setting).Value?.Items.Contains(best) == true))
                yield return
                [
                    new(end.Name, setting, string.Join("; ", (end.Get(setting).Value?.Items ?? []).Insert(0, best))),
                ];
            yield return Both(setting, best.ToString()!);
        }
    }

    private static IEnumerable<ImmutableArray<FixValue>> Secrecy(TunnelView view)
    {
        foreach (var end in view.Ends)
        {
            var (own, other) = (end.Get(Settings.Pfs).Value, end.Other.Get(Settings.Pfs).Value);
            if (own is null || other is null)
                continue;
            if (other.Stance != PfsStance.Refused)
            {
                foreach (
                    var group in other
                        .Groups.Where(g => end.Platform.Can(g.Name, view.Version) == true)
                        .OrderByDescending(Strength.Of)
                )
                    yield return [new(end.Name, Settings.Pfs, $"required {group}")];
                if (other.GroupOfIke)
                    yield return [new(end.Name, Settings.Pfs, "required DH of IKE")];
            }
            else
            {
                yield return [new(end.Name, Settings.Pfs, Pfs.Accepting(own).ToString())];
                yield return [new(end.Name, Settings.Pfs, "refused")];
            }
        }

        var common = AlgorithmTable
            .Groups.Where(g =>
                g.Ike.Requirement < Requirement.ShouldNot
                && view.Ends.All(e => e.Platform.Can(g.Name, view.Version) == true)
            )
            .MaxBy(Strength.Of);
        if (common is not null)
            yield return Both(Settings.Pfs, $"required {common}");
    }

    /// <summary>Either end made the mirror of the other, and both made what was agreed.</summary>
    private static IEnumerable<ImmutableArray<FixValue>> Mirrors(TunnelView view)
    {
        string List(IEnumerable<Prefix> prefixes) => string.Join(", ", prefixes.Distinct().Order());
        var pairs = view.Tunnel.Agreed.Pairs;
        foreach (var owner in view.Ends)
        {
            var wanted = List(pairs.Select(p => p.On(owner.Name)));
            foreach (var end in view.Ends)
                yield return [new(end.Name, RowKey.SubnetsOf(owner.Name), wanted)];
            yield return
            [
                new(EndName.A, RowKey.SubnetsOf(owner.Name), wanted),
                new(EndName.B, RowKey.SubnetsOf(owner.Name), wanted),
            ];
        }

        foreach (var end in view.Ends)
            yield return
            [
                new(end.Name, RowKey.SubnetsOf(EndName.A), List(pairs.Select(p => p.A))),
                new(end.Name, RowKey.SubnetsOf(EndName.B), List(pairs.Select(p => p.B))),
            ];
        yield return
        [
            .. view.Ends.SelectMany(e =>
                new FixValue[]
                {
                    new(e.Name, RowKey.SubnetsOf(EndName.A), List(pairs.Select(p => p.A))),
                    new(e.Name, RowKey.SubnetsOf(EndName.B), List(pairs.Select(p => p.B))),
                }
            ),
        ];
    }
}
