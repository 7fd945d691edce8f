using Vellumkeep.Core.Changes.Platforms;
using Vellumkeep.Core.Findings;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// What is wrong with a plan or worth knowing before it is worked: a code, how much it weighs, what, and what to do.
/// </summary>
/// <param name="Code">The code of the check that found it.</param>
/// <param name="Severity">How much it weighs.</param>
/// <param name="What">What is so.</param>
/// <param name="Do">What to do about it.</param>
public sealed record PlanFinding(string Code, Severity Severity, Sentence What, Sentence Do);

/// <summary>PLAN-01 to PLAN-12: what a reviewer would look for in a plan.</summary>
public static partial class PlanChecks
{
    /// <param name="c">The change as it stands.</param>
    /// <param name="now">The records as they stand.</param>
    /// <param name="others">The other open changes that share a tunnel or a gateway with it.</param>
    /// <param name="changed">The values that approval rests on and that no longer stand.</param>
    /// <param name="house">The provider itself, whose freezes hold for every change; null when none is named.</param>
    public static ImmutableArray<PlanFinding> Run(
        Change c,
        Inventory now,
        IReadOnlyList<Change> others,
        IReadOnlyList<RestsOn> changed,
        Customer? house = null
    )
    {
        var about = new Checked(c, now, others, changed, house);
        Func<Checked, IEnumerable<PlanFinding>>[] checks =
        [
            SameRecords,
            OtherTargets,
            Freezes,
            OtherWindows,
            TooLong,
            Blocking,
            Pending,
            Unknown,
            NoWayBack,
            Changed,
            Touching,
            CutOff,
            Together,
        ];
        return [.. checks.SelectMany(check => check(about)).OrderBy(f => f.Severity)];
    }

    /// <summary>What the checks look at.</summary>
    private sealed record Checked(
        Change Change,
        Inventory Now,
        IReadOnlyList<Change> Others,
        IReadOnlyList<RestsOn> Changed,
        Customer? House
    )
    {
        public Plan Plan => Change.Plan;

        public Tunnel[] Tunnels { get; } = [.. Change.Request.Tunnels.Select(Now.Find<Tunnel>).OfType<Tunnel>()];

        public HashSet<string> Gateways { get; } = [.. GatewaysOf(Change, Now)];
    }

    private static IEnumerable<PlanFinding> SameRecords(Checked about) =>
        about.Others.Select(other => new PlanFinding(
            PlanCheck.SameTarget.Code,
            Severity.Degrades,
            $"{other.Code:w}, {Change.States.Of(other.State):w}, changes the same "
                + $"{(other.Request.Tunnels.Intersect(about.Change.Request.Tunnels).Any() ? "tunnel" : "gateway"):w}: "
                + $"{other.Title:w}.",
            $"Agree with its author which goes first. The second one must be recomputed."
        ));

    /// <summary>Another gateway of its tunnels is to become another platform, by another change.</summary>
    private static IEnumerable<PlanFinding> OtherTargets(Checked about)
    {
        foreach (var other in about.Others)
        {
            if (other.Request is not PlatformRequest target || about.Change.Request.Gateways.Contains(target.GatewayId))
                continue;
            var shared = about.Tunnels.Where(t => target.TunnelIds.Contains(t.Id)).Select(t => t.Code).ToArray();
            if (shared.Length == 0)
                continue;
            var gateway = about.Now.Find<Gateway>(target.GatewayId)?.Code ?? "a gateway";
            var platform = about.Now.Find<Platform>(target.PlatformId)?.Title ?? "new platform";
            var more = shared.Length > 4 ? $" and {shared.Length - 4} more" : "";
            yield return new(
                PlanCheck.SameTarget.Code,
                Severity.Degrades,
                $"{other.Code:w} makes {gateway} {Say.A(platform):w}, the other end of "
                    + $"{Say.And(shared.Take(4)):w}{more:w}. This plan rests on what {gateway} is now.",
                $"Check that the {platform:w} supports every value of this plan. The second of the two must be recomputed."
            );
        }
    }

    /// <summary>A freeze is days on the calendar of whoever set it.</summary>
    private static IEnumerable<PlanFinding> Freezes(Checked about)
    {
        if (about.Change.Window is not { } window)
            yield break;
        var concerned = about
            .Tunnels.SelectMany(t => new[] { t.CustomerId, Owner(about.Now, t.A), Owner(about.Now, t.B) })
            .Concat(about.Change.Request.Gateways.Select(g => Owner(about.Now, g)))
            .Distinct()
            .Select(about.Now.Find<Customer>)
            .OfType<Customer>()
            .Where(o => o.Id != about.House?.Id)
            .Select(o => (Owner: o, Of: o.Name));
        var all = about.House is { } house ? concerned.Append((house, $"{house.Name} (ours)")) : concerned;
        foreach (var (owner, of) in all)
        {
            var (from, to) = WallTime.Days(window, WallTime.Zone(owner.TimeZone));
            foreach (var freeze in owner.Freezes.Where(f => from <= f.To && to >= f.From))
                yield return new(
                    PlanCheck.WindowTaken.Code,
                    Severity.Degrades,
                    $"The window falls into the freeze of {of:w}, {Scalars.Write(freeze.From)} to "
                        + $"{Scalars.Write(freeze.To)}: {freeze.Why:w}.",
                    $"Choose another window, or get the agreement of {owner.Name:w}."
                );
        }
    }

