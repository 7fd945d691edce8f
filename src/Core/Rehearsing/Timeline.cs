using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>What happens to an SA.</summary>
public enum TimelineKind
{
    /// <summary>A child SA is rekeyed.</summary>
    Rekey,

    /// <summary>A child SA is rekeyed because of the data that went through.</summary>
    DataRekey,

    /// <summary>The ends reauthenticate.</summary>
    Reauthentication,

    /// <summary>A rekey is refused.</summary>
    RekeyRefused,

    /// <summary>Traffic is lost from here.</summary>
    Lost,
}

/// <summary>One moment of a timeline, in seconds after the tunnel comes up, as a range.</summary>
/// <param name="Kind">What happens.</param>
/// <param name="OfIke">The IKE SA; otherwise the child SAs.</param>
/// <param name="By">The end that does it, or is refused.</param>
/// <param name="At">When, in seconds after the tunnel comes up.</param>
public sealed record TimelineEvent(TimelineKind Kind, bool OfIke, EndName By, Span At);

/// <summary>The lifetimes of one layer at one end, in seconds; null where not known.</summary>
/// <param name="End">The end.</param>
/// <param name="OfIke">Of the IKE SA; otherwise of the child SAs.</param>
/// <param name="Rekeys">When it is rekeyed.</param>
/// <param name="Drops">When it ends if it was not.</param>
public sealed record LayerLife(EndName End, bool OfIke, Span? Rekeys, long? Drops);

/// <summary>What is worth a word about a timeline.</summary>
public enum TimelineNote
{
    /// <summary>Both ends can rekey at the same time.</summary>
    Collision,

    /// <summary>The data lifetime is reached before the time.</summary>
    DataFirst,

    /// <summary>Reauthentication interrupts.</summary>
    Gap,

    /// <summary>A margin or a lifetime is not known.</summary>
    NotKnown,

    /// <summary>More data passes with one key than the cipher allows.</summary>
    CipherWorn,

    /// <summary>
    /// The 2^32 sequence numbers are used up before the time (RFC 4303 section 2.2.1), at the throughput and packets of
    /// 1,400 octets.
    /// </summary>
    NumbersRunOut,
}

