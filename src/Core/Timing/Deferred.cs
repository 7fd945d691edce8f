namespace Vellumkeep.Core.Timing;

/// <summary>
/// A failure that comes after the tunnel is up. Times in seconds from then on, as ranges where there is jitter; null
/// when lifetimes or margins are not known.
/// </summary>
/// <param name="Asks">The end whose rekey is refused first.</param>
/// <param name="FirstRefusal">When the first rekey is refused.</param>
/// <param name="Lost">When the SA that could not be replaced ends.</param>
/// <param name="Flaps">Whether that end then reauthenticates, which hides it and interrupts; null when its profile
/// does not say.</param>
/// <param name="HiddenBy">Seconds after which reauthentication makes new SAs before the loss; null when none
/// does.</param>
public sealed record Deferred(EndName Asks, Span? FirstRefusal, Span? Lost, bool? Flaps, long? HiddenBy);
