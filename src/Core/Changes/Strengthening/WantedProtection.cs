using Vellumkeep.Core.Calculations;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Strengthening;

/// <summary>A setting and the value that both ends are to have.</summary>
internal sealed record WantedSetting(Setting Setting, object Value);

/// <summary>How a tunnel is to be protected: as a suite says, or the strongest that both ends can do.</summary>
/// <param name="Version">The IKE version that both ends speak.</param>
/// <param name="Values">The settings that both ends are to have.</param>
internal sealed record WantedProtection(IkeVersion Version, ImmutableArray<WantedSetting> Values)
{
    /// <summary>The value of a setting; null when it stays as it is.</summary>
    public object? Of(Setting setting) => Values.FirstOrDefault(w => w.Setting == setting)?.Value;

    /// <param name="view">The tunnel with both ends resolved.</param>
    /// <param name="suite">The suite that is asked for; null for the strongest that both ends can do.</param>
    /// <returns>What is wanted, or why it cannot be had.</returns>
    public static (WantedProtection? Wanted, ImmutableArray<Refusal> Refused) Of(TunnelView view, Suite? suite)
    {
        if (view.Tunnel.State is TunnelState.Planned or TunnelState.Retired)
            return No(
                new(
                    null,
                    "tunnel",
                    $"{view.Tunnel} is {WordsOf.States.Of(view.Tunnel.State):w}.",
                    $"Choose a tunnel that is in service."
                )
            );
        var (a, b) = (view.A.Platform, view.B.Platform);
        var version = suite?.Settings.Get(Settings.IkeVersions)?.Value?.Items.Max() ?? NewestOfBoth(a, b);
        // With a suite only what a profile denies stands against it; without one the profiles have to say what they can.
        if (suite is null && UnknownIn(a, b) is { } unknown)
            return No(unknown);
        if (version is not { } ike || a.Speaks(ike) == false || b.Speaks(ike) == false)
            return No(
                new(
                    Findings.Pair.NoVersionInCommon.Check.Code,
                    "suite",
                    $"{a.Title:w} at {EndName.A} and {b.Title:w} at {EndName.B} do not both support "
                        + $"{(version is { } v ? WordsOf.IkeVersions.Of(v) : "one version"):w}.",
                    $"Choose a suite for a version that both support, or first plan another platform."
                )
            );
        var (values, refused) = suite is null ? Strongest(a, b, ike) : AsIn(suite, view, ike);
        if (!refused.IsEmpty)
            return (null, refused);
        return values.All(w => Stands(view, w))
            ? No(
                new(null, "suite", $"{view.Tunnel} has this protection at both ends already.", $"Choose another suite.")
            )
            : (new(ike, values), []);
    }

    /// <summary>
    /// What a profile does not say cannot be chosen, and is not "nothing in common" either; null when both say all.
    /// </summary>
    public static Refusal? UnknownIn(Platform a, Platform b)
    {
        var unknown = CommonGround.UnknownOf(a, b);
        if (unknown.IsEmpty)
            return null;
        var said = Say.And(
            unknown.Select(u =>
                $"the profile of {(u.At == EndName.A ? a : b).Title} at {u.At} does not say its {Say.And(u.What)}"
            )
        );
        return new(
            null,
            "suite",
            $"What both ends can do is unknown: {said:w}.",
            $"Choose a suite that both devices have, or fill in the platform profile."
        );
    }

    /// <summary>The newest IKE version that both platforms speak; null when there is none.</summary>
    public static IkeVersion? NewestOfBoth(Platform a, Platform b) =>
        new[] { IkeVersion.IKEv2, IkeVersion.IKEv1 }
            .Where(v => a.IkeVersions.Contains(v) && b.IkeVersions.Contains(v))
            .Select(v => (IkeVersion?)v)
            .FirstOrDefault();

    /// <summary>
    /// The strongest ESP proposal that both can do and no standard advises against; null when there is none.
    /// </summary>
    public static EspProposal? StrongestEsp(Platform a, Platform b, IkeVersion version) =>
        CommonGround
            .EspProposals(a, b, version)
            .Where(p => Graded.Of(p).Worst < Requirement.ShouldNot)
            .MaxBy(p => Strength.Of(p).Bits);

