namespace Vellumkeep.Views;

/// <summary>
/// A rehearsal as a page: the ladder from either side, the fixes for each stop, and the hours after.
/// </summary>
public static class RehearsalPages
{
    /// <param name="findings">The findings as they are kept; null where none are, and the checks run here.</param>
    public static RehearsalPage Make(TunnelView view, Sees sees, IReadOnlyList<Finding>? findings = null)
    {
        var about = new Checked(view);
        findings ??= Checks.Run(about);
        // The hours after are told for the side that brings it up.
        var told = about.Rehearsals.FirstOrDefault(r => r.ComesUp)
            ?? about.Rehearsals.FirstOrDefault(r => r.Outcome != Outcome.DoesNotStart)
            ?? about.Rehearsed(EndName.A);
        return new()
        {
            Tunnel = view.Tunnel.Code,
            Name = view.Tunnel.Name,
            Standing = StandingRule.Words.Of(StandingRule.Of(findings)),
            Verdict = Verdict.Of(about, findings).Show(sees),
            A = TunnelPages.End(view.A),
            B = TunnelPages.End(view.B),
            FromA = Side(about, about.Rehearsed(EndName.A), sees),
            FromB = Side(about, about.Rehearsed(EndName.B), sees),
            Timeline = Times(Timeline.Of(view, told)),
            Pairings = [.. Rehearse.Pairings(view).Select(p => Pairing(p.A, p.B, p.View, sees))],
            Detection =
            [
                .. Detection
                    .All(view)
                    .Select(d => new DetectionLine(d.End.ToString(), d.UplinkA, d.UplinkB, d.Seconds, d.Working)),
            ],
            Fallback = FallBack.Of(view)?.Show(sees),
        };
    }

    public static RehearsedSide Side(Checked about, Rehearsal r, Sees sees)
    {
        var fixes = FixFinder.Of(about.View, r);
        string NameAt(int number) =>
            number == 0 ? "before the first message"
            : r.Exchanges.FirstOrDefault(x => x.Number == number) is { } x ? FindingText.Name(x.Message)
            : "";
        return new()
        {
            Initiator = r.Initiator.ToString(),
            Title = FindingText.Title(r).Show(sees),
            Version = r.Version?.ToString(),
            Mode = r.Mode is { } m ? WordsOf.ExchangeModes.Of(m) : null,
            Outcome = FindingText.Outcomes.Of(r.Outcome),
            Exchanges =
            [
                .. Ladder
                    .Of(about, r, fixes.FirstOrDefault())
                    .Select(x => new ExchangeLine(
                        x.Number,
                        x.Name,
                        x.From.ToString(),
                        x.Carries.Show(sees),
                        x.Decides?.Show(sees),
                        x.IfFixed
                    )),
            ],
            Stops =
            [
                .. r.Obstacles.Select(o => new StopLine(
                    o.Exchange,
                    NameAt(o.Exchange),
                    o.RefusedBy?.ToString(),
                    FindingText.Kinds.Of(o.Kind),
                    o.Notify,
                    Checks.CodeOf(o),
                    o.RowKey?.Text,
                    FindingText.Why(about, r, o).Show(sees),
                    [.. o.Pairs.Select(about.View.NameOf)]
                )),
            ],
            FindOut =
            [
                .. r
                    .Open.Select(q => FindingText.FindOut(about, q))
                    .DistinctBy(q => q.ToString())
                    .Select(q => q.Show(sees)),
            ],
            Assumed = [.. r.Assumed.Select(a => FindingText.Assumed(about, a).Show(sees))],
            IkeProposal = r.Ike?.ToString(),
            EspProposal = r.Esp?.ToString(),
            Pfs = r.Pfs?.Name,
            Encapsulated = r.Encapsulated,
            Passing = [.. r.AllPassing.Select(p => p.ToString())],
            Lost = r.ComesUp ? [.. r.Lost(about.View.Tunnel.Agreed.Pairs).Select(p => p.ToString())] : [],
            Later = r.Later is { } l ? FindingText.Later(l).Show(sees) : null,
            Fixes = [.. fixes.Select(x => Line(about, x, sees))],
            LaterFixes = [.. FixFinder.OfLater(about.View, r).Select(x => Line(about, x, sees))],
        };
    }

