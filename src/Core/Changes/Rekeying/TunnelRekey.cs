using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>
/// The new versions of one tunnel's key: one for both directions, or one each way where each way has its own.
/// </summary>
/// <param name="View">The tunnel with both ends resolved.</param>
/// <param name="FromA">With what A sends and B receives.</param>
/// <param name="FromB">With what B sends and A receives; the same where one key serves both ways.</param>
internal sealed record TunnelRekey(TunnelView View, KeyVersion FromA, KeyVersion FromB)
{
    public static TunnelRekey Of(TunnelView view)
    {
        var (a, b) = (view.A.End.KeyHeld, view.B.End.KeyHeld);
        var held = new[] { a, b }.OfType<KeyHeld>().ToArray();
        var next = held.SelectMany(k => k.Send.Concat(k.Receive)).DefaultIfEmpty(0).Max() + 1;
        var tunnel = view.Tunnel.Id;
        if (held.Length == 0 || held.All(k => k.OneForBoth))
        {
            var both = new KeyVersion(tunnel, next, Sorted(held.SelectMany(k => k.Send)));
            return new(view, both, both);
        }

        return new(
            view,
            new(tunnel, next, Sorted([.. a?.Send ?? [], .. b?.Receive ?? []])),
            new(tunnel, next + 1, Sorted([.. b?.Send ?? [], .. a?.Receive ?? []]))
        );
    }

    /// <summary>The versions that the change brings.</summary>
    public ImmutableArray<KeyVersion> Keys => FromA == FromB ? [FromA] : [FromA, FromB];

    /// <summary>Whether an end can hold the new key beside the old one.</summary>
    public static bool HoldsTwo(EndView end) => end.Platform.Keys?.HoldsTwo == true && end.End.KeyHeld is not null;

    /// <summary>The tunnel with the new key alone at both ends.</summary>
    public Tunnel OnlyNew() => View.Tunnel.WithEnds((name, end) => end with { KeyHeld = New(name) });

    /// <summary>Where an end can hold two, the old one stays beside the new until the other end has it.</summary>
    public Tunnel BesideOld() =>
        View.Tunnel.WithEnds(
            (name, end) =>
                end with
                {
                    KeyHeld =
                        HoldsTwo(View.End(name)) && end.KeyHeld is { } held
                            ? new(Beside(held.Send, New(name).Send), Beside(held.Receive, New(name).Receive))
                            : New(name),
                }
        );

    private KeyHeld New(EndName end) =>
        end == EndName.A ? new([FromA.Version], [FromB.Version]) : new([FromB.Version], [FromA.Version]);

    private static ImmutableArray<int> Beside(ImmutableArray<int> old, ImmutableArray<int> now) => [.. old.Union(now)];

    private static ImmutableArray<int> Sorted(IEnumerable<int> versions) => [.. versions.Distinct().Order()];
}
