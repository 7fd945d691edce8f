using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Fixes;

/// <summary>One value that a fix sets: a row of the comparison at an end, as it would be typed.</summary>
/// <param name="End">The end at which it is set.</param>
/// <param name="Row">Which value.</param>
/// <param name="Value">As it would be typed.</param>
public sealed record FixValue(EndName End, RowKey Row, string Value);

/// <summary>
/// A change that fixes a stop, tried out: the tunnel was rehearsed whole with it, from both sides.
/// </summary>
/// <param name="Values">What it sets, at one end or at both.</param>
/// <param name="Says">What would be set, as one sentence.</param>
/// <param name="Fixed">The tunnel with it.</param>
/// <param name="Then">The rehearsal of the same side with it.</param>
/// <param name="Risks">Codes of risks it would add, by the findings of the fixed tunnel.</param>
/// <param name="Interrupts">The worst disturbance at the ends it touches, as far as their profiles say.</param>
public sealed record Fix(
    ImmutableArray<FixValue> Values,
    Sentence Says,
    Tunnel Fixed,
    Rehearsal Then,
    ImmutableArray<string> Risks,
    Disturbance? Interrupts
)
{
    /// <summary>Whether the tunnel then comes up from that side with every pair.</summary>
    public bool Passes => Then.Outcome == Outcome.Up;
}

/// <summary>
/// Finds the smallest changes that make it pass the first obstacle of a rehearsal by trying: each candidate is set, the
/// tunnel resolved and rehearsed again, and kept only when it gets strictly further. Best first: back to what was
/// agreed, adds no risk, touches fewer ends, fewer values, interrupts less.
/// </summary>
public static partial class FixFinder
{
    /// <param name="view">The tunnel with both ends resolved.</param>
    /// <param name="rehearsal">Of the side whose stop is to be fixed.</param>
    /// <param name="most">How many are given at the most.</param>
    public static ImmutableArray<Fix> Of(TunnelView view, Rehearsal rehearsal, int most = 4)
    {
        // What hinders traffic is not negotiated, and no value of the comparison fixes it.
        var negotiated = Rehearse.From(view, rehearsal.Initiator);
        return negotiated.Stop is not { } stop
            ? []
            : Ranked(view, negotiated, [.. ToAgreed(view, stop.RowKey), .. Candidates(view, negotiated, stop)], most);
    }

    /// <summary>The fixes of the failure that comes after the tunnel is up; empty when none is coming.</summary>
    public static ImmutableArray<Fix> OfLater(TunnelView view, Rehearsal rehearsal, int most = 3) =>
        rehearsal.Later is null
            ? []
            : Ranked(view, rehearsal, [.. ToAgreed(view, Settings.Pfs), .. Secrecy(view)], most, r => r.Later is null);

    private static ImmutableArray<Fix> Ranked(
        TunnelView view,
        Rehearsal before,
        IEnumerable<ImmutableArray<FixValue>> candidates,
        int most,
        Func<Rehearsal, bool>? enough = null
    )
    {
        var risksBefore = Risky(view);
        var tried = new List<Fix>();
        foreach (
            var values in candidates
                .Select(c => c.RemoveAll(v => InEffect(view, v)))
                .Where(c => c.Length > 0)
                .DistinctBy(c => string.Join("|", c.Select(v => v.ToString())))
        )
        {
            // What already works with fewer values is not told again with more.
            if (tried.Any(t => t.Passes && t.Values.All(values.Contains)) || Set(view, values) is not { } repaired)
                continue;
            var after = new TunnelView(view.Inventory.With([repaired]), repaired, view.Today);
            var then = Rehearse.From(after, before.Initiator);
            if (!(enough?.Invoke(then) ?? then.Further(before)))
                continue;
            // An end that cannot begin anyway is told nothing that would be of use only if it did.
            if (then.Outcome == Outcome.DoesNotStart)
                continue;
            if (tried.Any(t => t.Values.All(values.Contains) && t.Then.Obstacles.Length <= then.Obstacles.Length))
                continue;
            var ends = values.Select(v => v.End).Distinct().ToArray();
            Disturbance? worst = ends.Select(e => view.End(e).Platform.SubnetsCost?.What).Max();
            tried.Add(
                new(
                    values,
                    Says(view, values),
                    repaired,
                    new Checked(after).Rehearsed(before.Initiator),
                    [.. Risky(after).Except(risksBefore).Order(StringComparer.Ordinal)],
                    worst
                )
            );
        }

        // An identity that is a private address means something only beside the device that has it.
        static bool Private(Fix m) =>
            m.Values.Any(v =>
                v.Row.Subject == RowSubject.Identity
                && Identity.Parse(v.Value) is { Ok: true, Value: { Type: IdentityKind.Address } id }
                && Address.Parse(id.Value).Value.IsPrivate
            );
        return
        [
            .. tried
                .OrderBy(m => m.Values.All(v => IsAgreed(view, v)) ? 0 : 1)
                .ThenBy(m => m.Risks.Length)
                .ThenByDescending(m => m.Passes)
                .ThenBy(Private)
                .ThenBy(m => m.Values.Select(v => v.End).Distinct().Count())
                .ThenBy(m => m.Values.Length)
                .ThenBy(m => m.Interrupts ?? Disturbance.GatewayRestarts)
                .ThenBy(m => m.Says.ToString(), StringComparer.Ordinal)
                .Take(most),
        ];
    }

