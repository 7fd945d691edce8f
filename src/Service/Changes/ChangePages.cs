using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>A change as a work order and run sheet.</summary>
public static partial class ChangePages
{
    public static ChangeSummary Summary(Change c, string customer, string tunnel) =>
        new()
        {
            Code = c.Code,
            Title = c.Title,
            State = Change.States.Of(c.State),
            Customer = customer,
            Tunnel = tunnel,
            Author = c.Author,
            WrittenAt = c.StatusHistory[0].At,
            Steps = c.Plan.Steps.Length,
            Settled = c.Settled,
            Failed = c.Plan.Steps.Count(s => c.LastAttempt(s.Key)?.Outcome == AttemptOutcome.Failed),
            WindowStart = c.Window?.Start,
            WindowMinutes = c.Window?.Minutes,
        };

    public static ChangePage Make(
        Kept<Change> kept,
        Inventory around,
        IReadOnlyList<Change> others,
        Asker asker,
        DateTimeOffset now,
        IReadOnlyDictionary<(string Tunnel, int Version), (string State, string CheckCode)> keys,
        Customer? house
    )
    {
        var made = keys.Keys.Select(k => new VersionOfKey(k.Tunnel, k.Version)).ToHashSet();
        var c = kept.Record;
        var scope = asker.Scope;
        var tunnel = around.Get<Tunnel>(c.Request.Tunnels[0]);
        var customer = around.Get<Customer>(c.CustomerId);
        var changed = c.Open ? ChangeLife.Changed(c, around) : [];
        var numbers = c.Plan.Steps.Select((s, i) => (s.Key, Number: i + 1)).ToDictionary(s => s.Key, s => s.Number);
        var left = LeftOut(c);
        return new()
        {
            Code = c.Code,
            Version = kept.Version,
            Title = c.Title,
            Reason = c.Reason,
            Kind = c.Request.Kind,
            State = Change.States.Of(c.State),
            Author = c.Author,
            WrittenAt = c.StatusHistory[0].At,
            Customer = customer.Code,
            CustomerName = customer.Name,
            Tunnel = tunnel.Code,
            TunnelName = tunnel.Name,
            A = End(around, tunnel.A),
            B = End(around, tunnel.B),
            SideRequested = c.Request.Side?.ToString(),
            WindowStart = c.Window?.Start,
            WindowMinutes = c.Window?.Minutes,
            WindowAtA = At(around, tunnel.A, c.Window, now),
            WindowAtB = At(around, tunnel.B, c.Window, now),
            PlannedMinutes = c.Plan.Minutes,
            Verdict = Verdict(c, scope, now),
            Differs = Differs(c),
            Steps = [.. c.Plan.Steps.Select((s, i) => Step(c, s, i + 1, around, scope, made, now))],
            FindingsAdded = Findings(c.Plan.Added, around, scope),
            FindingsRemoved = Findings(c.Plan.Removed, around, scope),
            FindingsStanding = Findings(c.Plan.Standing, around, scope),
            WayBack = WayBack(c, numbers, scope),
            Remarks = RemarksOn(c, numbers),
            ApprovedBy = c.Approval?.By,
            ApprovedAt = c.Approval?.At,
            StatusHistory =
            [
                .. c.StatusHistory.Select(p => new StatusLine(Change.States.Of(p.To), p.By, p.At, p.Remark)),
            ],
            Changed = [.. changed.Select(m => Changed(m, around))],
            OtherOpenChanges =
            [
                .. others.Where(o => o.Request.Tunnels.Intersect(c.Request.Tunnels).Any()).Select(o => o.Code),
            ],
            Acts = Acts(c, asker, changed),
            Tunnels = [.. c.Request.Tunnels.Select(around.Get<Tunnel>).Select(t => OneTunnel(c, t, around, scope))],
            PlanFindings = c.Open ? OfPlan(PlanChecks.Run(c, around, others, changed, house), scope) : [],
            Pending = Pending(c, numbers),
            Batches = c.Batches,
            Filled = [.. c.Filled.Select(f => new FilledLine(f.Number, f.At.Label, f.Value, f.By, f.Time))],
            Touches = Touches(c, around, scope),
            Play = PlayOf(c, around, scope),
            Translations = Translations(c, scope),
            Keys = KeysOf(c, around, keys),
            UrgentAsked = c.UrgentAsked is not { } ask ? null : new(ask.By, ask.Reviewer, ask.Reason, ask.At),
            Urgent = UrgentOf(c, now),
            LeftOver = [.. left.Select(s => $"step {numbers[s.Key]} skipped: {c.LastAttempt(s.Key)!.Remark}")],
            LeftSteps = LeftSteps(left, scope),
        };
    }

