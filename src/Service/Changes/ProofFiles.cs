using System.Security.Cryptography;

namespace Vellumkeep.Service.Changes;

/// <summary>A file that is to be kept as proof, and what the record says of it.</summary>
public sealed record GivenFile(ProofFile Line, byte[] Bytes);

/// <summary>
/// Files kept as proof: taken in with an attempt, in the same transaction, and given out to whoever may see the change.
/// </summary>
public static class ProofFiles
{
    public const int Most = 4 << 20;

    public static GivenFile Read(ProofFileGiven given)
    {
        var name = Path.GetFileName((given.Name ?? "").Replace('\\', '/').Trim());
        if (name.Length is 0 or > 120 || name.Any(char.IsControl))
            throw ProblemException.Field(
                "file.name",
                name.Length == 0 ? "the file has no name" : $"'{Typed.Short(name)}' is no name that can be kept",
                "a name of at most 120 characters, such as counters.png"
            );
        var content = given.Content ?? "";
        ProblemException Wrong(string what) =>
            ProblemException.Field(
                "file",
                what,
                "a file of 1 octet to 4 MiB; of a large capture, the part that proves it"
            );
        if (content.Length == 0)
            throw Wrong($"{name} is empty");
        // Looked at before it is decoded, and again when its size is known to the octet.
        if (content.Length / 4 * 3L > Most + 3)
            throw Wrong($"{name} is larger than 4 MiB");
        var bytes = new byte[(content.Length / 4 * 3) + 3];
        if (!Convert.TryFromBase64String(content, bytes, out var size))
            throw ProblemException.Field(
                "file.content",
                "it is not Base64 (RFC 4648, section 4)",
                "the octets of the file in Base64"
            );
        if (size > Most)
            throw Wrong($"{name} is larger than 4 MiB");
        bytes = bytes[..size];
        return new(new(name, Convert.ToHexStringLower(SHA256.HashData(bytes)), size), bytes);
    }

    /// <summary>Keeps it; the same file twice under one change is kept once.</summary>
    public static async Task KeepAsync(KeepContext context, string changeId, GivenFile file, CancellationToken ct)
    {
        if (await context.ProofFiles.AnyAsync(f => f.ChangeId == changeId && f.Digest == file.Line.Digest, ct))
            return;
        context.ProofFiles.Add(
            new()
            {
                ChangeId = changeId,
                Digest = file.Line.Digest,
                Bytes = file.Bytes,
            }
        );
        await context.SaveChangesAsync(ct);
    }

    /// <summary>
    /// Always as a download: what an outsider's device or screen gave is never shown by the service itself.
    /// </summary>
    public static async Task<IResult> GiveAsync(
        Databases databases,
        Scope scope,
        string code,
        string digest,
        HttpContext http,
        CancellationToken ct
    )
    {
        await using var context = databases.Open();
        var change = (await Find.ChangeAsync(new(context), scope, code, ct)).Record;
        var line = change.Attempts.Select(t => t.File).OfType<ProofFile>().LastOrDefault(f => f.Digest == digest);
        var row = line is null
            ? null
            : await context
                .ProofFiles.AsNoTracking()
                .FirstOrDefaultAsync(f => f.ChangeId == change.Id && f.Digest == digest, ct);
        if (row is null)
            throw ProblemException.NotFound("file", $"{Typed.Short(digest)} of {change.Code}");
        http.Response.Headers.XContentTypeOptions = "nosniff";
        return Results.File(row.Bytes, "application/octet-stream", line!.Name);
    }
}
