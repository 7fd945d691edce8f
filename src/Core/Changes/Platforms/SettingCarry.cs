using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Platforms;

/// <summary>What becomes of the value of a setting on another platform.</summary>
/// <param name="Then">The value there; null when there is none.</param>
/// <param name="Why">Why it is another, or none; null when it stays.</param>
/// <param name="Alike">Whether the other end must have it too.</param>
internal sealed record SettingCarry(object? Then, Sentence? Why, bool Alike)
{
    /// <param name="setting">The setting it is about.</param>
    /// <param name="value">What it is set to now.</param>
    /// <param name="end">The end that has it.</param>
    /// <param name="to">The platform that it is carried to.</param>
    /// <param name="version">The IKE version that will be spoken.</param>
    public static SettingCarry Of(Setting setting, object value, EndView end, Platform to, IkeVersion version)
    {
        var other = end.Other.Platform;
        return value switch
        {
            Several<IkeVersion> versions => OfVersions(versions, to, version),
            Several<IkeProposal> ike => OfProposals(
                ike,
                new(
                    p => Strength.Members(p).Select(m => m.Name),
                    Graded.Of,
                    CommonGround.IkeProposals(to, other, version).OrderByDescending(p => p.Group.Number)
                ),
                end,
                to,
                version
            ),
            Several<EspProposal> esp => OfProposals(
                esp,
                new(
                    p => Strength.Members(p).Select(m => m.Name),
                    Graded.Of,
                    CommonGround.EspProposals(to, other, version)
                ),
                end,
                to,
                version
            ),
            Pfs pfs => OfPfs(pfs, other, to, version),
            Life life => OfLife(setting, life, to, version),
            Word<PairsPerChild> pairs => OfPairsPerChild(pairs, setting, to),
            Word<ExchangeMode> mode => OfExchangeMode(mode, to),
            Word<Authentication> method => OfMethod(method, setting, to),
            _ => Kept(value, setting),
        };
    }

    private static SettingCarry Kept(object value, Setting setting) =>
        new(value, null, setting.Likeness == Likeness.Alike);

    private static SettingCarry OfVersions(Several<IkeVersion> versions, Platform to, IkeVersion version)
    {
        var left = versions.Items.Where(v => to.Speaks(v) != false).ToImmutableArray();
        return left.Length == versions.Items.Length
            ? new(versions, null, Alike: true)
            : new(
                new Several<IkeVersion>(left.IsEmpty ? [version] : left),
                $"{to.Title:w} supports only {Say.And(to.IkeVersions.Select(WordsOf.IkeVersions.Of)):w}.",
                Alike: true
            );
    }

    /// <summary>What is known of proposals of one kind.</summary>
    /// <param name="Members">The names of the algorithms of one.</param>
    /// <param name="Graded">What the standards say of one.</param>
    /// <param name="Common">Those that both platforms can do.</param>
    private sealed record Kind<T>(Func<T, IEnumerable<string>> Members, Func<T, Graded> Graded, IEnumerable<T> Common);

    /// <summary>
    /// What is left of the list; else the strongest that both can do, what no standard advises against first.
    /// </summary>
    private static SettingCarry OfProposals<T>(
        Several<T> now,
        Kind<T> kind,
        EndView end,
        Platform to,
        IkeVersion version
    )
        where T : class
    {
        bool Cannot(string member) => to.Can(member, version) == false;
        var cannot = now.Items.SelectMany(kind.Members).Where(Cannot).Distinct().ToArray();
        if (cannot.Length == 0)
            return new(now, null, Alike: true);
        var left = now.Items.Where(p => !kind.Members(p).Any(Cannot)).ToImmutableArray();
        if (!left.IsEmpty)
            return new(
                new Several<T>(left),
                $"{to.Title:w} does not support {Say.And(cannot)}; it offers the rest.",
                Alike: true
            );
        var best = kind
            .Common.Select(p => (Proposal: p, Grade: kind.Graded(p)))
            .OrderBy(p => p.Grade.Worst < Requirement.ShouldNot ? 0 : 1)
            .ThenByDescending(p => p.Grade.Bits)
            .Select(p => p.Proposal)
            .FirstOrDefault();
        var other = end.Other;
        return best is null
            ? new(
                null,
                other.Platform.UnsaidOfProposals.IsEmpty && to.UnsaidOfProposals.IsEmpty
                    ? Sentence.Of(
                        $"{to.Title:w} does not support {Say.And(cannot)}, and has no proposal in common with "
                            + $"{other.Platform.Title:w} at {other.Name}."
                    )
                    : Sentence.Of(
                        $"{to.Title:w} does not support {Say.And(cannot)}; what else it and {other.Platform.Title:w} at "
                            + $"{other.Name} have in common is unknown, because a profile does not say."
                    ),
                Alike: true
            )
            : new(
                new Several<T>([best]),
                $"{to.Title:w} does not support {Say.And(cannot)}; this is the strongest that it and "
                    + $"{other.Platform.Title:w} at {other.Name} both support.",
                Alike: true
            );
    }

