using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>
/// The steps of certificates at both ends: clock and trust anchor, request and issue (PKCS #10, RFC 2986; certificates,
/// RFC 5280), the new one beside the old, the switch, and what is recorded afterwards.
/// </summary>
internal static class CertificateSteps
{
    /// <summary>What is done before anything is entered.</summary>
    public static void Prepare(PlanMaker maker, TunnelView view)
    {
        foreach (var end in PlanMaker.InOrder(view))
        {
            var (gateway, ca) = (end.Gateway.Code, CaOf(end));
            maker.Add(
                Step(
                    end,
                    "clock",
                    Part.Prepare,
                    2,
                    $"Check the clock and the time zone of {gateway}: validity of certificates is checked by it."
                )
            );
            maker.Add(
                Step(
                    end,
                    "anchor",
                    Part.Prepare,
                    3,
                    $"Check on {gateway} that the CA of the other end, {CaOf(end.Other):w}, is a trust anchor. Compare "
                        + $"its fingerprint with {end.Other.Owner.Name:w} by telephone."
                )
            );
            maker.Add(
                Step(
                    end,
                    "request",
                    Part.Prepare,
                    5,
                    $"Make a certificate request (PKCS #10) on {gateway} for {NameOf(end)}, and give it to {ca:w}, which "
                        + $"must be reachable outside {view.Tunnel}."
                )
            );
            maker.Add(
                Step(
                    end,
                    "issue",
                    Part.Prepare,
                    5,
                    $"Have {ca:w} issue the certificate of {gateway}. Check its names, its key usage, its dates and its "
                        + $"chain."
                ) with
                {
                    Proof = $"serial number and last day of validity",
                }
            );
        }
    }

    /// <summary>The new certificate beside the old one, at both ends.</summary>
    public static void Install(PlanMaker maker, TunnelView view)
    {
        foreach (var end in PlanMaker.InOrder(view))
            maker.Add(
                Step(
                    end,
                    "install",
                    Part.Build,
                    3,
                    $"Install the new certificate and its chain on {end.Gateway.Code} beside the old one, which stays in "
                        + $"use."
                ) with
                {
                    Undo = $"Remove the new certificate from {end.Gateway.Code}.",
                }
            );
    }

    /// <summary>Each end uses the new one; the other end trusts both, so that nothing has to be done at once.</summary>
    public static void Switch(PlanMaker maker, TunnelView view)
    {
        foreach (var end in PlanMaker.InOrder(view))
        {
            var step = Step(
                end,
                "switch",
                Part.Switch,
                2,
                $"Use the new certificate for {view.Tunnel} on "
                    + $"{end.Gateway.Code}{(end.Platform.Effect == Effect.OnActivation ? ", and activate" : ""):w}."
            ) with
            {
                Undo = $"Use the old certificate for {view.Tunnel} on {end.Gateway.Code} again.",
            };
            maker.Add(step);
            maker.Deeds.UseCertificate(step.Key, view.Tunnel.Id, end.Name);
        }
    }

    /// <summary>What is withdrawn, and what the record has to hold.</summary>
    public static IEnumerable<Step> Record(TunnelView view) =>
        PlanMaker
            .InOrder(view)
            .SelectMany(end =>
                new[]
                {
                    Step(
                        end,
                        "enter",
                        Part.Record,
                        2,
                        $"Correct the certificate of {view.Tunnel} at {end.Name} in its record: names, first and last day."
                    ),
                    Step(
                        end,
                        "withdraw",
                        Part.Record,
                        2,
                        $"Remove the old certificate from {end.Gateway.Code}, and have {CaOf(end):w} revoke it if its key "
                            + $"may be known."
                    ) with
                    {
                        NoReturn = true,
                    },
                }
            );

    private static Step Step(EndView end, string what, Part part, int minutes, Sentence does) =>
        StepWords.At(
            end,
            StepKind.Certificate,
            part,
            $"certificate-{what}-{end.Name.Key()}-{end.Tunnel.Tunnel.Code}",
            minutes,
            does
        );

    private static string CaOf(EndView end) => end.End.Certificate?.Ca ?? "its CA";

    private static Sentence NameOf(EndView end) =>
        end.IdentitySent.Value is { } identity
            ? Sentence.Of($"{identity.ToString()}")
            : Sentence.Of($"the identity it sends");
}
