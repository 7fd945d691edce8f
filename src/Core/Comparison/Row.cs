using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>The four answers of comparing one value on both ends.</summary>
public enum Relation
{
    /// <summary>Alike, and confirmed at both ends.</summary>
    Agrees,

    /// <summary>Alike, but at least one end is only assumed.</summary>
    AgreesNotConfirmed,

    /// <summary>The ends differ, and ought not to.</summary>
    Differs,

    /// <summary>Unknown on one end at least, or the platform profile is silent.</summary>
    Undetermined,
}

/// <summary>One end's half of a row.</summary>
/// <param name="Text">The value for reading; null when there is none.</param>
/// <param name="Source">Where the value comes from.</param>
/// <param name="Via">The suite, profile or shared entry it came by; null when it stands there itself.</param>
/// <param name="Confirmed">Who saw it on the device; null when nobody has.</param>
/// <param name="Note">What is temporary or pending about it, or what the row wants said.</param>
public sealed record Cell(string? Text, Source Source, string? Via, Confirmation? Confirmed, string? Note)
{
    /// <summary>A cell of a resolved value.</summary>
    public static Cell Of(IResolved value, string? note = null) =>
        new(
            value.Any?.ToString(),
            value.Source,
            value.Via,
            value.Confirmed,
            note
                ?? (
                    value.Until is { } t ? $"temporary until {Scalars.Write(t.Deadline)}, then {t.Final}: {t.Reason}"
                    : value.Pending is { } p
                        ? $"pending: {p.WhoKnows ?? "nobody named"}{(p.By is { } by ? $", by {Scalars.Write(by)}" : "")}"
                    : null
                )
        );
}

/// <summary>
/// One row of a comparison. What is known about the difference is kept typed, for the PAIR checks to read off.
/// </summary>
/// <param name="Key">Which row it is.</param>
/// <param name="Label">What it is called in sentences and on pages.</param>
/// <param name="A">What stands at A.</param>
/// <param name="B">What stands at B.</param>
/// <param name="Relation">Which of the four answers the comparison gives.</param>
/// <param name="OnlyOn">The one end that has the value at all; null otherwise.</param>
/// <param name="Difference">What is wrong between the two, typed; null when nothing is.</param>
public sealed record Row(
    RowKey Key,
    string Label,
    Cell A,
    Cell B,
    Relation Relation,
    EndName? OnlyOn = null,
    Difference? Difference = null
)
{
    /// <summary>The cell of an end.</summary>
    public Cell Cell(EndName end) => end == EndName.A ? A : B;
}

/// <summary>What is wrong between two values, typed.</summary>
public abstract record Difference;

/// <summary>No version in common.</summary>
public sealed record NoVersion : Difference;

/// <summary>
/// Nothing of what <paramref name="Initiator"/> offers is taken by the other end (null: whichever initiates); the
/// nearest miss.
/// </summary>
/// <param name="Initiator">Whose offer is refused; null when it is refused whoever initiates.</param>
/// <param name="Miss">The two proposals that come nearest; null when one end has none.</param>
public sealed record NoProposal(EndName? Initiator, NearestMiss? Miss) : Difference;

/// <summary>
/// PFS does not fit when <paramref name="Initiator"/> asks (null: whichever asks). Times in seconds after the SA comes
/// up; null when margins or lifetimes are not known.
/// </summary>
/// <param name="Initiator">Whose request is refused; null when it is refused whoever asks.</param>
/// <param name="AtOnce">Whether the first child SA is refused already (IKEv1), and not only a later one.</param>
/// <param name="FirstRefusal">When the first request is refused.</param>
/// <param name="Lost">When the child SA that could not be replaced ends.</param>
/// <param name="HiddenBy">Seconds after which reauthentication makes new SAs before that; null when none
/// does.</param>
/// <param name="Flaps">Whether the refused end reauthenticates; null when its profile does not say.</param>
/// <param name="NeverShows">The end that is answered always rekeys first.</param>
/// <param name="Certain">Whether the refused end rekeys first; otherwise the other may, and is answered.</param>
public sealed record PfsMisfit(
    EndName? Initiator,
    bool AtOnce,
    Timing.Span? FirstRefusal,
    long? Lost,
    long? HiddenBy,
    bool? Flaps,
    bool NeverShows,
    bool Certain
) : Difference;

/// <summary>Extended sequence numbers: the two sets have nothing in common.</summary>
public sealed record OptionsDiffer : Difference;

/// <summary>Exchange modes differ where the answering end takes only its own.</summary>
public sealed record ModesDiffer : Difference;