    private static SettingCarry OfPfs(Pfs pfs, Platform other, Platform to, IkeVersion version)
    {
        var can = pfs.Groups.Where(g => to.Can(g.Name, version) != false).ToArray();
        if (pfs.Stance != PfsStance.Refused && can.Length < pfs.Groups.Length)
            return OfPfsGroups(pfs, can, other, to, version);
        return to.PfsStances is { } stances && !stances.Contains(pfs.Stance)
            ? new(
                null,
                $"{to.Title:w} can set PFS only to {Say.And(stances.Select(Platform.PfsStanceWords.Of)):w}.",
                Alike: true
            )
            : Kept(pfs, Settings.Pfs);
    }

    /// <summary>The groups that are left; else the strongest that both can do.</summary>
    private static SettingCarry OfPfsGroups(Pfs pfs, DhGroup[] can, Platform other, Platform to, IkeVersion version)
    {
        var strongest = AlgorithmTable
            .Groups.Where(g => to.Can(g.Name, version) == true && other.Can(g.Name, version) == true)
            .OrderByDescending(Strength.Of)
            .Take(1);
        var groups = can.Length > 0 ? can : [.. strongest];
        return groups.Length == 0
            ? new(null, $"No DH group in common for PFS.", Alike: true)
            : new(
                pfs.With(groups),
                $"{to.Title:w} does not support {Say.And(pfs.Groups.Except(groups).Select(g => g.Name))}.",
                Alike: true
            );
    }

    /// <summary>The nearest that the platform takes. Under IKEv1 both ends have to have the same.</summary>
    private static SettingCarry OfLife(Setting setting, Life life, Platform to, IkeVersion version)
    {
        var range = setting == Settings.IkeLifetime ? to.IkeLifetimes : to.EspLifetimes;
        if (range is null || range.Takes(life.Time))
            return new(life, null, Alike: false);
        var nearest = life.Time.InSeconds < range.Least.InSeconds ? range.Least : range.Most;
        return new(
            life with
            {
                Time = nearest,
            },
            $"{to.Title:w} accepts {range.ToString():w}.",
            version == IkeVersion.IKEv1
        );
    }

    private static SettingCarry OfPairsPerChild(Word<PairsPerChild> pairs, Setting setting, Platform to) =>
        to.PairsPerChildren is { Length: > 0 } can && !can.Contains(pairs.Value)
            ? new(
                new Word<PairsPerChild>(can[0], WordsOf.PairsPerChild),
                $"{to.Title:w} supports only '{WordsOf.PairsPerChild.Of(can[0]):w}' for pairs per child SA.",
                Alike: false
            )
            : Kept(pairs, setting);

    private static SettingCarry OfExchangeMode(Word<ExchangeMode> mode, Platform to)
    {
        if (to.ExchangeModes is not { } modes || modes.Contains(mode.Value))
            return Kept(mode, Settings.ExchangeMode);
        return modes.IsEmpty
            ? new(null, $"{to.Title:w} has no exchange mode.", Alike: true)
            : new(
                new Word<ExchangeMode>(modes[0], WordsOf.ExchangeModes),
                $"{to.Title:w} supports only {Say.And(modes.Select(WordsOf.ExchangeModes.Of)):w} mode.",
                Alike: true
            );
    }

    private static SettingCarry OfMethod(Word<Authentication> method, Setting setting, Platform to) =>
        to.Methods is { } methods && !methods.Contains(method.Value)
            ? new(
                null,
                $"{to.Title:w} supports only {Say.And(methods.Select(WordsOf.Authentications.Of)):w}.",
                Alike: true
            )
            : Kept(method, setting);
}
