using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>The steps of a change as a page has them.</summary>
public static partial class ChangePages
{
    /// <summary>A step in one sentence, with the values that its own sentence does not name.</summary>
    private static string Whole(Step s, Scope scope)
    {
        var does = s.Do.Show(scope.Sees).Text;
        var values = s
            .Enter.Where(v => !does.Contains(v.Text, StringComparison.Ordinal))
            .Select(v => $"{v.Label} {v.Text}")
            .Concat(s.Remove.Select(v => $"remove {v.Label} {v.Text}"))
            .ToArray();
        return values.Length == 0 ? does : $"{does.TrimEnd('.')}: {string.Join("; ", values)}.";
    }

    /// <summary>
    /// What is alike: saving, activating and the like anywhere, and what is entered or removed on one gateway.
    /// </summary>
    private static string? AlikeOf(Change c, Step s) =>
        c.Plan.Steps.Count(o => KindAlike(o) == KindAlike(s)) > 1 ? KindAlike(s) : null;

    private static string? KindAlike(Step s)
    {
        if (s.Proves || s.Kind is StepKind.Manual or StepKind.FillIn or StepKind.MakeKey or StepKind.Close)
            return null;
        var place = s.Kind is StepKind.Enter or StepKind.Withdraw ? $" {s.Gateway}" : "";
        return $"{s.Part} {s.Kind}{place}".ToLowerInvariant();
    }

    private static StepPage Step(
        Change c,
        Step s,
        int number,
        Inventory around,
        Scope scope,
        IReadOnlySet<VersionOfKey> made,
        DateTimeOffset now
    ) =>
        new()
        {
            Number = number,
            Key = s.Key,
            Part = s.Part.ToString().ToLowerInvariant(),
            Where = s.Where == Where.Us ? "us" : s.Where.ToString(),
            Asked = s.Asked,
            Do = s.Do.Show(scope.Sees),
            Enter =
            [
                .. s.Enter.Select(v => new StepValueLine(v.Label, v.Text, v.Before, v.Waits is not null)
                {
                    OnlyUntil = v.OnlyUntil,
                }),
            ],
            Expect = [.. s.Expect.Select(v => new StepValueLine(v.Label, v.Text))],
            Waits =
                c.State != ChangeState.UnderWay || c.IsDone(s)
                    ? null
                    : StepOrder.Waits(c, s, made)?.Wrong.Show(scope.Sees),
            Proof = s.Proof?.Show(scope.Sees),
            NeedsProof = s.Proves,
            Minutes = s.Minutes,
            Stops = s.Stops?.Show(scope.Sees),
            Undo = s.Undo?.Show(scope.Sees),
            Outcome = c.LastAttempt(s.Key) is { } last ? Change.Outcomes.Of(last.Outcome) : null,
            Attempts =
            [
                .. c
                    .Attempts.Where(t => t.StepKey == s.Key)
                    .Select(t => new AttemptLine
                    {
                        Outcome = Change.Outcomes.Of(t.Outcome),
                        By = t.By,
                        At = t.At,
                        Remark = t.Remark,
                        Planned = t.Deviation?.Planned,
                        Set = t.Deviation?.Set,
                        Reason = t.Deviation?.Reason,
                        Proof = t.Proof,
                        WithoutProof = t.WithoutProof,
                        File = t.File is { } f ? new(f.Name, f.Digest, f.Size) : null,
                        TakenBack = t.TakenBack is { } back ? new(back.By, back.At) : null,
                    }),
            ],
            TakeBackUntil = ChangeLife.CanBeTakenBackUntil(c, s, now),
            Alike = AlikeOf(c, s),
            Tunnel = s.TunnelId is { } id ? around.Find<Tunnel>(id)?.Code : null,
            Gateway = s.Gateway,
            Remove = [.. s.Remove.Select(v => new StepValueLine(v.Label, v.Text))],
        };
}
