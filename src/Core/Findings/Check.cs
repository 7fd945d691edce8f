using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings;

/// <summary>One check: a code that never changes its meaning, a title, and a plain function.</summary>
/// <param name="Code">What it is known by; declared here alone, and given to everything it finds.</param>
/// <param name="Title">What it looks for.</param>
/// <param name="Find">What it finds, without the code.</param>
public sealed record Check(string Code, string Title, Func<Checked, IEnumerable<Finding>> Find)
{
    /// <summary>
    /// What of the negotiation it is about: the negotiation then decides whether the finding stops the tunnel.
    /// </summary>
    public Func<Cause, bool> Meets { get; init; } = Nothing;

    /// <summary>Whether the negotiation meets what it is about.</summary>
    public bool IsNegotiated => Meets != Nothing;

    /// <summary>
    /// Whether what it finds keeps the packets of its pairs from passing, also where it is not all pairs: the outcome
    /// then has them as lost.
    /// </summary>
    public bool StopsPackets { get; init; }

    private static readonly Func<Cause, bool> Nothing = _ => false;

    /// <summary>What it finds.</summary>
    public IEnumerable<Finding> Run(Checked about) => Find(about).Select(f => f with { Code = Code });
}

/// <summary>
/// What a check is given: the tunnel resolved, its comparison, and what each end has for each wanted pair.
/// </summary>
public sealed class Checked
{
    /// <param name="view">The tunnel with both ends resolved.</param>
    public Checked(TunnelView view)
    {
        View = view;
        Rows = Compare.Rows(view);
        Pairs = [.. view.Tunnel.Agreed.Pairs.Select(p => PairState.Of(view, p))];
    }

    /// <summary>The tunnel with both ends resolved.</summary>
    public TunnelView View { get; }

    /// <summary>The comparison, row by row.</summary>
    public ImmutableArray<Row> Rows { get; }

    /// <summary>The state of each subnet pair.</summary>
    public ImmutableArray<PairState> Pairs { get; }

    private Rehearsal? fromA;
    private Rehearsal? fromB;

    private Analysis? analysis;

    private Analysis Analysed => analysis ??= Analysis.Of(this);

    /// <summary>The negotiation as an end initiates, for the checks: what they find of traffic is not in it.</summary>
    internal Rehearsal Negotiated(EndName initiator) =>
        initiator == EndName.A ? fromA ??= Rehearse.From(View, EndName.A) : fromB ??= Rehearse.From(View, EndName.B);

    /// <summary>Both negotiations, A's first.</summary>
    internal IEnumerable<Rehearsal> Negotiations => [Negotiated(EndName.A), Negotiated(EndName.B)];

    /// <summary>
    /// What comes of the tunnel as an end initiates: the negotiation, and what hinders traffic after it.
    /// </summary>
    public Rehearsal Rehearsed(EndName initiator) => initiator == EndName.A ? Analysed.FromA : Analysed.FromB;

    /// <summary>Both rehearsals, A's first.</summary>
    public IEnumerable<Rehearsal> Rehearsals => [Analysed.FromA, Analysed.FromB];

    /// <summary>Everything found, before anything of it was accepted.</summary>
    internal ImmutableArray<Finding> Found => Analysed.Findings;

    /// <summary>What a check is about in either negotiation, what is alike from both sides once.</summary>
    internal IEnumerable<(Rehearsal Rehearsal, Obstacle Obstacle)> Met(Check check) =>
        Negotiations
            .SelectMany(r => r.Obstacles.Where(o => check.Meets(o.Cause)).Select(o => (r, o)))
            .DistinctBy(x => (x.o.Cause, x.o.RefusedBy));

    /// <summary>A row of the comparison by its key; null when there is none.</summary>
    public Row? Row(RowKey key) => Rows.FirstOrDefault(r => r.Key == key);

    /// <summary>The rows whose difference is of one kind, with it.</summary>
    public IEnumerable<(Row Row, T Difference)> Differences<T>()
        where T : Difference => Rows.Where(r => r.Difference is T).Select(r => (r, (T)r.Difference!));

