using Vellumkeep.Core.Comparison;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>Why a negotiation stops, typed; <see cref="Findings.FindingText"/> puts it into words.</summary>
public abstract record Cause;

/// <summary>The initiator does not initiate, or cannot know where to send.</summary>
/// <param name="Fault">What keeps it from initiating.</param>
public sealed record DoesNotStart(StartFault Fault) : Cause;

/// <summary>The initiator sends to an address that is not the other end's outer address.</summary>
/// <param name="Entered">Where it sends.</param>
/// <param name="Real">Where the other end is, in words.</param>
public sealed record WrongAddress(string Entered, string Real) : Cause;

/// <summary>
/// What is sent does not reach the device: not allowed inbound, or not forwarded by the NAT in front.
/// </summary>
/// <param name="What">What is stopped on the way.</param>
/// <param name="ByTranslator">Whether the NAT in front stops it, and not the uplink.</param>
public sealed record NotReached(Inbound What, bool ByTranslator) : Cause;

/// <summary>The responder has no peer entry for the source address it sees (null: a dynamic address).</summary>
/// <param name="Source">The address that the responder sees; null when it is dynamic.</param>
/// <param name="Entered">What it has an entry for.</param>
public sealed record NoPeerEntry(Address? Source, string Entered) : Cause;

/// <summary>The message lands on the peer entry of another tunnel, which fits more closely.</summary>
/// <param name="Other">The tunnel whose entry answers.</param>
/// <param name="Entry">What that entry is for.</param>
/// <param name="Authenticated">Whether it takes the initiator, and refuses only the subnets.</param>
public sealed record LandsElsewhere(Tunnel Other, string Entry, bool Authenticated) : Cause;

/// <summary>No IKE version in common.</summary>
public sealed record VersionsMismatch : Cause;

/// <summary>
/// The initiator begins with IKEv2, which the responder does not have, and does not try IKEv1 after it.
/// </summary>
public sealed record NoFallBack : Cause;

/// <summary>One outer address is IPv4, the other IPv6.</summary>
/// <param name="From">The outer address of the initiator.</param>
/// <param name="To">The outer address of the responder.</param>
public sealed record NoFamilyInCommon(Address From, Address To) : Cause;

/// <summary>The exchange mode that is offered is not wanted (IKEv1).</summary>
/// <param name="Offered">What the initiator begins with.</param>
/// <param name="Wanted">What the responder takes.</param>
public sealed record ModesMismatch(ExchangeMode Offered, ExchangeMode Wanted) : Cause;

/// <summary>No proposal in common (NO_PROPOSAL_CHOSEN, RFC 7296 section 2.7).</summary>
/// <param name="OfEsp">For the child SA; otherwise for the IKE SA.</param>
/// <param name="Miss">The two that come nearest; null when an end has none.</param>
public sealed record NothingChosen(bool OfEsp, NearestMiss? Miss) : Cause;

/// <summary>IKEv1: a lifetime that is not equal, at a responder that takes only an equal one.</summary>
/// <param name="OfEsp">Of the child SA; otherwise of the IKE SA.</param>
/// <param name="Offered">What the initiator sends.</param>
/// <param name="Local">What the responder has.</param>
public sealed record LifetimeRefused(bool OfEsp, Life Offered, Life Local) : Cause;

/// <summary>Main mode with a pre-shared key: no key, or more than one, fits the source address.</summary>
/// <param name="Source">The address that the responder sees; null when it is dynamic.</param>
/// <param name="Mates">Other entries for any address with keys of their own.</param>
/// <param name="KeyFor">What its key is entered for; null when it is for any address.</param>
public sealed record KeyNotFound(Address? Source, int Mates, string? KeyFor) : Cause;

/// <summary>The ends authenticate by different methods (RFC 7296 section 2.15).</summary>
/// <param name="Used">How the sender authenticates, in words.</param>
/// <param name="Wanted">How the verifier wants it, in words.</param>
public sealed record MethodsMismatch(string Used, string Wanted) : Cause;

