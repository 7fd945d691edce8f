using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Rehearsing;

/// <summary>Why a negotiation stops, typed; <see cref="Findings.Telling"/> puts it into words.</summary>
public abstract record Cause;

/// <summary>The starter does not begin by itself, or cannot know where to send.</summary>
public sealed record DoesNotStart(StartFault Fault) : Cause;

public enum StartFault
{
    OnlyAnswers,
    AddressMoves,
    AddressPending,
}

/// <summary>The starter sends to an address that is not the other end's outer address.</summary>
public sealed record WrongAddress(string Entered, string Real) : Cause;

/// <summary>What is sent does not reach the device: not let in, or not forwarded by the translator in front.</summary>
public sealed record NotReached(string What, bool ByTranslator) : Cause;

/// <summary>The responder has no peer entry for the source address it sees (null: an address that moves).</summary>
public sealed record NoPeerEntry(Address? Source, string Entered) : Cause;

/// <summary>The message lands on the peer entry of another tunnel, which fits more closely.</summary>
public sealed record LandsElsewhere(Tunnel Other) : Cause;

public sealed record VersionsApart : Cause;

public sealed record ModesApart(ExchangeMode Offered, ExchangeMode Wanted) : Cause;

public sealed record NothingChosen(bool OfEsp, NearestMiss? Miss) : Cause;

/// <summary>IKEv1: a lifetime that is not equal, at a responder that takes only an equal one.</summary>
public sealed record LifetimeRefused(bool OfEsp, Life Offered, Life Own) : Cause;

/// <summary>Main mode with a pre-shared key: no key, or more than one, fits the source address.</summary>
/// <param name="Mates">Other entries for any address with keys of their own.</param>
public sealed record KeyNotFound(Address? Source, int Mates, string? KeyFor) : Cause;

public sealed record MethodsApart(string Used, string Wanted) : Cause;

public sealed record IdentityRefused(IdentityDiffers Difference) : Cause;

public sealed record KeysApart(KeyHeld Signs, KeyHeld Verifies) : Cause;

public sealed record CertificateRefused(CertificateFault Fault, Certificate Certificate) : Cause;

public enum CertificateFault
{
    NotTrusted,
    NotYetValid,
    Expired,
    NameMissing,
    UsageForbids,
}

public sealed record SequenceNumbersApart : Cause;

/// <summary>No selector of one end is acceptable to the other for these pairs.</summary>
/// <param name="NotOffered">The starter has no selector for them at all.</param>
/// <param name="OnlyEqual">They overlap, but the responder takes only equal ones.</param>
public sealed record SelectorsRefused(bool NotOffered, bool OnlyEqual) : Cause;

/// <summary>PFS does not fit when a child SA is asked for.</summary>
public sealed record PfsApart(Pfs Asked, Pfs Taken) : Cause;

/// <summary>The SAs stand, and ESP packets are lost on the way to <paramref name="Towards"/>.</summary>
public sealed record PacketsLost(EndName Towards, bool NatTraversalOff) : Cause;
