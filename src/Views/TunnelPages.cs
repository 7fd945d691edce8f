namespace Vellumkeep.Views;

/// <summary>
/// What stands beside a tunnel on its page and is not computed from records: its version, open changes, when findings
/// were first seen, what was last done.
/// </summary>
public sealed record Beside(
    int Version,
    IReadOnlyList<(Change Change, ChangeSummary Summary)> Open,
    Func<Finding, DateTimeOffset?> Since,
    LastChange? Last
)
{
    /// <summary>The findings as they are kept; null where none are, and the checks run here.</summary>
    public IReadOnlyList<Finding>? Findings { get; init; }

    public static readonly Beside Nothing = new(0, [], _ => null, null);
}

/// <summary>A tunnel as a page: both ends compared, drawn and judged.</summary>
public static class TunnelPages
{
    public static TunnelPage Make(TunnelView view, Beside beside, Sees sees)
    {
        var about = new Checked(view);
        var findings = beside.Findings ?? Checks.Run(about);
        var t = view.Tunnel;
        var ike = Strokes.OfIkeSa(about, findings);
        return new()
        {
            Code = t.Code,
            Version = beside.Version,
            Name = t.Name,
            Purpose = t.Purpose,
            Customer = view.Customer.Code,
            CustomerName = view.Customer.Name,
            State = WordsOf.States.Of(t.State),
            Since = t.Since is { } since ? Scalars.Write(since) : null,
            Form = WordsOf.Forms.Of(t.Form),
            Tags = t.Tags,
            Notes = t.Notes,
            Standing = StandingRule.Words.Of(StandingRule.Of(findings)),
            Verdict = Verdict.Of(about, findings).Show(sees),
            A = End(view.A),
            B = End(view.B),
            Ike = new(
                ike.Show(),
                IkeLabel(about),
                ike.Finding is { } f ? (f.Consequence ?? f.What).Show(sees) : null,
                After(ike.Finding)
            ),
            Pairs = [.. about.Pairs.Select(p => Pair(p, about, findings, sees))],
            Planned =
            [
                .. beside.Open.SelectMany(c =>
                    c.Change.Plan.NewPairs.Where(p =>
                            !t.Agreed.Pairs.Contains(p)
                            && c.Change.Plan.Edits.Any(e => e.At == Place.On(t, TunnelPaths.Pair(p)))
                        )
                        .Select(p => new PlannedPair(
                            p.A.ToString(),
                            p.B.ToString(),
                            view.A.Site.NameOf(p.A),
                            view.B.Site.NameOf(p.B),
                            c.Change.Code,
                            Change.States.Of(c.Change.State)
                        ))
                ),
            ],
            Rows = [.. about.Rows.Select(r => Row(r, findings, view))],
            Findings = [.. findings.Select(x => x.Show(t.Code, sees, beside.Since(x)))],
            OpenChanges = [.. beside.Open.Select(c => c.Summary)],
            LastChange = beside.Last,
        };
    }

    internal static EndPage End(EndView e)
    {
        var uplink = e.Uplinks.FirstOrDefault();
        return new()
        {
            End = e.Name.ToString(),
            Site = e.Site.Name,
            Gateway = e.Gateway.Code,
            Platform = e.Platform.Title,
            RunBy = WordsOf.RunBys.Of(e.Gateway.RunBy),
            Owner = e.Owner.Name,
            OuterAddress = e.OuterText,
            AddressIsDynamic = e.AddressIsDynamic,
            Nat = uplink?.Nat is { } t ? t.Name : null,
            DeviceAddress = uplink?.Nat is null ? null : uplink.Address.Value?.ToString(),
            Networks = [.. e.Site.Networks.Select(n => $"{n.Prefix} {n.Name}")],
        };
    }

