using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>What happens to an association.</summary>
public enum TimelineKind
{
    /// <summary>A child SA is rekeyed.</summary>
    Rekey,

    /// <summary>A child SA is rekeyed because of the data that went through.</summary>
    DataRekey,

    /// <summary>The ends authenticate afresh.</summary>
    Reauthentication,

    /// <summary>A rekey is refused.</summary>
    RekeyRefused,

    /// <summary>Traffic is lost from here.</summary>
    Lost,
}

/// <summary>One moment of a timeline, in seconds after the tunnel comes up, as a range.</summary>
/// <param name="OfIke">The IKE SA; otherwise the child SAs.</param>
/// <param name="By">The end that does it, or is refused.</param>
public sealed record TimelineEvent(TimelineKind Kind, bool OfIke, EndName By, Span At);

/// <summary>The lifetimes of one layer at one end, in seconds; null where not known.</summary>
public sealed record LayerLife(EndName End, bool OfIke, Span? Renews, long? Drops);

/// <summary>What is worth a word about a timeline.</summary>
public enum TimelineNote
{
    /// <summary>Both ends may renew at the same time.</summary>
    Collision,

    /// <summary>The data lifetime is reached before the time.</summary>
    DataFirst,

    /// <summary>Reauthentication interrupts.</summary>
    Gap,

    /// <summary>A margin or a lifetime is not known.</summary>
    NotKnown,

    /// <summary>More data passes under one key than the cipher bears.</summary>
    CipherWorn,

    /// <summary>
    /// The 2^32 sequence numbers are used up before the time (RFC 4303 section 2.2.1), at the throughput and packets of
    /// 1,400 octets.
    /// </summary>
    NumbersRunOut,
}

/// <summary>
/// The hours after a tunnel is up: who renews what and when, computed from both ends' lifetimes, margins, jitter and
/// data limits, and the moment at which a deferred mismatch bites. <paramref name="Length"/> in seconds: 24 hours, or
/// twice the longest lifetime when that is longer.
/// </summary>
public sealed record Timeline(
    long Length,
    ImmutableArray<LayerLife> Lives,
    ImmutableArray<TimelineEvent> Events,
    ImmutableArray<(TimelineNote Note, bool OfIke)> Notes
)
{
    private const int Most = 400;

    /// <summary>What happens in the hours after a tunnel is up.</summary>
    public static Timeline Of(TunnelView view, Rehearsal rehearsal)
    {
        var notes = new List<(TimelineNote, bool)>();
        var lives = view
            .Ends.SelectMany(e =>
                new[] { Settings.IkeLifetime, Settings.EspLifetime }.Select(s => new LayerLife(
                    e.Name,
                    s == Settings.IkeLifetime,
                    Rekeying.Renews(e, s),
                    Rekeying.Drops(e, s)
                ))
            )
            .ToImmutableArray();
        var longest = lives.Select(l => l.Drops ?? 0).Max();
        var length = Math.Max(86_400, Math.Min(longest * 2, 31 * 86_400L));
        var events = new List<TimelineEvent>();
        foreach (var ofIke in new[] { true, false })
        {
            var mine = lives.Where(l => l.OfIke == ofIke).ToArray();
            if (mine.Any(l => l.Renews is null))
                notes.Add((TimelineNote.NotKnown, ofIke));
            var renewing = mine.Where(l => l.Renews is not null).OrderBy(l => l.Renews!.Value.From).ToArray();
            var reauth = view
                .Ends.Select(e => (End: e.Name, Every: e.Get(Settings.Reauthentication).Value?.Time?.InSeconds))
                .Where(r => r.Every is not null)
                .OrderBy(r => r.Every)
                .ToArray();
            if (ofIke)
                foreach (var (end, every) in reauth.Take(1))
                {
                    notes.Add((TimelineNote.Gap, true));
                    for (var at = every!.Value; at <= length && events.Count < Most; at += every.Value)
                        events.Add(new(TimelineKind.Reauthentication, true, end, new(at, at)));
                }

            if (renewing.Length == 0)
                continue;
            var first = renewing[0];
            var step = first.Renews!.Value;
            var kind = TimelineKind.Rekey;
            if (!ofIke && DataLife(view) is { } data && data.Seconds < step.From)
            {
                notes.Add((TimelineNote.DataFirst, false));
                (step, kind, first) = (
                    new(data.Seconds, data.Seconds),
                    TimelineKind.DataRekey,
                    first with
                    {
                        End = data.End,
                    }
                );
            }

            if (
                !ofIke
                && view.Tunnel.Throughput is { } fast
                && view.Ends.Any(e => e.Get(Settings.ExtendedSequence).Value?.Value != Extended.On)
                && (1L << 32) * 1400 / (fast * 125_000L) is var numbers
                && numbers < step.From
            )
            {
                notes.Add((TimelineNote.NumbersRunOut, false));
                (step, kind) = (new(numbers, numbers), TimelineKind.DataRekey);
            }

            if (renewing.Length == 2 && renewing[1].Renews!.Value.From <= step.To)
                notes.Add((TimelineNote.Collision, ofIke));
            if (
                !ofIke
                && CipherLimit.Of(rehearsal.Esp?.Encryption) is { } limit
                && view.Tunnel.Throughput is { } speed
                && step.To > limit.Bytes / (speed * 125_000L)
            )
                notes.Add((TimelineNote.CipherWorn, false));
            if (!ofIke && rehearsal.Later is { HiddenBy: null, FirstRefusal: { } refused } later)
            {
                events.Add(new(TimelineKind.RekeyRefused, false, later.Asks, refused));
                if (later.Lost is { } lost)
                    events.Add(new(TimelineKind.Lost, false, later.Asks, lost));
                continue;
            }

            for (var n = 1; step.From * n <= length && events.Count < Most; n++)
                events.Add(new(kind, ofIke, first.End, new(step.From * n, step.To * n)));
        }

        return new(length, lives, [.. events.OrderBy(e => e.At.From).ThenBy(e => e.OfIke ? 0 : 1)], [.. notes]);
    }

    /// <summary>
    /// Seconds until the smaller data lifetime is used up at the tunnel's throughput, and whose it is; null when
    /// neither has one or the throughput is not known.
    /// </summary>
    private static (long Seconds, EndName End)? DataLife(TunnelView view)
    {
        if (view.Tunnel.Throughput is not { } speed)
            return null;
        return view
            .Ends.Where(e => e.Get(Settings.EspLifetime).Value?.Data is not null)
            .Select(e =>
                (Seconds: Math.Max(1, e.Get(Settings.EspLifetime).Value!.Data!.InKilobytes * 8 / 1000 / speed), e.Name)
            )
            .OrderBy(x => x.Seconds)
            .Select(x => ((long, EndName)?)x)
            .FirstOrDefault();
    }
}

/// <summary>How much data one key of a cipher should carry at most.</summary>
/// <param name="Bytes">At most that many octets.</param>
/// <param name="Standard">Where the limit comes from.</param>
public sealed record CipherLimit(long Bytes, string Standard)
{
    /// <summary>
    /// The limit of a cipher; null for those whose limit no association reaches. A 64-bit block bears 2^20 blocks under
    /// one key.
    /// </summary>
    public static CipherLimit? Of(Encryption? cipher) =>
        cipher?.Number is 2 or 3 ? new(8L << 20, "NIST SP 800-67 rev. 2 section 3.3") : null;
}
