namespace Vellumkeep.Service.Keys;

/// <summary>Keys as they are stored: encrypted, and encrypted again.</summary>
public sealed partial class KeyWork
{
    private string Opened(KeyRow row)
    {
        try
        {
            return atRest.Decrypt(row.Under, row.Ciphertext, Belongs(row.TunnelId, row.Version));
        }
        catch (EncryptionKeyMissingException e)
        {
            throw new ProblemException(409, "refused", "Refused", e.Message);
        }
        catch (System.Security.Cryptography.CryptographicException)
        {
            throw new ProblemException(
                409,
                "refused",
                "Refused",
                $"Version {row.Version} cannot be decrypted: the stored text was altered. Make a new key for the tunnel."
            );
        }
    }

    /// <summary>
    /// Makes a new key of the key folder and encrypts everything under it. What cannot be opened is told and left as it
    /// is.
    /// </summary>
    /// <returns>How many secrets, the name of the new key, and those that could not be opened.</returns>
    public async Task<(int Count, string Under, IReadOnlyList<string> Left)> ReEncryptAsync(
        string who,
        DateTimeOffset now,
        CancellationToken ct
    )
    {
        var under = atRest.NewKey();
        var wrote = await keeper.WriteAsync(
            new(who, now, "re-encrypt"),
            async (writing, reader) =>
            {
                var (done, left) = (new List<KeyRow>(), new List<string>());
                foreach (var row in await writing.Read.Keys.AsNoTracking().Where(k => k.Under != "").ToListAsync(ct))
                    try
                    {
                        (row.Under, row.Ciphertext) = atRest.Encrypt(
                            atRest.Decrypt(row.Under, row.Ciphertext, Belongs(row.TunnelId, row.Version)),
                            Belongs(row.TunnelId, row.Version)
                        );
                        done.Add(row);
                    }
                    catch (Exception e)
                        when (e is EncryptionKeyMissingException or System.Security.Cryptography.CryptographicException)
                    {
                        var tunnel = await reader.ByIdAsync<Tunnel>(Scope.Everything, row.TunnelId, ct);
                        var why = e is EncryptionKeyMissingException ? $"key {row.Under} is missing" : "it was altered";
                        left.Add(
                            $"version {row.Version} of the key of {tunnel?.Record.Code ?? "a removed tunnel"} ({why})"
                        );
                    }

                writing.Beside(context =>
                {
                    context.Keys.UpdateRange(done);
                    return Task.CompletedTask;
                });
                writing.Note();
                return (done.Count, left);
            },
            ct
        );
        return (wrote.Result.Count, under, wrote.Result.left);
    }

    /// <summary>
    /// Gives up what was encrypted with a key that is lost for good. That there was a key, who made it and who saw it
    /// stays; it can be shown no more, and others can be made.
    /// </summary>
    /// <returns>The versions that were given up.</returns>
    public async Task<IReadOnlyList<string>> GiveUpAsync(
        string who,
        DateTimeOffset now,
        string name,
        string reason,
        CancellationToken ct
    )
    {
        Reasons.Need(reason, 400, "why it is given up; it is recorded");
        var missing = atRest.Missing();
        if (!missing.Contains(name))
            throw ProblemException.Field(
                "key",
                $"'{Typed.Short(name)}' is not missing from the key folder {atRest.Folder}",
                missing.Count == 0 ? "nothing is missing, and nothing is given up" : string.Join(" or ", missing)
            );
        var wrote = await keeper.WriteAsync(
            new(who, now, "give up keys", $"{name}: {reason}"),
            async (writing, reader) =>
            {
                var rows = await writing.Read.Keys.AsNoTracking().Where(k => k.Under == name).ToListAsync(ct);
                var told = new List<string>();
                foreach (var row in rows)
                {
                    var tunnel = await reader.ByIdAsync<Tunnel>(Scope.Everything, row.TunnelId, ct);
                    told.Add($"version {row.Version} of the key of {tunnel?.Record.Code ?? "a removed tunnel"}");
                    (row.Under, row.Ciphertext) = ("", []);
                }

                writing.Beside(context =>
                {
                    context.Keys.UpdateRange(rows);
                    return Task.CompletedTask;
                });
                writing.Note();
                return told;
            },
            ct
        );
        return wrote.Result;
    }

    internal static string Belongs(string tunnelId, int version) =>
        $"{tunnelId} {version.ToString(CultureInfo.InvariantCulture)}";
}