/// <summary>
/// The hours after a tunnel is up: who rekeys what and when, computed from both ends' lifetimes, margins, jitter and
/// data limits, and the moment at which a deferred mismatch bites. <paramref name="Length"/> in seconds: 24 hours, or
/// twice the longest lifetime when that is longer.
/// </summary>
/// <param name="Length">How far it reaches, in seconds.</param>
/// <param name="Lives">The lifetimes that it is computed from.</param>
/// <param name="Events">What happens, in order.</param>
/// <param name="Notes">What could not be told, each for the IKE SA or the child SAs.</param>
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
        var lives = LivesOf(view, rehearsal.Initiator);
        var longest = lives.Select(l => l.Drops ?? 0).Max();
        var length = Math.Max(86_400, Math.Min(longest * 2, 31 * 86_400L));
        var made = new Making(view, rehearsal, length);
        made.Layer([.. lives.Where(l => l.OfIke)], ofIke: true);
        made.Layer([.. lives.Where(l => !l.OfIke)], ofIke: false);
        return new(
            length,
            lives,
            [.. made.Events.OrderBy(e => e.At.From).ThenBy(e => e.OfIke ? 0 : 1)],
            [.. made.Notes]
        );
    }

    private static ImmutableArray<LayerLife> LivesOf(TunnelView view, EndName initiator) =>
        [
            .. view.Ends.SelectMany(e =>
                new[] { Settings.IkeLifetime, Settings.EspLifetime }.Select(s => new LayerLife(
                    e.Name,
                    s == Settings.IkeLifetime,
                    Rekeying.Rekeys(e, s, initiator),
                    Rekeying.Drops(e, s, initiator)
                ))
            ),
        ];

    /// <summary>The events of a timeline as they are found, layer by layer.</summary>
    private sealed class Making(TunnelView view, Rehearsal rehearsal, long length)
    {
        public List<TimelineEvent> Events { get; } = [];

        public List<(TimelineNote, bool)> Notes { get; } = [];

        public void Layer(LayerLife[] lives, bool ofIke)
        {
            if (lives.Any(l => l.Rekeys is null))
                Notes.Add((TimelineNote.NotKnown, ofIke));
            if (ofIke)
                Reauthentications();
            var renewing = lives.Where(l => l.Rekeys is not null).OrderBy(l => l.Rekeys!.Value.From).ToArray();
            if (renewing.Length == 0)
                return;
            var first = renewing[0];
            var beat = new RepeatedRekey(first.Rekeys!.Value, TimelineKind.Rekey, first.End);
            if (!ofIke)
                beat = Sooner(beat);
            if (renewing.Length == 2 && renewing[1].Rekeys!.Value.From <= beat.Every.To)
                Notes.Add((TimelineNote.Collision, ofIke));
            if (!ofIke && Wears(beat))
                Notes.Add((TimelineNote.CipherWorn, false));
            if (Refused(ofIke))
                return;
            Beats(beat, ofIke);
        }

        /// <summary>
        /// The rekeys, one after the other. Reauthentication makes both SAs anew, so that their time begins again with
        /// it (RFC 7296 section 2.8.3): a rekey that would come later is needless.
        /// </summary>
        private void Beats(RepeatedRekey beat, bool ofIke)
        {
            var again = Rekeying.Reauthenticates(view)?.Every ?? long.MaxValue;
            for (
                long begun = 0;
                begun <= length && Events.Count < Most;
                begun = again == long.MaxValue ? again : begun + again
            )
            for (
                var n = 1;
                beat.Every.From * n < again && begun + (beat.Every.From * n) <= length && Events.Count < Most;
                n++
            )
                Events.Add(
                    new(beat.Kind, ofIke, beat.By, new(begun + (beat.Every.From * n), begun + (beat.Every.To * n)))
                );
        }

        /// <summary>What is rekeyed over and over: how often, why, and by which end first.</summary>
        private sealed record RepeatedRekey(Span Every, TimelineKind Kind, EndName By);

        private void Reauthentications()
        {
            if (Rekeying.Reauthenticates(view) is not { } first)
                return;
            Notes.Add((TimelineNote.Gap, true));
            for (var at = first.Every; at <= length && Events.Count < Most; at += first.Every)
                Events.Add(new(TimelineKind.Reauthentication, true, first.End, new(at, at)));
        }

        /// <summary>What is used up before the time is: data, or the sequence numbers of 32 bits.</summary>
        private RepeatedRekey Sooner(RepeatedRekey beat)
        {
            if (DataLife() is { } data && data.Seconds < beat.Every.From)
            {
                Notes.Add((TimelineNote.DataFirst, false));
                beat = new(new(data.Seconds, data.Seconds), TimelineKind.DataRekey, data.End);
            }

            if (
                view.Tunnel.Throughput is { } fast
                && view.Ends.Any(e => e.Get(Settings.ExtendedSequence).Value?.Value != Extended.On)
                && (1L << 32) * 1400 / (fast * 125_000L) is var numbers
                && numbers < beat.Every.From
            )
            {
                Notes.Add((TimelineNote.NumbersRunOut, false));
                beat = beat with { Every = new(numbers, numbers), Kind = TimelineKind.DataRekey };
            }

            return beat;
        }

        /// <summary>
        /// Seconds until the first end rekeys because of the data, and which end; null when neither has a data lifetime
        /// or the throughput is not known.
        /// </summary>
        private (long Seconds, EndName End)? DataLife() =>
            view
                .Ends.Select(e => (Seconds: Rekeying.RekeysByData(e, rehearsal.Initiator), e.Name))
                .Where(x => x.Seconds is not null)
                .OrderBy(x => x.Seconds)
                .Select(x => ((long, EndName)?)(Math.Max(1, (long)x.Seconds!.Value), x.Name))
                .FirstOrDefault();

        private bool Wears(RepeatedRekey beat) =>
            CipherLimit.Of(rehearsal.Esp?.Encryption) is { } limit
            && view.Tunnel.Throughput is { } speed
            && beat.Every.To > limit.Bytes / (speed * 125_000L);

        /// <summary>Whether the rekey is refused: then the SA is lost.</summary>
        private bool Refused(bool ofIke)
        {
            if (rehearsal.Later is not { HiddenBy: null, FirstRefusal: { } refused } later || later.OfIke != ofIke)
                return false;
            Events.Add(new(TimelineKind.RekeyRefused, ofIke, later.Asks, refused));
            if (later.Lost is { } lost)
                Events.Add(new(TimelineKind.Lost, ofIke, later.Asks, lost));
            return true;
        }
    }
}

/// <summary>How much data one key of a cipher should carry at most.</summary>
/// <param name="Bytes">At most that many octets.</param>
/// <param name="Standard">Where the limit comes from.</param>
public sealed record CipherLimit(long Bytes, string Standard)
{
    /// <summary>
    /// The limit of a cipher; null for those whose limit no SA reaches. A 64-bit block allows 2^20 blocks under
    /// one key.
    /// </summary>
    public static CipherLimit? Of(Encryption? cipher) =>
        cipher?.Number is 2 or 3 ? new(8L << 20, "NIST SP 800-67 rev. 2 section 3.3") : null;
}