    private static FixLine Line(Checked about, Fix m, Sees sees)
    {
        var after = new Checked(new TunnelView(about.View.Inventory.With([m.Fixed]), m.Fixed, about.View.Today));
        return new(
            m.Says.Show(sees),
            [.. m.Values.Select(v => new FixValueLine(v.End.ToString(), v.Row.Text, v.Value))],
            FindingText.Outcomes.Of(m.Then.Outcome),
            m.Passes,
            m.Risks,
            m.Interrupts switch
            {
                Disturbance.ThatPair => "Only that pair is affected.",
                Disturbance.TunnelRestarts => "The tunnel restarts.",
                Disturbance.GatewayRestarts => "Every tunnel of the gateway restarts.",
                Disturbance.UplinkBounces => "The uplink goes down and up.",
                _ => null,
            },
            m.Then.Stop is { } next ? FindingText.Why(after, m.Then, next).Show(sees) : null
        );
    }

    private static PairingLine Pairing(Uplink a, Uplink b, TunnelView view, Sees sees)
    {
        var about = new Checked(view);
        var (fromA, fromB) = (about.Rehearsed(EndName.A), about.Rehearsed(EndName.B));
        var stopped = new[] { fromA, fromB }.FirstOrDefault(r =>
            r.Outcome != Outcome.DoesNotStart && r.Stop is not null
        );
        return new(
            a.Label,
            b.Label,
            FindingText.Outcomes.Of(fromA.Outcome),
            FindingText.Outcomes.Of(fromB.Outcome),
            stopped is null ? null : FindingText.Why(about, stopped, stopped.Stop!).Show(sees)
        );
    }

    /// <summary>The words of what happens to an SA.</summary>
    public static readonly Words<TimelineKind> MarkKinds = new(
        "what happens to an SA",
        (TimelineKind.Rekey, "rekey"),
        (TimelineKind.DataRekey, "rekey by data volume"),
        (TimelineKind.Reauthentication, "reauthentication"),
        (TimelineKind.RekeyRefused, "rekey refused"),
        (TimelineKind.Lost, "lost")
    );

    private static TimelinePage Times(Timeline t)
    {
        static string Layer(bool ofIke) => ofIke ? "IKE" : "ESP";
        return new(
            t.Length,
            [
                .. t.Lives.Select(l => new LifeLine(
                    l.End.ToString(),
                    Layer(l.OfIke),
                    l.Rekeys?.From,
                    l.Rekeys?.To,
                    l.Drops
                )),
            ],
            [
                .. t.Events.Select(e => new TimelineMark(
                    MarkKinds.Of(e.Kind),
                    Layer(e.OfIke),
                    e.By.ToString(),
                    e.At.From,
                    e.At.To
                )),
            ],
            [
                .. t
                    .Notes.Select(n =>
                        n.Note switch
                        {
                            TimelineNote.Collision =>
                                $"{Layer(n.OfIke)}: both ends can rekey at the same time. Each keeps one of the two "
                                    + $"new SAs and deletes the other.",
                            TimelineNote.DataFirst =>
                                $"{Layer(n.OfIke)}: at the tunnel's throughput the data lifetime ends before the time.",
                            TimelineNote.Gap =>
                                "Reauthentication makes all SAs new, and traffic is interrupted meanwhile.",
                            TimelineNote.NumbersRunOut =>
                                "ESP: at the tunnel's throughput the sequence numbers run out before the lifetime. "
                                    + "Use extended sequence numbers.",
                            TimelineNote.CipherWorn => "More data passes with one key than the cipher allows.",
                            _ => $"{Layer(n.OfIke)}: a lifetime or a margin is unknown, so not all rekeys are drawn.",
                        }
                    )
                    .Distinct(),
            ]
        );
    }
}