    /// <summary>The values of a row as evidence, each with its source in words.</summary>
    public static ImmutableArray<Evidence> Of(Row? row) =>
        row is null
            ? []
            :
            [
                .. Enum.GetValues<EndName>()
                    .Select(e => new Evidence(e, row.Label, row.Cell(e).Text ?? "unknown", From(row.Cell(e)))),
            ];

    /// <summary>
    /// A source in words: <c>set, read 2026-11-03 by tomas</c>, <c>agreed in BRI-STANDARD@3</c>, <c>default of Teasel
    /// Minor</c>.
    /// </summary>
    public static string From(Cell cell) =>
        cell.Source switch
        {
            Source.Set => (cell.Via is { } held ? $"set in {held}" : "set")
                + (cell.Confirmed is { } confirmation ? $", {confirmation}" : ", not confirmed"),
            Source.Agreed => cell.Via is { } via ? $"agreed in {via}" : "agreed",
            Source.Default => $"default of {cell.Via}",
            _ => cell.Note ?? "unknown",
        };

    /// <summary>Where something still has to be set: <c>at both ends</c>, or <c>at A</c> where B has it.</summary>
    internal string WhereNot(Func<EndView, bool> hasIt) =>
        View.Ends.Where(e => !hasIt(e)).ToArray() is [var one] ? $"at {one.Name}" : "at both ends";

    /// <summary>Where IKEv2 alone is not set yet.</summary>
    internal string WhereNotIkev2() => WhereNot(e => e.Get(Settings.IkeVersions).Value?.Items is [IkeVersion.IKEv2]);

    /// <summary>Where main mode is not set yet.</summary>
    internal string WhereNotMain() => WhereNot(e => e.Get(Settings.ExchangeMode).Value?.Value == ExchangeMode.Main);

    /// <summary>
    /// How much a finding weighs that stops only <paramref name="pairs"/>: all of them is to block, some is to degrade.
    /// </summary>
    public Severity Weight(IEnumerable<SubnetPair> pairs) =>
        View.Tunnel.Agreed.Pairs is { IsEmpty: false } wanted && wanted.All(pairs.ToHashSet().Contains)
            ? Severity.Blocks
            : Severity.Degrades;
}

/// <summary>All checks, in the order of the catalogue. A new check is added here and nowhere else.</summary>
public static class Checks
{
    /// <summary>
    /// Raised with every release in which a check finds otherwise: the service then checks the whole fleet again in the
    /// background. A test holds it against what the checks find on the demo.
    /// </summary>
    public const int Version = 8;