    /// <summary>Whether a value is what both parties agreed for that end, from which it deviates now.</summary>
    private static bool IsAgreed(TunnelView view, FixValue v) => AgreedFor(view, v.End, v.Row) == v.Value;

    /// <summary>Whether the end has that value already: setting it would change nothing.</summary>
    private static bool InEffect(TunnelView view, FixValue v)
    {
        var end = view.End(v.End);
        // Several values are typed with semicolons between them, and shown with commas.
        return v.Value.Replace("; ", ", ", StringComparison.Ordinal)
            == v.Row.Subject switch
            {
                RowSubject.Identity when v.Row.Owner == v.End => end.IdentitySent.Value?.ToString(),
                RowSubject.Identity => end.IdentityExpected.Value?.ToString(),
                RowSubject.Address => end.PeerAddress.Value?.ToString(),
                RowSubject.KeyHeld => end.End.KeyHeld?.ToString(),
                RowSubject.Subnets when v.Row.Owner == v.End => Listed(end.LocalSubnets),
                RowSubject.Subnets => Listed(end.RemoteSubnets),
                _ => v.Row.Setting?.On(end).Any?.ToString(),
            };
    }

    private static string? Listed(Resolved<Several<Prefix>> prefixes) =>
        prefixes.Value is { } all ? string.Join(", ", all.Items.Order()) : null;

    /// <summary>Each end that deviates from what was agreed back to it, then both.</summary>
    private static IEnumerable<ImmutableArray<FixValue>> ToAgreed(TunnelView view, RowKey? row)
    {
        if (row is null)
            return [];
        var back = Enum.GetValues<EndName>()
            .Select(end => (End: end, Agreed: AgreedFor(view, end, row)))
            .Where(e => e.Agreed is not null && Without(view.Tunnel.End(e.End), row) != view.Tunnel.End(e.End))
            .Select(e => new FixValue(e.End, row, e.Agreed!))
            .ToImmutableArray();
        return back.Length < 2 ? [back] : [.. back.Select(v => ImmutableArray.Create(v)), back];
    }

    /// <summary>What was agreed for a row at an end, as it is typed; null where nothing was.</summary>
    private static string? AgreedFor(TunnelView view, EndName end, RowKey row)
    {
        var bare = view.Tunnel.WithEnd(end, e => Without(e, row));
        var then = new TunnelView(view.Inventory.With([bare]), bare, view.Today).End(end);
        return row.Subject switch
        {
            RowSubject.Identity => row.Owner == end ? Text(then.IdentitySent) : Text(then.IdentityExpected),
            RowSubject.Address => Text(then.PeerAddress),
            _ => row.Setting?.On(then) is { Source: Source.Agreed } value ? value.Any?.ToString() : null,
        };

        static string? Text<T>(Resolved<T> value)
            where T : class => value.Source == Source.Agreed ? value.Value?.ToString() : null;
    }

    private static TunnelEnd Without(TunnelEnd end, RowKey row) =>
        row.Subject switch
        {
            RowSubject.Identity => end with { IdentitySent = null, IdentityExpected = null },
            RowSubject.Address => end with { PeerAddress = null, FurtherPeers = [] },
            _ => row.Setting is { } setting ? end with { Set = end.Set.Without(setting), ProposalsFrom = null } : end,
        };

    /// <summary>Checks of what was seen and of dates, which no value of a fix adds.</summary>
    private static readonly string[] NoRiskOfAFix =
    [
        Findings.Pair.NeverConfirmed.Check.Code,
        Findings.Path.PastDeadline.Check.Code,
        Findings.Path.NotSaved.Check.Code,
    ];

    private static HashSet<string> Risky(TunnelView view) =>
        [
            .. Checks
                .Run(new Checked(view))
                .Where(f => f.Severity == Severity.Risk && !NoRiskOfAFix.Contains(f.Code))
                .Select(f => f.Code),
        ];

