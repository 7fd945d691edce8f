using Vellumkeep.Core.Keys;

namespace Vellumkeep.Service.Keys;

/// <summary>Who sees a key, and what is written down of it.</summary>
public sealed partial class KeyWork
{
    /// <summary>
    /// Shows a key to somebody with the right who says why; that they saw it is on the disk before they do. A showing
    /// that is refused is no viewing, and is in the audit list.
    /// </summary>
    public async Task<KeyShown> ShowAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        ShowKeyGiven given,
        CancellationToken ct
    )
    {
        var about = $"version {version} of {Typed.Short(code)}";
        try
        {
            var shown = await OpenAsync(asker, now, code, version, given, ct);
            await audit.WriteAsync(asker.Name, AuditLog.ShowKey, about, AuditLog.Done, asker.From, ct);
            return shown;
        }
        catch (ProblemException refused)
        {
            await audit.WriteAsync(
                asker.Name,
                AuditLog.ShowKey,
                about + $": {refused.Title.ToLowerInvariant()}",
                AuditLog.Refused,
                asker.From,
                ct
            );
            throw;
        }
    }

    private async Task<KeyShown> OpenAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        ShowKeyGiven given,
        CancellationToken ct
    )
    {
        Reasons.Need(given.Reason, 400, "why it is shown; it is recorded");
        var wrote = await keeper.WriteAsync(
            new(asker.Name, now, "see key", $"version {version} of {code}: {given.Reason.Trim()}"),
            async (writing, reader) =>
            {
                var tunnel = (await Find.TunnelAsync(reader, asker.Scope, code, ct)).Record;
                asker.Need(Role.Engineer, tunnel.CustomerId, tunnel.Code);
                var row = await writing
                    .Read.Keys.AsNoTracking()
                    .FirstOrDefaultAsync(k => k.TunnelId == tunnel.Id && k.Version == version, ct)
                    ?? throw new ProblemException(
                        404,
                        "not-found",
                        "Not found",
                        $"Key version {version} of {tunnel.Code} is not stored here. Next: vellumkeep key list {tunnel.Code}"
                    );
                if (!IsHere(row))
                    throw new ProblemException(
                        409,
                        "refused",
                        "Refused",
                        $"Key version {version} of {tunnel.Code} was made by {row.MadeBy}; it is not stored here."
                    );
                // Opened before it is written that it was shown: what cannot be opened was not.
                var made = new MadeKey(Opened(row), row.Bits);
                writing.Beside(context =>
                {
                    context.KeyViews.Add(
                        new()
                        {
                            TunnelId = tunnel.Id,
                            Version = version,
                            Who = asker.Name,
                            At = Moment(now),
                            Why = given.Reason.Trim(),
                            From = asker.From,
                        }
                    );
                    return Task.CompletedTask;
                });
                writing.Note();
                return new KeyShown(tunnel.Code, version, made.Text, made.Grouped, row.Bits, row.CheckCode);
            },
            ct
        );
        return wrote.Result;
    }

    /// <summary>
    /// A change that is done: a version that an end holds is in use. Where both ends hold the new one, those that it
    /// replaces are superseded while an end still holds them, and withdrawn where none does.
    /// </summary>
    public static async Task ClosedAsync(
        KeepContext context,
        Change change,
        IEnumerable<IRecord> built,
        CancellationToken ct
    )
    {
        var tunnels = built.OfType<Tunnel>().ToDictionary(t => t.Id);
        foreach (var key in change.Plan.Keys)
        {
            if (!tunnels.TryGetValue(key.TunnelId, out var tunnel))
                continue;
            var held = new[] { tunnel.A, tunnel.B }.Select(HeldAt).ToArray();
            foreach (var row in await context.Keys.Where(k => k.TunnelId == key.TunnelId).ToListAsync(ct))
                if (StateOf(row.Version, key, held) is { } state)
                    row.State = KeyMaking.States.Of(state);
        }

        await context.SaveChangesAsync(ct);
    }
}