    /// <summary>Every check, in the order of the catalogue.</summary>
    public static readonly ImmutableArray<Check> All =
    [
        Pair.NoVersionInCommon.Check,
        Pair.ModesDifferCheck.Check,
        Pair.NoIkeProposal.Check,
        Pair.NoEspProposal.Check,
        Pair.PfsDoesNotFit.Check,
        Pair.SubnetsNotMirrored.Check,
        Pair.IdentityNotExpected.Check,
        Pair.PeerAddressWrong.Check,
        Pair.MethodsDoNotFit.Check,
        Pair.KeyVersionsDiffer.Check,
        Pair.LifetimesDoNotFit.Check,
        Pair.DeadPeerOnOneEnd.Check,
        Pair.NobodyInitiates.Check,
        Pair.EspLost.Check,
        Pair.TunnelAddressesClash.Check,
        Pair.AnyAgainstParticular.Check,
        Pair.NamesDiffer.Check,
        Pair.OptionsDisjoint.Check,
        Pair.LeftUndetermined.Check,
        Pair.NeverConfirmed.Check,
        Pair.FinalValueDoesNotFit.Check,
        Pair.NoFamilyInCommonCheck.Check,
        Pair.InterfacesDiffer.Check,
        Strength.MustNotBeUsed.Check,
        Strength.ShouldNotBeUsed.Check,
        Strength.OldKeyExchange.Check,
        Strength.AggressiveMode.Exposed,
        Strength.WeakestLink.Check,
        Strength.NoForwardSecrecy.Check,
        Strength.WeakerAcceptable.Check,
        Strength.TooMuchForOneKey.Check,
        Strength.PastSupport.Check,
        Strength.DefaultsInForce.Check,
        Strength.NeverChosen.Check,
        Strength.AggressiveMode.NotNeeded,
        Strength.CheckRelaxed.Check,
        Strength.AggressiveMode.Identities,
        Strength.NotEncrypted.Check,
        Strength.RekeysTooOften.Check,
        Addresses.HostBits.Check,
        Addresses.RemoteLivesHere.Check,
        Addresses.ClaimedTwice.Check,
        Addresses.SidesOverlap.Check,
        Addresses.PresentedClash.Check,
        Addresses.OuterAddressOdd.Check,
        Addresses.OutsideItsSite.Check,
        Addresses.SelectorsOverlap.Check,
        Addresses.AddressTwice.Check,
        Addresses.AnyOnPolicy.Check,
        Addresses.TestPointOutside.Check,
        Addresses.PublicInside.Check,
        Path.NoRoute.Check,
        Path.NoDiscardRoute.Check,
        Path.RuleMissing.Check,
        Path.RuleTooWide.Check,
        Path.NoNatMissing.Check,
        Path.MssTooLarge.Check,
        Path.KeepaliveOdd.Check,
        Path.DownUntilTraffic.Check,
        Path.NoticedLate.Check,
        Path.FallbackAlone.Check,
        Path.InboundBlocked.Check,
        Path.NoReturnRoute.Check,
        Path.RoutingNotMirrored.Check,
        Path.NotSaved.Check,
        Path.PastDeadline.Check,
        Path.NameUnreliable.Check,
        Path.PairingRefused.Check,
        Path.MappingExpires.Check,
        Keys.CertificateFails.Dates,
        Keys.CertificateFails.Names,
        Keys.CertificateFails.Anchors,
        Keys.CertificateFails.Usage,
    ];

    /// <summary>The code of what stops or narrows a tunnel: that of the first check which is about it.</summary>
    public static string CodeOf(Obstacle obstacle) =>
        obstacle.Cause is Hindered hindered ? hindered.Code : All.First(c => c.Meets(obstacle.Cause)).Code;

    /// <summary>A code of a check as somebody typed it; what there is otherwise, of the same family first.</summary>
    public static Parsed<string> CodeOf(string text)
    {
        var typed = text.Trim().ToUpperInvariant();
        string[] codes = [.. All.Select(c => c.Code).Distinct()];
        if (codes.Contains(typed))
            return Parsed<string>.Of(typed);
        var family = typed.Split('-')[0] + "-";
        string[] near = [.. codes.Where(c => c.StartsWith(family, StringComparison.Ordinal))];
        string[] families = [.. codes.Select(c => c.Split('-')[0]).Distinct()];
        return Parsed<string>.Fail(
            $"'{Typed.Short(text)}' is not a code of a check",
            near.Length > 0
                ? string.Join(", ", near)
                : $"a code such as {codes[0]}; they begin with {Say.And(families)}"
        );
    }

    private static bool Covers(Acceptance accepted, Finding finding, DateOnly today) =>
        accepted.Code == finding.Code
        && accepted.Subject == finding.Subject
        && accepted.Digest == finding.Digest
        && accepted.Until >= today;

    /// <summary>
    /// Everything found about one tunnel, worst first, then by code and subject. Pure: the same records and day give
    /// the same findings.
    /// </summary>
    public static ImmutableArray<Finding> Run(Checked about) =>
        [
            .. about
                .Found.Select(f =>
                    about.View.Tunnel.Accepted.FirstOrDefault(a => Covers(a, f, about.View.Today)) is { } a
                        ? f with
                        {
                            Accepted = a,
                        }
                        : f
                )
                .OrderBy(f => f.Severity)
                .ThenBy(f => f.After ?? 0)
                .ThenBy(f => f.Code, StringComparer.Ordinal)
                .ThenBy(f => f.Subject, StringComparer.Ordinal),
        ];
}
