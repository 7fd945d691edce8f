using Vellumkeep.Contract;
using Vellumkeep.Core.Quantities;

namespace Vellumkeep.Cli.Terminal;

/// <summary>A plan as it was played, in a terminal: one row for each moment at which a tunnel carries something else.</summary>
internal static class PlayPrinting
{
    public static void Play(Screen s, ChangePage c)
    {
        s.Line($"{s.In("strong", c.Code)}  {c.Title}");
        if (c.Play is not { } play)
        {
            s.Line($"{c.Code} was planned before plans were played. Next: vellumkeep change recompute {c.Code}");
            return;
        }

        s.Line();
        s.Table(
            ["minute", "step", "tunnel", "carries", "until", "why"],
            play.Tunnels.SelectMany(t => Rows(s, play, t)).OrderBy(r => r.At).Select(r => r.Cells),
            whole: true
        );
        s.Line(
            s.In(
                "soft",
                $"Minutes count from the first step in the window; the work takes {Minute(play, play.Seconds)}."
            )
        );
    }

    private static IEnumerable<(int At, IReadOnlyList<string> Cells)> Rows(Screen s, PlayPage play, PlayedTunnelLine t)
    {
        foreach (var span in t.Spans)
            yield return (
                span.From,
                [
                    Minute(play, span.From),
                    span.Step?.ToString() ?? "",
                    t.Code,
                    s.In(Tone(span.State), span.State),
                    span.To == play.Seconds ? "the end" : Minute(play, span.To),
                    span.Why?.Text ?? "",
                ]
            );
        foreach (var r in t.Restarts)
            yield return (
                r.At,
                [
                    Minute(play, r.At),
                    r.Step.ToString(),
                    t.Code,
                    s.In("weak", r.Certain ? "restarts" : "perhaps restarts"),
                    r.Seconds switch
                    {
                        null => "unknown",
                        0 => "at once",
                        { } seconds => $"{Lifetime.Say(seconds)} later",
                    },
                    r.Why.Text,
                ]
            );
    }

    private static string Tone(string state) =>
        state switch
        {
            "up" => "",
            "down" or "no traffic" => "stops",
            _ => "weak",
        };

    /// <summary>Minutes from the first step that is done in the window; before it they are below zero.</summary>
    private static string Minute(PlayPage play, int seconds)
    {
        var from = seconds - play.WorkFrom;
        return $"{(from < 0 ? "-" : "")}{Math.Abs(from) / 60}:{Math.Abs(from) % 60:00}";
    }
}
