using Vellumkeep.Core.Comparison;

namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-05.</summary>
public static class NoTranslationMissing
{
    /// <summary>No-translation rule missing for a pair (PATH-05).</summary>
    public static readonly Check Check = new("PATH-05", "no-translation rule missing for a pair", c =>
        c.View.Ends.SelectMany(end =>
            c.Pairs.Where(p => p.At(end.Name).NoTranslation == Presence.No)
                .Select(state =>
                {
                    Prefix own = state.Pair.On(end.Name),
                        peer = state.Pair.On(end.Name.Other());
                    string ownName = c.View.NameOf(end.Name, own),
                        peerName = c.View.NameOf(end.Name.Other(), peer);
                    return new Finding
                    {
                        Code = "PATH-05",
                        Severity = Severity.Blocks,
                        Subject = $"{end.Name}:{own}-{peer}",
                        RowKey = "noTranslation",
                        Pairs = [state.Pair],
                        What =
                            $"{end.Name} has no no-translation rule from {ownName:w} to {peerName:w}: {own} to {peer}.",
                        Why =
                            $"{end.Gateway.Code} translates what leaves {ownName:w} before it looks for the tunnel, so it fits no selector and goes out in the clear or nowhere.",
                        Do = $"Add a no-translation rule at {end.Name}: own {own}, peer {peer}.",
                        Consequence =
                            $"What {ownName:w} sends to {peerName:w} is translated at {end.Name} and misses the tunnel.",
                        Evidence = Checked.Of(c.Row("noTranslation")),
                    };
                })
        )
    );
}
