using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>
/// Authentication: methods, identities, keys and certificates (RFC 7296 section 2.15, RFC 2409 section 5).
/// </summary>
public sealed partial class Rehearse
{
    /// <summary>Judges identity, method and key or certificate of one end at the other.</summary>
    private void Judge(EndView sender, Stage stage, int at, string notify, string keyNotify)
    {
        var verifier = sender.Other;
        var (sent, expected) = (sender.IdentitySent, verifier.IdentityExpected);
        if (!sent.Known)
            Asks(stage, sender.Name, "the identity that it sends");
        if (!expected.Known)
            Asks(stage, verifier.Name, $"the identity that it expects of {sender.Name}");
        if (IdentityFit.Of(sender) is { } differs)
        {
            if (differs.Fault != IdentityFault.CaseOnly || differs.ComparedByOctet == true)
                Stops(stage, at, verifier.Name, notify, RowKey.IdentityOf(sender.Name), new IdentityRefused(differs));
            else if (differs.ComparedByOctet is null)
                Asks(stage, verifier.Name, "whether it ignores upper and lower case in identities", true);
        }

        if (IdentityFit.SameIfReversed(sender))
            assumed.Add((verifier.Name, Assumption.NamesReversed));
        var method = MethodFit.Of(sender, version);
        if (method.Fits is null)
        {
            AsksMethod(sender, stage);
            return;
        }

        if (method is { Fits: false, Used: { } used, Expected: { } wants })
        {
            // Under IKEv1 the method is part of the proposal and was refused there.
            if (!Old)
                Stops(
                    stage,
                    at,
                    verifier.Name,
                    notify,
                    Settings.Authentication,
                    new MethodsMismatch(WordsOf.Authentications.Of(used), WordsOf.Authentications.Of(wants))
                );
            return;
        }

        if (method.Used == Authentication.PreSharedKey)
            Key(sender, stage, at, keyNotify);
        else
            Certified(sender, stage, at, notify);
    }

    private void AsksMethod(EndView sender, Stage stage)
    {
        var verifier = sender.Other;
        foreach (var end in new[] { sender, verifier })
            if (MethodOf(end) is null && !open.Any(o => o.At == end.Name && o.What == "the authentication method"))
                Asks(stage, end.Name, "the authentication method");
        if (MethodOf(sender) is not null && MethodOf(verifier) is not null)
            Asks(stage, verifier.Name, $"by which method it expects {sender.Name} to authenticate");
    }

    private void Key(EndView sender, Stage stage, int at, string notify)
    {
        var (signs, verifies) = (sender.End.KeyHeld, sender.Other.End.KeyHeld);
        if (signs is null || verifies is null)
        {
            foreach (var end in new[] { sender, sender.Other })
                if (
                    end.End.KeyHeld is null
                    && !open.Any(o => o.At == end.Name && o.What == "the key version that it has")
                )
                    Asks(stage, end.Name, "the key version that it has");
            return;
        }

        // One key makes SKEYID for both directions (RFC 2409 section 5).
        if (Old && (!signs.OneForBoth || !verifies.OneForBoth))
        {
            var holder = signs.OneForBoth ? sender.Other : sender;
            if (!obstacles.Any(o => o.Cause is KeyEachWay))
                Stops(stage, at, holder.Name, Silence, RowKey.KeyHeld, new KeyEachWay(holder.End.KeyHeld!));
            return;
        }

        var known = signs.Send.Count(v => verifies.Receive.Contains(v));
        if (known == 0)
            Stops(stage, at, sender.Other.Name, notify, RowKey.KeyHeld, new KeysMismatch(signs, verifies));
        else if (known < signs.Send.Length)
            Asks(stage, sender.Name, $"which of its key versions {Say.And(signs.Send.Select(v => $"{v}"))} it uses");
    }

    private void Certified(EndView sender, Stage stage, int at, string notify)
    {
        var verifier = sender.Other;
        if (sender.End.Certificate is not { } c)
        {
            Asks(stage, sender.Name, "its certificate");
            return;
        }

        void Refused(CertificateFault fault) =>
            Stops(
                stage,
                at,
                verifier.Name,
                Old ? InPhase1(verifier, NotifyOf(fault)) : notify,
                Settings.Authentication,
                new CertificateRefused(fault, c)
            );
        if (verifier.End.Anchors is not { } anchors)
            Asks(stage, verifier.Name, "its trust anchors");
        else if (!anchors.Contains(c.Ca))
            Refused(CertificateFault.NotTrusted);
        if (c.From is { } from && from > view.Today && !verifier.End.RelaxedChecks.Contains("dates"))
            Refused(CertificateFault.NotYetValid);
        if (c.Until is { } until && until < view.Today && !verifier.End.RelaxedChecks.Contains("dates"))
            Refused(CertificateFault.Expired);
        if (
            sender.IdentitySent.Value is { } sent
            && !verifier.End.RelaxedChecks.Contains("name")
            && !Named(c, sent, verifier)
        )
            Refused(CertificateFault.NameMissing);
        Signed(sender, stage, at, notify);
        if (c.MayAuthenticate == false && !verifier.End.RelaxedChecks.Contains("usage"))
            Refused(CertificateFault.UsageForbids);
    }

    /// <summary>The verifier has to accept the signature method of the sender (RFC 7427 section 4).</summary>
    private void Signed(EndView sender, Stage stage, int at, string notify)
    {
        var verifier = sender.Other;
        if (
            sender.Get(Settings.Signatures).Value is not { } signs
            || verifier.Get(Settings.Signatures).Value is not { } takes
        )
        {
            assumed.Add((verifier.Name, Assumption.SignatureTaken));
            return;
        }

        if (!signs.Items.Intersect(takes.Items).Any())
            Stops(
                stage,
                at,
                verifier.Name,
                Old ? InPhase1(verifier, "INVALID-SIGNATURE") : notify,
                Settings.Signatures,
                new SignaturesMismatch(Written(signs), Written(takes))
            );
    }

    private static string Written(Several<Word<SignatureMethod>> methods) => string.Join(", ", methods.Items);

    /// <summary>
    /// The notify of IKEv1 for a certificate that is refused (RFC 2408 section 3.14.1). One that lacks the identity is
    /// sound in itself: what is refused is the identity.
    /// </summary>
    private static string NotifyOf(CertificateFault fault) =>
        fault switch
        {
            CertificateFault.NotTrusted => "INVALID-CERT-AUTHORITY",
            CertificateFault.NameMissing => "INVALID-ID-INFORMATION",
            CertificateFault.NotYetValid or CertificateFault.Expired or CertificateFault.UsageForbids =>
                "INVALID-CERTIFICATE",
            _ => throw new ArgumentOutOfRangeException(nameof(fault)),
        };

    /// <summary>
    /// Whether a certificate has the identity; in doubt about case, where the verifier's profile does not say, it is
    /// asked and taken as there.
    /// </summary>
    private bool Named(Certificate certificate, Identity sent, EndView verifier)
    {
        if (certificate.Names.Any(n => NameMatch.Same(n, sent)))
            return true;
        if (!certificate.Names.Any(n => NameMatch.OnlyCase(n, sent)))
            return false;
        if (verifier.Platform.ComparesNamesByOctet is null)
            Asks(Stage.AtResponder, verifier.Name, "whether it ignores upper and lower case in certificates", true);
        return verifier.Platform.ComparesNamesByOctet != true;
    }
}
