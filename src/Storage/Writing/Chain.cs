using System.Security.Cryptography;
using System.Text;

namespace Vellumkeep.Storage.Writing;

/// <summary>
/// The chain of commits: each one's digest (SHA-256, FIPS 180-4) covers the one before, who did what when and why, and
/// every body it wrote.
/// </summary>
public static class Chain
{
    /// <summary>A clock that is behind by less than this is an ordinary one.</summary>
    private static readonly TimeSpan Slack = TimeSpan.FromMinutes(5);

    /// <summary>A leap ahead of the commit before that no ordinary pause makes.</summary>
    private static readonly TimeSpan FarAhead = TimeSpan.FromDays(366);

    /// <summary>The commit that follows another.</summary>
    /// <param name="bodyDigest">The SHA-256 of a version's body, where it is known already.</param>
    public static CommitRow Next(
        CommitRow? last,
        long number,
        Act act,
        IReadOnlyCollection<VersionRow> versions,
        Func<VersionRow, byte[]>? bodyDigest = null
    )
    {
        var before = last?.Digest ?? new string('0', 64);
        var at = act.At.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        void Add(string text) => hash.AppendData(Encoding.UTF8.GetBytes(text + "\u001f"));
        Add(before);
        Add(number.ToString(CultureInfo.InvariantCulture));
        Add(at);
        Add(act.Who);
        Add(act.What);
        Add(act.Reason ?? "");
        Add(act.ChangeId ?? "");
        foreach (var v in versions.OrderBy(v => v.RecordId, StringComparer.Ordinal))
        {
            Add($"{v.RecordId} {v.Version} {v.Kind}");
            hash.AppendData(bodyDigest?.Invoke(v) ?? SHA256.HashData(v.Body));
        }

        return new()
        {
            Number = number,
            At = at,
            Who = act.Who,
            Act = act.What,
            Reason = act.Reason,
            ChangeId = act.ChangeId,
            Before = before,
            Digest = Convert.ToHexStringLower(hash.GetHashAndReset()),
        };
    }

    /// <summary>
    /// When a commit is said to be: the history goes forward in time, whatever the clock of a machine says, because it
    /// is read by the day. A clock that is behind is overruled by the commit before; unless that one lies so far ahead
    /// of those before it that it was wrong, so that one leap does not spoil the days that follow.
    /// </summary>
    /// <returns>The moment, and what has to be told of the clock; null when nothing has.</returns>
    internal static async Task<(DateTimeOffset At, string? Tell)> WhenAsync(
        KeepContext context,
        CommitRow? last,
        DateTimeOffset now,
        CancellationToken ct
    )
    {
        if (last is null)
            return (now, null);
        var before = Moment(last.At);
        if (now >= before)
            return (
                now,
                now - before > FarAhead
                    ? $"the clock says {now:yyyy-MM-dd HH:mm} UTC, and the last commit was on {before:yyyy-MM-dd}: "
                        + $"check the clock of this machine"
                    : null
            );
        var bound = now.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture);
        var sane = await context
            .Commits.AsNoTracking()
            .Where(c => string.Compare(c.At, bound) <= 0)
            .OrderByDescending(c => c.Number)
            .FirstOrDefaultAsync(ct);
        if (sane is not null && before - now > FarAhead)
            return (
                now,
                $"the clock says {now:yyyy-MM-dd HH:mm} UTC, and commits {sane.Number + 1} to {last.Number} are "
                    + $"dated {before:yyyy-MM-dd}: they were written by a clock that ran ahead"
            );
        return (
            before,
            before - now > Slack
                ? $"the clock says {now:yyyy-MM-dd HH:mm} UTC, which is before the last commit "
                    + $"({before:yyyy-MM-dd HH:mm} UTC): check the clock of this machine"
                : null
        );
    }

    internal static DateTimeOffset Moment(string at) => DateTimeOffset.Parse(at, CultureInfo.InvariantCulture);
}
