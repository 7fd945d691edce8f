using Vellumkeep.Core.Changes.Playing;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Verdicts;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// Makes a plan from the records before and after. A kind of change says what the records are to become, asks for the
/// parts of the run sheet in turn, and adds what is its own. What is entered follows from what differs on each end, and
/// which step carries which edit from the places that the steps enter.
/// </summary>
internal sealed partial class PlanMaker
{
    private readonly Inventory before;
    private readonly Inventory after;
    private readonly CancellationToken ct;
    private readonly List<TunnelStages> tunnels;
    private readonly List<Step> steps = [];
    private readonly List<Step> withdrawn = [];
    private readonly List<BeforeAfter> differs = [];
    private readonly List<PendingValue> pending = [];

    // What a step says of how the tunnels stand then is read off the play.
    private readonly Dictionary<string, Func<Step, Player, Step>> told = [];

    /// <param name="before">The records as they are.</param>
    /// <param name="after">The records as they will be.</param>
    /// <param name="tunnelIds">The tunnels that it is about.</param>
    /// <param name="today">The day of the plan.</param>
    /// <param name="between">The records in between, where the new stands beside the old for a while.</param>
    /// <param name="ct">Whether anybody still waits for the plan.</param>
    public PlanMaker(
        Inventory before,
        Inventory after,
        IEnumerable<string> tunnelIds,
        DateOnly today,
        Inventory? between = null,
        CancellationToken ct = default
    )
    {
        (this.before, this.after, this.ct) = (before, after, ct);
        tunnels =
        [
            .. tunnelIds.Select(id => new TunnelStages(
                new(before, before.Get<Tunnel>(id), today),
                new(after, after.Get<Tunnel>(id), today),
                between is null ? null : new(between, between.Get<Tunnel>(id), today)
            )),
        ];
    }

    /// <summary>The tunnels that it is about.</summary>
    public IReadOnlyList<TunnelStages> Tunnels => tunnels;

    /// <summary>The steps so far.</summary>
    public IReadOnlyList<Step> Steps => steps;

    /// <summary>Which step carries what.</summary>
    public Carriers Carriers { get; } = new();

    /// <summary>What the steps do on the devices.</summary>
    public Deeds Deeds { get; } = new();

    /// <summary>The gateway that the whole is about, which is worked on whatever differs for its tunnels.</summary>
    public string? Main { get; init; }

    /// <summary>
    /// Whether each tunnel is switched for itself, both its ends as close together as they can be: what only prepares
    /// first, then the slower end, and a gateway is activated for each tunnel.
    /// </summary>
    public bool EndsCloseTogether { get; init; }

    /// <summary>
    /// Whether the tunnels stay as they are but for subnets, and are worked entry by entry, so that they stay up where
    /// the platforms let them.
    /// </summary>
    public bool OnlySubnets { get; init; }

    /// <summary>What approval rests on.</summary>
    public Preconditions RestsOn { get; init; } = Preconditions.Everything;

    /// <summary>Several tunnels: what is said has to name its tunnel.</summary>
    private bool Many => tunnels.Count > 1;

    /// <summary>
    /// The ends of a tunnel in the order in which they are worked: who is managed through it first, then who answers,
    /// then who initiates.
    /// </summary>
    public static IEnumerable<EndView> InOrder(TunnelView view)
    {
        return new[] { view.B, view.A }
            .OrderBy(e => e.Gateway.IsManagedThrough(view.Tunnel) ? 0 : 1)
            .ThenBy(e => Initiates(e) ? 1 : 0);
    }

    /// <summary>Whether an end initiates the tunnel, always or on traffic.</summary>
    public static bool Initiates(EndView end) =>
        end.Get(Settings.Initiation).Value?.Value is Initiation.Always or Initiation.OnTraffic;

    /// <summary>Adds a step.</summary>
    public void Add(Step step) => steps.Add(step);

    /// <summary>Adds a step that clears the SAs of its tunnel, so that it negotiates anew.</summary>
    public void AddClearing(Step step)
    {
        Deeds.Clear(step.Key, step.TunnelId!);
        Add(step);
    }

    /// <summary>Adds a line of before and after.</summary>
    public void Differs(BeforeAfter line) => differs.Add(line);

    /// <summary>
    /// One end for each gateway that has something to do, in the order of the tunnels; the one that the whole is about
    /// first.
    /// </summary>
    private IEnumerable<EndView> EachGateway() =>
        tunnels
            .SelectMany(t => InOrder(t.Then).Where(e => e.Gateway.Id == Main || !t.Differs(e.Name).IsEmpty))
            .DistinctBy(e => e.Gateway.Id)
            .OrderBy(e => e.Gateway.Id == Main ? 0 : 1);

    /// <summary>The plan: its edits, which step carries each, and what it does to findings and traffic.</summary>
    /// <param name="opening">What it does, in a sentence.</param>
    /// <param name="said">What else an expert would say of it.</param>
    public Plan Done(Sentence opening, IEnumerable<VerdictPart>? said = null) => Done(_ => [opening], said);

    /// <param name="openings">What it does, in a sentence for each of its tunnels, from what was measured.</param>
    /// <param name="said">What else an expert would say of it.</param>
    public Plan Done(Func<PlayWords, IEnumerable<Sentence>> openings, IEnumerable<VerdictPart>? said)
    {
        var edits = PlanEdits.Between(before, after, tunnels, Carriers, ct);
        for (var i = 0; i < steps.Count; i++)
            steps[i] = steps[i] with { Edits = [.. edits.Of(steps[i].Key)] };
        ImmutableArray<Step> ordered = [.. steps.OrderBy(s => s.Part)];
        var player = Player.Of(new(before, after, tunnels, ordered, Deeds, tunnels[0].Was.Today), ct);
        var measured = new PlayWords(player.Play, ordered, after);
        var judged = PlanOutcome.Of(before, after, tunnels, ct);
        var unknown = UnknownValues.Of(tunnels);
        return new Plan
        {
            Verdict =
            [
                .. openings(measured).Select(o => new VerdictPart(Tone.Plain, o)),
                .. judged.Added.Where(f => f.Finding.Severity == Severity.Blocks).Take(2).Select(Blocking),
                .. said ?? [],
                .. StaysTemporary.Of(tunnels),
                .. unknown.Select(u => new VerdictPart(
                    Tone.Weak,
                    $"{u.What:w} of {u.TunnelCode:w} at {u.End} is unknown, and the plan leaves it so."
                )),
                .. pending.Select(p => new VerdictPart(Tone.Weak, StepWords.IsPending(p.At))),
            ],
            Differs = [.. differs],
            Edits = edits.All,
            Steps = [.. ordered.Select(s => Told(s, player, measured))],
            Play = player.Play,
            Added = judged.Added,
            Removed = judged.Removed,
            Standing = judged.Standing,
            RestsOn = RestsOn.Now(before, tunnels, ct),
            Pending = [.. pending],
            Unknown = unknown,
            Touches = measured.Touches(),
            Interruptions = measured.Interruptions(),
            Rehearsals = judged.Rehearsals,
        }.Numbered();
    }

    private Step Told(Step step, Player player, PlayWords measured)
    {
        // What a step of the author's own stops is known to the author alone.
        var measuredStep = step.Kind == StepKind.Manual ? step : step with { Stops = measured.Stops(step.Key) };
        return told.TryGetValue(step.Key, out var tell) ? tell(measuredStep, player) : measuredStep;
    }

    private static VerdictPart Blocking(FindingOn f) => new(Tone.Stops, f.Finding.Consequence ?? f.Finding.What);
}