    private static ChangeTunnel OneTunnel(Change c, Tunnel t, Inventory around, Scope scope)
    {
        var rehearsed = c.Plan.Rehearsals.FirstOrDefault(r => r.TunnelId == t.Id);
        var interruption = c.Plan.Interruptions.FirstOrDefault(i => i.TunnelId == t.Id);
        return new(
            t.Code,
            t.Name,
            End(around, t.A),
            End(around, t.B),
            rehearsed?.Before.Show(scope.Sees) ?? [],
            rehearsed?.After.Show(scope.Sees) ?? [],
            interruption?.Says.Show(scope.Sees),
            interruption?.Seconds
        );
    }

    private static ChangeEnd End(Inventory around, TunnelEnd e)
    {
        var gateway = around.Get<Gateway>(e.GatewayId);
        var platform = around.Get<Platform>(gateway.PlatformId);
        return new(
            around.Get<Site>(gateway.SiteId).Name,
            gateway.Code,
            platform.Title,
            platform.Effect switch
            {
                Effect.AtOnce => "each entry immediately",
                Effect.OnActivation => "entered, then activated",
                Effect.OnRequest => "one request",
                _ => "the profile does not say when entries take effect",
            },
            WordsOf.RunBys.Of(gateway.RunBy)
        );
    }

    /// <summary>A window in the time zone of a site.</summary>
    private static string? At(Inventory around, TunnelEnd e, Window? window, DateTimeOffset now)
    {
        if (window is null)
            return null;
        var site = around.Get<Site>(around.Get<Gateway>(e.GatewayId).SiteId);
        var zone = WallTime.Zone(site.TimeZone);
        return $"{WallTime.Said(window, zone, now)} ({zone.Id})";
    }

    private static ChangedValue Changed(RestsOn m, Inventory around)
    {
        IRecord? record =
            m.At.Kind == RecordKind.Tunnel ? around.Find<Tunnel>(m.At.RecordId) : around.Find<Gateway>(m.At.RecordId);
        return new(
            record?.Code ?? "gone",
            m.At.Path.ToString(),
            m.Value?.ToString(),
            record is null ? null : Edits.Find(RecordBody.Form(record), m.At.Path)?.ToString()
        );
    }

    /// <summary>Every act of the table: whether the asker may do it now, and else why not.</summary>
    private static IReadOnlyList<AllowedAct> Acts(Change c, Asker asker, ImmutableArray<RestsOn> changed) =>
        [.. ChangeActs.All.Where(r => r.Act != ChangeAct.Remark).Select(r => Act(r, c, asker, changed))];

    private static AllowedAct Act(ActRule rule, Change c, Asker asker, ImmutableArray<RestsOn> changed)
    {
        var may = ChangeWork.May(asker, rule, c);
        var stopped = ChangeActs.Stops(rule.Act, c, asker.Name, changed)?.Short;
        if (may || !rule.From.Contains(c.State))
            return new(rule.Word, stopped is null, stopped);
        return new(rule.Word, false, $"needs the role {Grant.Roles.Of(rule.Roles[0])}");
    }
}
