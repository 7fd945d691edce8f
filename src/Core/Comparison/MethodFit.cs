using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Comparison;

/// <summary>
/// How an end authenticates against what the other expects of it. IKEv2 leaves each end its own method (RFC 7296 section
/// 2.15), so that unlike ones are no fault by themselves; under IKEv1 one method is negotiated for both (RFC 2409 section
/// 5). Used by comparison and rehearsal alike.
/// </summary>
/// <param name="Used">How the sender authenticates; null when not known.</param>
/// <param name="Expected">What the verifier expects of it; null when nobody says.</param>
internal sealed record MethodFit(Authentication? Used, Authentication? Expected)
{
    /// <summary>Whether they fit; null when one is not known.</summary>
    internal bool? Fits => Used is { } used && Expected is { } expected ? used == expected : null;

    /// <summary>How the sender's method stands to what its peer expects.</summary>
    internal static MethodFit Of(EndView sender, IkeVersion? version)
    {
        var (used, own) = (MethodOf(sender), MethodOf(sender.Other));
        if (version == IkeVersion.IKEv1)
            return new(used, own);
        var said = sender.Other.Get(Settings.PeerAuthentication).Value?.Value;
        // Whoever says nothing of the peer is taken to expect what it does itself, where the peer does that.
        return new(used, said ?? (own == used ? own : null));
    }

    private static Authentication? MethodOf(EndView end) => end.Get(Settings.Authentication).Value?.Value;
}
