namespace Vellumkeep.Core.Timing;

/// <summary>
/// A failure that comes after the tunnel is up. Times in seconds from then on, as ranges where there is jitter; null
/// when lifetimes or margins are not known, and when the moment never comes.
/// </summary>
/// <param name="Asks">The end whose rekey is refused.</param>
/// <param name="OfIke">Whether a new phase 1 is refused (IKEv1); otherwise the rekey of a child SA.</param>
/// <param name="FirstRefusal">When the first rekey is refused; null when reauthentication always comes before it.</param>
/// <param name="Lost">When the SA that could not be replaced ends; null when reauthentication comes before it.</param>
/// <param name="Flaps">Whether that end then reauthenticates, which hides it and interrupts; null when its profile
/// does not say.</param>
/// <param name="HiddenBy">Seconds after which reauthentication makes new SAs before the loss; null when none
/// does.</param>
/// <param name="Certain">Whether it is that end that rekeys first; otherwise the other may, and is answered.</param>
public sealed record Deferred(
    EndName Asks,
    bool OfIke,
    Span? FirstRefusal,
    Span? Lost,
    bool? Flaps,
    long? HiddenBy,
    bool Certain
);
