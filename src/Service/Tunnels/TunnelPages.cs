namespace Vellumkeep.Service.Tunnels;

/// <summary>A tunnel as a page: both ends compared, drawn and judged.</summary>
public static class TunnelPages
{
    public static TunnelPage Make(Kept<Tunnel> kept, Inventory inventory, IReadOnlyList<Kept<Change>> changes, IReadOnlyList<FindingKept> known, CommitRow? last, Scope scope, DateOnly today)
    {
        var view = new TunnelView(inventory, kept.Record, today);
        var about = new Checked(view);
        var findings = Checks.Run(about);
        var t = kept.Record;
        var open = changes.Where(c => c.Record.Open).ToArray();
        var ike = Strokes.OfIkeSa(about, findings);
        return new(
            t.Code, kept.Version, t.Name, t.Purpose, view.Customer.Code, view.Customer.Name, WordsOf.States.Of(t.State), t.Since is { } since ? Scalars.Write(since) : null, WordsOf.Forms.Of(t.Form), t.Tags, t.Notes,
            Verdict.Of(about, findings).Show(scope), End(view.A), End(view.B),
            new(ike.Show(), IkeLabel(view), ike.Finding is { } f ? (f.Consequence ?? f.What).Show(scope) : null, After(ike.Finding)),
            [.. about.Pairs.Select(p => Pair(p, about, findings, scope))],
            [.. open.SelectMany(c => c.Record.Plan.NewPairs.Where(p => !t.Agreed.Pairs.Contains(p)).Select(p => new PlannedPair(p.A.ToString(), p.B.ToString(), view.A.Site.NameOf(p.A), view.B.Site.NameOf(p.B), c.Record.Code, Change.States.Of(c.Record.State))))],
            [.. about.Rows.Select(r => Row(r, findings, view))],
            [.. findings.Select(x => x.Show(t.Code, scope, known.FirstOrDefault(k => k.Finding.Code == x.Code && k.Finding.Subject == x.Subject)?.FirstSeen))],
            [.. open.Select(c => Changes.ChangePages.Summary(c.Record, view.Customer.Code, t.Code))],
            last is null ? null : new(last.ChangeId is { } id && changes.FirstOrDefault(c => c.Record.Id == id) is { } by ? by.Record.Code : last.Act, last.Who, DateTimeOffset.Parse(last.At, CultureInfo.InvariantCulture)));
    }

    private static EndPage End(EndView e)
    {
        var uplink = e.Uplinks.FirstOrDefault();
        return new(e.Name.ToString(), e.Site.Name, e.Gateway.Code, e.Platform.Title, WordsOf.RunBys.Of(e.Gateway.RunBy), e.Owner.Name, e.OuterText, e.AddressMoves,
            uplink?.Translator is { } t ? Translator.Kinds.Of(t.Type) : null, uplink?.Translator is null ? null : uplink.Address.Value?.ToString(), [.. e.Site.Networks.Select(n => $"{n.Prefix} {n.Name}")]);
    }

    /// <summary>What the line of the IKE SA says: version and the proposal both would choose, or what each end offers when there is none.</summary>
    private static string IkeLabel(TunnelView view)
    {
        var version = view.Version?.ToString();
        var (a, b) = (view.A.Get(Settings.IkeProposals).Value, view.B.Get(Settings.IkeProposals).Value);
        if (version is null || a is null || b is null)
            return version ?? "IKE version unknown";
        var chosen = Core.Negotiation.Choice.Ike(b.Items, a.Items, view.A.Platform.Answers ?? Core.Negotiation.Answering.SameList).Proposal
            ?? Core.Negotiation.Choice.Ike(a.Items, b.Items, view.B.Platform.Answers ?? Core.Negotiation.Answering.SameList).Proposal;
        return chosen is null ? $"{version} · no proposal in common" : $"{version} · {chosen}";
    }

    private static string? After(Finding? f) => f?.After is { } after ? Core.Quantities.Lifetime.Say(after).Replace(" minutes", " min").Replace(" hours", " h").Replace(" seconds", " s") : null;

    private static PairLine Pair(PairState p, Checked about, IReadOnlyCollection<Finding> findings, Scope scope)
    {
        var drawn = Strokes.Of(p.Pair, about, findings);
        // The line speaks of what is this pair's own; what all pairs share is said once, in the verdict.
        var all = about.View.Tunnel.Agreed.Pairs;
        var own = findings.Where(x => x.Severity < Severity.Note && x.Pairs.Contains(p.Pair) && (all.Length == 1 || x.Pairs.Length < all.Length)).OrderBy(x => x.Severity).FirstOrDefault();
        var says = own ?? (drawn.Finding?.After is null ? drawn.Finding : null);
        return new(p.Pair.A.ToString(), p.Pair.B.ToString(), about.View.A.Site.NameOf(p.Pair.A), about.View.B.Site.NameOf(p.Pair.B), drawn.Show(),
            says is null || says.After is not null ? null : (says.Consequence ?? says.What).Show(scope), After(drawn.Finding), drawn.Finding?.Code, PairEnd(p.A), PairEnd(p.B));
    }

    private static PairEnd PairEnd(PairAtEnd p) => new(Word(p.Selector), Word(p.RuleIn), Word(p.RuleOut), Word(p.NoTranslation), Word(p.Route));

    private static string Word(Presence p) => p == Presence.NotNeeded ? "not needed" : p.ToString().ToLowerInvariant();

    private static CompareRow Row(Row r, IReadOnlyCollection<Finding> findings, TunnelView view)
    {
        var drawn = Strokes.Of(r, findings);
        string[] codes = [.. findings.Where(f => f.RowKey == r.Key).Select(f => f.Code).Distinct()];
        return new(r.Key, r.Label, Cell(r.A), Cell(r.B), r.Answer switch { Answer.Agrees => "agrees", Answer.AsFarAsKnown => "as far as known", Answer.Differs => "differs", _ => "undetermined" },
            drawn.Show(), codes.Length > 0 || r.Answer is Answer.Differs or Answer.Undetermined, codes, Looking.Where(view, EndName.A, r.Key).Ok || Looking.Where(view, EndName.B, r.Key).Ok);
    }

    private static CompareCell Cell(Cell c) => new(c.Text, c.Source.ToString().ToLowerInvariant(), c.Via, c.Seen?.ToString(), c.Seen is { } s ? Scalars.Write(s.On) : null, c.Note);
}