    /// <summary>The tunnel with the values set; null when one of them cannot be read there.</summary>
    public static Tunnel? Set(TunnelView view, IEnumerable<FixValue> values)
    {
        var tunnel = view.Tunnel;
        foreach (var v in values)
        {
            var made = Tried(new TunnelView(view.Inventory, tunnel, view.Today), v);
            if (!made.Ok)
                return null;
            tunnel = made.Value;
        }

        return tunnel;
    }

    /// <summary>
    /// The tunnel with one value as a fix or somebody at the command names it: a row of the comparison, or what is
    /// installed at an end.
    /// </summary>
    public static Parsed<Tunnel> Tried(TunnelView view, FixValue v) =>
        Installed(view.Tunnel, v) is { } installed
            ? Parsed<Tunnel>.Of(installed)
            : ConfirmingValues.Correct(view, v.End, v.Row, v.Value, null);

    /// <summary>Certificates and keys each way, which are no values of a row; null for every other.</summary>
    private static Tunnel? Installed(Tunnel tunnel, FixValue v)
    {
        var end = tunnel.End(v.End);
        var other = tunnel.End(v.End.Other());
        TunnelEnd? made = v.Row.Subject switch
        {
            RowSubject.KeysMirrored when other.KeyHeld is { } held => end with
            {
                KeyHeld = new(held.Receive, held.Send),
            },
            RowSubject.Anchors => end with { Anchors = [.. (end.Anchors ?? []).Append(v.Value).Distinct()] },
            RowSubject.CertificateDates when end.Certificate is { } c => end with
            {
                Certificate = c with { From = null, Until = null },
            },
            RowSubject.CertificateUsage when end.Certificate is { } c => end with
            {
                Certificate = c with { MayAuthenticate = true },
            },
            RowSubject.CertificateName when end.Certificate is { } c && Identity.Parse(v.Value) is { Ok: true } name =>
                end with
                {
                    Certificate = c with { Names = [.. c.Names, name.Value] },
                },
            _ => null,
        };
        return made is null ? null
            : v.End == EndName.A ? tunnel with { A = made }
            : tunnel with { B = made };
    }

    private static Sentence Says(TunnelView view, ImmutableArray<FixValue> values)
    {
        Sentence One(FixValue v) =>
            v.Row.Subject switch
            {
                RowSubject.KeyHeld => $"enter key {v.Value} at {v.End}",
                RowSubject.KeysMirrored =>
                    $"enter the keys of {v.End.Other()} the other way round at {v.End}: {v.Value:w}",
                RowSubject.Anchors => $"install {v.Value} as a trust anchor at {v.End}",
                RowSubject.CertificateDates => $"install a certificate at {v.End} that is valid today",
                RowSubject.CertificateUsage =>
                    $"have the CA issue {v.End}'s certificate again with key usage {v.Value:w}",
                RowSubject.CertificateName => $"have the CA issue {v.End}'s certificate again with the SAN {v.Value}",
                RowSubject.KeyFor => $"enter the PSK at {v.End} for {v.Value} address",
                RowSubject.Identity => v.Row.Owner == v.End
                    ? Sentence.Of($"set the identity that {v.End} sends to {v.Value}")
                    : Sentence.Of($"set the identity that {v.End} expects to {v.Value}"),
                RowSubject.Subnets => v.Row.Owner == v.End
                    ? Sentence.Of($"set the local subnets at {v.End} to {v.Value}")
                    : Sentence.Of($"set the remote subnets at {v.End} to {v.Value}"),
                RowSubject.Address => $"set the peer address at {v.End} to {v.Value}",
                _ => $"set {v.Row.Setting?.Label ?? v.Row.Text:w} at {v.End} to {v.Value}",
            };
        // The same value at both ends is said once.
        var said = new List<Sentence>();
        for (var i = 0; i < values.Length; i++)
            if (
                i + 1 < values.Length
                && values[i].Row == values[i + 1].Row
                && values[i].Value == values[i + 1].Value
                && values[i].Row.Setting is { } both
            )
            {
                said.Add($"set {both.Label:w} to {values[i].Value} at both ends");
                i++;
            }
            else
            {
                said.Add(One(values[i]));
            }

        var all = said[0];
        for (var i = 1; i < said.Count; i++)
            all = Sentence.Of($"{all}{(i == said.Count - 1 ? " and " : ", "):w}{said[i]}");
        return all.Capitalised().Dotted();
    }

    private static string Typed(Lifetime time, EndView end) =>
        (end.Platform.LifetimeUnit is { } unit ? time.In(unit) : null) is { } there
            ? $"{there.Amount} {Lifetime.Word(there.Unit)}"
            : $"{time.InSeconds} s";
}
