using System.CommandLine;
using Vellumkeep.Cli.Terminal;

namespace Vellumkeep.Cli.Commands;

/// <summary>What waits, and what falls due.</summary>
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
        made.Add(Due(frame));
        return made;
    }

    private static Command Due(Frame frame)
    {
        var days = new Option<int>("--days")
        {
            Description = "how far ahead, 1 to 366 days",
            DefaultValueFactory = _ => 90,
        };
        return frame.Verb(
            "due",
            "what falls due: windows, certificates, keys, temporary and pending values, acceptances",
            async (p, c, ct) =>
            {
                var due = await c.DueAsync(p.GetValue(days), ct);
                frame.Shows(p, due, () =>
                {
                    frame.Screen.Table(
                        ["on", "code", "kind", "what"],
                        due.Items.Select(d =>
                            (IReadOnlyList<string>)
                                [
                                    d.On,
                                    d.Code,
                                    d.Kind,
                                    d.Overdue ? $"{d.What}, {frame.Screen.In("stops", "overdue")}" : d.What,
                                ]
                        )
                    );
                    frame.Screen.Line(
                        due.Items.Count == 0 ? $"Nothing falls due until {due.Until}."
                        : due.More ? $"These are the first {due.Items.Count}; there is more until {due.Until}."
                        : $"{due.Items.Count} until {due.Until}."
                    );
                });
                return 0;
            },
            days
        );
    }
}