    private static IEnumerable<PlanFinding> OtherWindows(Checked about)
    {
        if (about.Change.Window is not { } window)
            yield break;
        foreach (var other in about.Others.Where(o => o.Window is { } w && Meet(w, window)))
        {
            var shared = GatewaysOf(other, about.Now).Where(about.Gateways.Contains).ToArray();
            if (shared.Length > 0)
                yield return new(
                    PlanCheck.WindowTaken.Code,
                    Severity.Degrades,
                    $"The window overlaps that of {other.Code:w} on "
                        + $"{Say.And(shared.Select(id => about.Now.Find<Gateway>(id)?.Code).OfType<string>()):w}.",
                    $"Choose another window for one of the two."
                );
        }
    }

    private static bool Meet(Window x, Window y) =>
        x.Start < y.Start.AddMinutes(y.Minutes) && y.Start < x.Start.AddMinutes(x.Minutes);

    private static IEnumerable<PlanFinding> TooLong(Checked about)
    {
        if (about.Change.Window is not { } window)
            yield break;
        if (about.Plan.Minutes > window.Minutes)
            yield return new(
                PlanCheck.WindowTooShort.Code,
                Severity.Degrades,
                $"The steps take {about.Plan.Minutes} minutes, the window has {window.Minutes}.",
                $"Choose a longer window, or do the preparation before it."
            );
        foreach (var i in about.Plan.Interruptions.Where(i => i.Seconds > window.Minutes * 60))
            yield return new(
                PlanCheck.WindowTooShort.Code,
                Severity.Degrades,
                $"{i.Says} The window has {window.Minutes} minutes.",
                $"Choose a longer window."
            );
    }

    private static IEnumerable<PlanFinding> Blocking(Checked about) =>
        about.Plan.InTheWay.Select(f => new PlanFinding(
            PlanCheck.AddsBlocking.Code,
            Severity.Blocks,
            $"The change adds a finding that blocks: {f.Finding.Code:w} on {f.TunnelCode}: {f.Finding.What}",
            f.Finding.Do
        ));

    private static IEnumerable<PlanFinding> Pending(Checked about) =>
        about.Plan.Pending.Select(p => new PlanFinding(
            PlanCheck.ValuePending.Code,
            Severity.Blocks,
            $"The {p.At.Label:w} is "
                + $"pending{(p.At.WhoKnows is { } who ? $" from {who}" : ""):w}"
                + $"{(p.At.By is { } by ? $", by {Scalars.Write(by)}" : ""):w}; "
                + $"{Say.Count(p.Steps.Length, "step"):w} {(p.Steps.Length == 1 ? "needs" : "need"):w} it.",
            $"Fill it in: vellumkeep change fill {about.Change.Code} {p.Number} <value>."
        ));

    private static IEnumerable<PlanFinding> Unknown(Checked about) =>
        about.Plan.Unknown.Select(u => new PlanFinding(
            PlanCheck.LeavesUnknown.Code,
            Severity.Degrades,
            $"{u.What:w} of {u.TunnelCode:w} at {u.End} is unknown, and the plan leaves it so.",
            $"Record it and recompute, or approve the change with a remark that says why it may stay unknown."
        ));

    private static IEnumerable<PlanFinding> NoWayBack(Checked about) =>
        from step in about.Plan.Steps
        where step.NoReturn || (step.Undo is null && AltersSomething(step))
        select new PlanFinding(
            PlanCheck.CannotBeUndone.Code,
            Severity.Risk,
            $"Step {about.Plan.NumberOf(step.Key)} cannot be undone: {step.Do}",
            $"Finish everything that can be undone before it, and have the saved configuration ready."
        );

    private static bool AltersSomething(Step step) =>
        step.Part is Part.Build or Part.Switch
        && (step.Enter.Length > 0 || step.Remove.Length > 0 || step.Stops is not null);

    private static IEnumerable<PlanFinding> Changed(Checked about)
    {
        if (about.Changed.Count > 0)
            yield return new(
                PlanCheck.RecordsChanged.Code,
                Severity.Blocks,
                $"Records behind this plan have changed: {Say.And(about.Changed.Take(4).Select(m => m.At.Path.ToString())):w}.",
                about.Change.State == ChangeState.UnderWay
                    ? Sentence.Of(
                        $"Take the corrections in: vellumkeep change take-in {about.Change.Code}. Closing then writes what "
                            + $"was built over them."
                    )
                    : Sentence.Of($"Recompute it. It then goes back to review.")
            );
    }

    private static IEnumerable<PlanFinding> Touching(Checked about) =>
        about.Plan.Touches.Select(t => new PlanFinding(
            PlanCheck.OthersAffected.Code,
            Severity.Note,
            t.How,
            $"Tell its users, or choose a time when nobody uses it."
        ));
}