/// <summary>Tunnel addresses are equal, or do not lie in one network.</summary>
/// <param name="A">The address at A.</param>
/// <param name="B">The address at B.</param>
public sealed record TunnelAddressesDiffer(TunnelAddress A, TunnelAddress B) : Difference;

/// <summary>
/// Two lifetimes differ. <paramref name="Slip"/> says what the value on <paramref name="SlipOn"/> was probably meant to
/// be.
/// </summary>
/// <param name="A">The lifetime at A.</param>
/// <param name="B">The lifetime at B.</param>
/// <param name="SlipOn">The end whose value looks mistyped; null when neither does.</param>
/// <param name="Slip">What was probably slipped, in words.</param>
/// <param name="Meant">What was probably meant.</param>
public sealed record LifetimesDiffer(Life A, Life B, EndName? SlipOn, string? Slip, Lifetime? Meant) : Difference;

/// <summary>In what an identity differs from the one that is expected.</summary>
public enum IdentityFault
{
    /// <summary>It is another.</summary>
    Other,

    /// <summary>Only its kind differs (RFC 7296 section 3.5).</summary>
    KindOnly,

    /// <summary>Only the order of the levels of a distinguished name differs.</summary>
    OrderOnly,

    /// <summary>Only blanks differ.</summary>
    BlanksOnly,

    /// <summary>Only the case of letters differs.</summary>
    CaseOnly,

    /// <summary>It is the private address behind a NAT.</summary>
    PrivateAddress,
}

/// <summary>The identity <paramref name="Sender"/> sends is not the one the other end expects.</summary>
/// <param name="Sender">The end that sends it.</param>
/// <param name="Sent">What it sends.</param>
/// <param name="Expected">What the other end has entered.</param>
/// <param name="Fault">In what the two differ.</param>
/// <param name="ComparedByOctet">Whether the verifier minds upper and lower case; null when its profile does not
/// say.</param>
public sealed record IdentityDiffers(
    EndName Sender,
    Identity Sent,
    Identity Expected,
    IdentityFault Fault,
    bool? ComparedByOctet
) : Difference;

/// <summary>What <paramref name="EnteredOn"/> has as the other end's address is not that end's outer address.</summary>
/// <param name="EnteredOn">The end that has it entered.</param>
/// <param name="Entered">What is entered there.</param>
/// <param name="Real">The other end's outer address in words.</param>
/// <param name="RealIsDynamic">Whether that address changes.</param>
public sealed record AddressDiffers(EndName EnteredOn, string Entered, string Real, bool RealIsDynamic) : Difference;

/// <summary>How one prefix stands on the end that owns it and on the other.</summary>
public enum SubnetFault
{
    /// <summary>The owner has it, the other end does not.</summary>
    MissingAtOther,

    /// <summary>The other end has it, the owner does not.</summary>
    ExtraAtOther,

    /// <summary>The other end has a wider prefix.</summary>
    WiderAtOther,

    /// <summary>The other end has a narrower prefix.</summary>
    NarrowerAtOther,
}

/// <summary>One mismatch: the prefix on its owner's end, and the one on the other.</summary>
/// <param name="Fault">How the two stand to each other.</param>
/// <param name="AtOwner">What the end has behind which it lies; null when it has none.</param>
/// <param name="AtOther">What the other end has for it; null when it has none.</param>
public sealed record SubnetMismatch(SubnetFault Fault, Prefix? AtOwner, Prefix? AtOther);

/// <summary>
/// The subnets behind <paramref name="Owner"/> are not mirrored at the other end. <paramref name="Swapped"/>: both ends
/// entered the same lists unswapped.
/// </summary>
/// <param name="Owner">The end behind which they lie.</param>
/// <param name="Mismatches">Each prefix that is not alike.</param>
/// <param name="Swapped">Whether both ends entered the same lists, so that local and remote are mixed up at
/// one.</param>
public sealed record SubnetsDiffer(EndName Owner, ImmutableArray<SubnetMismatch> Mismatches, bool Swapped) : Difference;

/// <summary>What one end signs with is not what the other verifies with.</summary>
/// <param name="A">What A holds.</param>
/// <param name="B">What B holds.</param>
public sealed record KeysDiffer(KeyHeld A, KeyHeld B) : Difference;

/// <summary>Methods differ.</summary>
public sealed record MethodsDiffer : Difference;

/// <summary>No end begins; each with the reason.</summary>
/// <param name="WhyNotA">Why A does not, as the end of a sentence.</param>
/// <param name="WhyNotB">Why B does not, as the end of a sentence.</param>
public sealed record NeitherInitiates(string WhyNotA, string WhyNotB) : Difference;

/// <summary>Both ends always begin.</summary>
public sealed record BothStart : Difference;