    /// <summary>
    /// Why two platforms cannot protect a tunnel together, by the finding it would be: no version (PAIR-01), no IKE
    /// proposal (PAIR-03) or no ESP proposal (PAIR-04) in common. None when they can.
    /// </summary>
    public static ImmutableArray<Refusal> NothingInCommon(
        IkeVersion? version,
        IkeProposal? ike,
        EspProposal? esp,
        Sentence wrong,
        Sentence right
    )
    {
        var code = (version, ike, esp) switch
        {
            (null, _, _) => Findings.Pair.NoVersionInCommon.Check.Code,
            (_, null, _) => Findings.Pair.NoIkeProposal.Check.Code,
            (_, _, null) => Findings.Pair.NoEspProposal.Check.Code,
            _ => null,
        };
        return code is null ? [] : [new(code, "suite", wrong, right)];
    }

    private static (WantedProtection?, ImmutableArray<Refusal>) No(Refusal refusal) => (null, [refusal]);

    private static (ImmutableArray<WantedSetting>, ImmutableArray<Refusal>) AsIn(
        Suite suite,
        TunnelView view,
        IkeVersion version
    )
    {
        var values = ImmutableArray.CreateBuilder<WantedSetting>();
        foreach (var setting in suite.Settings.Given.Where(s => s.Negotiated))
            if (suite.Settings.GetRaw(setting) is { } raw && setting.ValueOf(raw) is { } value)
                values.Add(new(setting, value));
        var refused =
            from end in view.Ends
            let cannot = Members(values).Distinct().Where(m => end.Platform.Can(m, version) == false).ToArray()
            where cannot.Length > 0
            select new Refusal(
                Members(values.Where(v => v.Setting == Settings.IkeProposals)).Any(cannot.Contains)
                    ? Findings.Pair.NoIkeProposal.Check.Code
                    : Findings.Pair.NoEspProposal.Check.Code,
                "suite",
                $"{end.Platform.Title:w} at {end.Name} does not support {Say.And(cannot)} in "
                    + $"{WordsOf.IkeVersions.Of(version):w}, which {suite.Code} needs.",
                $"Leave the suite out (the strongest that both support is used), or first plan another platform."
            );
        return (values.ToImmutable(), [.. refused]);
    }

    private static (ImmutableArray<WantedSetting>, ImmutableArray<Refusal>) Strongest(
        Platform a,
        Platform b,
        IkeVersion version
    )
    {
        var (strongest, esp) = (CommonGround.Strongest(a, b, version), StrongestEsp(a, b, version));
        if (strongest is null || esp is null)
            return (
                [],
                NothingInCommon(
                    version,
                    strongest,
                    esp,
                    $"{a.Title:w} and {b.Title:w} have nothing in common that is still acceptable.",
                    $"Replace the older platform first."
                )
            );
        ImmutableArray<WantedSetting> values =
        [
            new(Settings.IkeVersions, new Several<IkeVersion>([version])),
            new(Settings.IkeProposals, new Several<IkeProposal>([strongest])),
            new(Settings.EspProposals, new Several<EspProposal>([esp])),
        ];
        var mayRequire = new[] { a, b }.All(p => p.PfsStances?.Contains(PfsStance.Required) != false);
        return mayRequire ? (values.Add(new(Settings.Pfs, Pfs.Insisting(strongest.Group))), []) : (values, []);
    }

    /// <summary>Whether both ends have the value already. What is temporary ends with the change.</summary>
    private static bool Stands(TunnelView view, WantedSetting wanted) =>
        view.Ends.All(e =>
            wanted.Setting.On(e) is { Any: { } now, Source: not Source.Default, Until: null }
            && now.Equals(wanted.Value)
        );

    /// <summary>The algorithms of the proposals among the values.</summary>
    private static IEnumerable<string> Members(IEnumerable<WantedSetting> wanted) =>
        wanted.SelectMany(w =>
            w.Value switch
            {
                Several<IkeProposal> ike => ike.Items.SelectMany(p => Strength.Members(p).Select(m => m.Name)),
                Several<EspProposal> esp => esp.Items.SelectMany(p => Strength.Members(p).Select(m => m.Name)),
                _ => [],
            }
        );
}
