namespace Vellumkeep.Core.Proposals;

/// <summary>Reading the members of a proposal, shared by IKE and ESP.</summary>
internal static class ProposalText
{
    internal sealed record Parts(Encryption Encryption, Integrity? Integrity, Prf? Prf, DhGroup? Group);

    internal static (string Wrong, string Right)? Mixed(Encryption encryption, Integrity? integrity) =>
        encryption.Combined && integrity is not null
            ? (
                $"{encryption} is an AEAD cipher, so it takes no integrity algorithm such as {integrity} (RFC 5282)",
                $"{encryption} without integrity"
            )
        : !encryption.Combined && integrity is null
            ? ($"{encryption} needs an integrity algorithm beside it", $"{encryption} + HMAC-SHA2-256-128")
        : null;

    internal static Parsed<Parts> Members(string text, string layer)
    {
        var members = Typed
            .Trim(text)
            .Split(['+', '/', ','], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (members.Length == 0)
            return Parsed<Parts>.Fail(
                $"the {layer} proposal is empty",
                layer == "IKE" ? "AES-256-CBC + HMAC-SHA2-256-128 + DH 14" : "AES-256-CBC + HMAC-SHA2-256-128"
            );
        if (members.Length > 6 || text.Length > 200)
            return Parsed<Parts>.Fail(
                $"'{Typed.Short(text)}' has too many members for one proposal",
                "one proposal a line"
            );
        Encryption? encryption = null;
        Integrity? integrity = null;
        Prf? prf = null;
        DhGroup? group = null;
        foreach (var member in members)
        {
            if (encryption is null)
            {
                var read = AlgorithmTable.Encryption(member);
                if (!read.Ok)
                    return Parsed<Parts>.Fail(read.Wrong!, read.Right!);
                encryption = read.Value;
            }
            else if (
                AlgorithmTable.IsGroup(member)
                || Typed.Folded(member) is ['d', 'h', ..] or ['g', 'r', 'o', 'u', 'p', ..]
            )
            {
                var read = AlgorithmTable.Group(member);
                if (!read.Ok || group is not null)
                    return Parsed<Parts>.Fail(
                        read.Wrong ?? $"'{Typed.Short(text)}' names two DH groups",
                        read.Right ?? "one proposal a line, each with one group"
                    );
                group = read.Value;
            }
            else if (Typed.Folded(member).StartsWith("prf", StringComparison.Ordinal))
            {
                var read = AlgorithmTable.Prf(member);
                if (!read.Ok)
                    return Parsed<Parts>.Fail(read.Wrong!, read.Right!);
                prf = read.Value;
            }
            else
            {
                var read = AlgorithmTable.Integrity(member);
                if (!read.Ok || integrity is not null)
                    return Parsed<Parts>.Fail(
                        read.Wrong ?? $"'{Typed.Short(text)}' names two integrity algorithms",
                        read.Right ?? "one proposal a line"
                    );
                integrity = read.Value;
            }
        }

        return Parsed<Parts>.Of(new(encryption!, integrity, prf, group));
    }
}
