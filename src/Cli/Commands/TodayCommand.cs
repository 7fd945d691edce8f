using System.CommandLine;
using Vellumkeep.Client;
using Vellumkeep.Contract;
using static Vellumkeep.Cli.Frame;

namespace Vellumkeep.Cli.Commands;

/// <summary>What waits.</summary>
internal static class TodayCommand
{
    public static IReadOnlyList<Command> Make(Frame frame)
    {
        var screen = frame.Screen;
        var made = new List<Command>();
        made.Add(
            frame.Verb(
                "today",
                "what waits for you: reviews, windows, work under way, findings that block",
                async (p, c, ct) =>
                {
                    var t = await c.TodayAsync(ct);
                    frame.Shows(p, t, () =>
                    {
                        screen.Verdict(t.Verdict);
                        foreach (
                            var (head, list) in new[]
                            {
                                ("To review", t.ToReview),
                                ("Under way", t.UnderWay),
                                ("Approved", t.Windows),
                                ("Yours", t.Mine),
                            }
                        )
                        {
                            if (list.Count == 0)
                                continue;
                            screen.Line("\n" + screen.In("strong", head));
                            Printing.Changes(screen, list);
                        }

                        if (t.Blocking.Count > 0)
                            screen.Line("\n" + screen.In("strong", "Blocks"));
                        screen.Table(
                            ["tunnel", "code", "what"],
                            t.Blocking.Select(f => (IReadOnlyList<string>)[f.Tunnel, f.Code, f.What.Text])
                        );
                    });
                    return t.Blocking.Count > 0 ? 1 : 0;
                }
            )
        );
        return made;
    }
}