    /// <summary>What the line of the IKE SA says: version, mode, and the proposal that is chosen.</summary>
    private static string IkeLabel(Checked about)
    {
        var r = about.Rehearsals.FirstOrDefault(x => x.Ike is not null) ?? about.Rehearsed(EndName.A);
        if (about.View.Version is null)
            return "no IKE version in common";
        var mode = r.Mode is { } m ? $" {WordsOf.ExchangeModes.Of(m)} mode" : "";
        return r.Ike is { } chosen ? $"{r.Version}{mode} · {chosen}"
            : r.Obstacles.Any(o => o.Cause is NothingChosen { OfEsp: false })
                ? $"{r.Version}{mode} · no proposal in common"
            : $"{r.Version}{mode}";
    }

    private static string? After(Finding? f) =>
        f?.After is { } after
            ? Vellumkeep
                .Core.Quantities.Lifetime.Say(after)
                .Replace(" minutes", " min")
                .Replace(" hours", " h")
                .Replace(" seconds", " s")
            : null;

    private static PairLine Pair(PairState p, Checked about, IReadOnlyCollection<Finding> findings, Sees sees)
    {
        var drawn = Strokes.Of(p.Pair, about, findings);
        // The line speaks of what is this pair's own; what all pairs share is said once, in the verdict.
        var all = about.View.Tunnel.Agreed.Pairs;
        var own = findings
            .Where(x =>
                x.Severity < Severity.Note
                && x.Pairs.Contains(p.Pair)
                && (all.Length == 1 || x.Pairs.Length < all.Length)
            )
            .OrderBy(x => x.Severity)
            .FirstOrDefault();
        var says = own ?? (drawn.Finding?.After is null ? drawn.Finding : null);
        return new()
        {
            A = p.Pair.A.ToString(),
            B = p.Pair.B.ToString(),
            AName = about.View.A.Site.NameOf(p.Pair.A),
            BName = about.View.B.Site.NameOf(p.Pair.B),
            Form = drawn.Show(),
            Says = says is null || says.After is not null ? null : (says.Consequence ?? says.What).Show(sees),
            After = After(drawn.Finding),
            Code = drawn.Finding?.Code,
            AtA = PairEnd(p.A),
            AtB = PairEnd(p.B),
        };
    }

    private static PairEnd PairEnd(PairAtEnd p) =>
        new(Word(p.Selector), Word(p.RuleIn), Word(p.RuleOut), Word(p.NoNat), Word(p.Route));

    private static string Word(Presence p) => p == Presence.NotNeeded ? "not needed" : p.ToString().ToLowerInvariant();

    private static CompareRow Row(Row r, IReadOnlyCollection<Finding> findings, TunnelView view)
    {
        var drawn = Strokes.Of(r, findings);
        string[] codes = [.. findings.Where(f => f.RowKey == r.Key).Select(f => f.Code).Distinct()];
        return new()
        {
            Key = r.Key.Text,
            Label = r.Label,
            A = Cell(r, EndName.A, view),
            B = Cell(r, EndName.B, view),
            Relation = r.Relation switch
            {
                Relation.Agrees => "agrees",
                Relation.AgreesNotConfirmed => "agrees, not confirmed",
                Relation.Differs => "differs",
                _ => "undetermined",
            },
            Form = drawn.Show(),
            WorthALook =
                findings.Any(f => f.RowKey == r.Key && f.Severity < Severity.Note)
                || r.Relation is Relation.Differs or Relation.Undetermined,
            Codes = codes,
        };
    }

    private static CompareCell Cell(Row r, EndName end, TunnelView view)
    {
        var c = end == EndName.A ? r.A : r.B;
        return new(
            c.Text,
            c.Source.ToString().ToLowerInvariant(),
            c.Via,
            c.Confirmed?.ToString(),
            c.Confirmed is { } s ? Scalars.Write(s.On) : null,
            c.Note,
            ConfirmingValues.CanConfirm(view, end, r.Key),
            ConfirmingValues.CanCorrect(view, end, r.Key)
        );
    }
}