/// <summary>The verifier takes none of the signatures that the sender makes (RFC 7427 section 4).</summary>
/// <param name="Signs">How the sender signs, in words.</param>
/// <param name="Takes">What the verifier takes, in words.</param>
public sealed record SignaturesMismatch(string Signs, string Takes) : Cause;

/// <summary>One end wants tunnel mode, the other transport mode, and IKEv1 negotiates it (RFC 2407 section 4.5).</summary>
/// <param name="Asked">What the initiator asks for.</param>
/// <param name="Wanted">What the responder takes.</param>
public sealed record EspModesMismatch(EspMode Asked, EspMode Wanted) : Cause;

/// <summary>The identity that is sent is not the one that is expected (AUTHENTICATION_FAILED).</summary>
/// <param name="Difference">In what the two identities differ.</param>
public sealed record IdentityRefused(IdentityDiffers Difference) : Cause;

/// <summary>The key that signs is not the one that verifies (RFC 7296 section 2.15).</summary>
/// <param name="Signs">What the sender holds.</param>
/// <param name="Verifies">What the verifier holds.</param>
public sealed record KeysMismatch(KeyHeld Signs, KeyHeld Verifies) : Cause;

/// <summary>IKEv1 has one pre-shared key for both directions (RFC 2409 section 5), and an end holds one for each.</summary>
/// <param name="Held">What it holds.</param>
public sealed record KeyEachWay(KeyHeld Held) : Cause;

/// <summary>The certificate is refused (RFC 4945).</summary>
/// <param name="Fault">What is wrong with it.</param>
/// <param name="Certificate">The certificate itself.</param>
public sealed record CertificateRefused(CertificateFault Fault, Certificate Certificate) : Cause;

/// <summary>Why a certificate is refused.</summary>
public enum CertificateFault
{
    /// <summary>No anchor of the other end issued it.</summary>
    NotTrusted,

    /// <summary>It is not valid yet.</summary>
    NotYetValid,

    /// <summary>It is not valid any more.</summary>
    Expired,

    /// <summary>It does not bear the identity that is sent.</summary>
    NameMissing,

    /// <summary>Its usage forbids authentication.</summary>
    UsageForbids,
}

/// <summary>Extended sequence numbers do not fit (RFC 4303 section 2.2.1).</summary>
public sealed record SequenceNumbersMismatch : Cause;

/// <summary>No selector of one end is acceptable to the other for these pairs.</summary>
/// <param name="NotOffered">The initiator has no selector for them at all.</param>
/// <param name="OnlyEqual">They overlap, but the responder takes only equal ones.</param>
public sealed record SelectorsRefused(bool NotOffered, bool OnlyEqual) : Cause;

/// <summary>The answer is narrower than a wanted pair (RFC 7296 section 2.9).</summary>
/// <param name="Lost">What does not pass, and nothing else.</param>
public sealed record SelectorsNarrowed(ImmutableArray<SubnetPair> Lost) : Cause;

/// <summary>PFS does not fit when a child SA is asked for.</summary>
/// <param name="Asked">What the end has that asks.</param>
/// <param name="Taken">What the end has that answers.</param>
public sealed record PfsMismatch(Pfs Asked, Pfs Taken) : Cause;

/// <summary>The SAs stand, and ESP packets are lost on the way to <paramref name="Towards"/>.</summary>
/// <param name="Towards">The end that does not get them.</param>
/// <param name="NatTraversalOff">Whether an end never encapsulates, so that the NAT sees plain ESP.</param>
/// <param name="Mapped">NAPT maps ports on the way, and ESP has none (RFC 3948).</param>
public sealed record PacketsLost(EndName Towards, bool NatTraversalOff, bool Mapped) : Cause;

/// <summary>The SAs stand, and what a check found keeps the packets of these pairs from passing.</summary>
/// <param name="Code">The code of the check.</param>
/// <param name="What">What the check says.</param>
public sealed record Hindered(string Code, Sentence What) : Cause;
