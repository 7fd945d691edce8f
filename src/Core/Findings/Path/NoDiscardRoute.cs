namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-02: where the platform needs a manual discard route and none is recorded.</summary>
public static class NoDiscardRoute
{
    /// <summary>No discard route behind a route (PATH-02).</summary>
    public static readonly Check Check = new("PATH-02", "no discard route behind a route", c => c.View.Tunnel.Form
        != TunnelForm.RouteBased
            ? []
            : c
                .View.Ends.Where(e =>
                    e.Platform.IsManual(ManualWork.DiscardRoute) == true && e.End.Routes?.Value is not null
                )
                .SelectMany(end =>
                    end.End.Routes!.Value!.Items.Where(r =>
                            !r.Discard && !end.End.Routes.Value.Items.Any(d => d.Discard && d.To.Contains(r.To))
                        )
                        .Select(r => new Finding
                        {
                            Severity = Severity.Risk,
                            Subject = $"{end.Name}:{r.To}",
                            RowKey = RowKey.Routes,
                            What = $"{end.Name} has no discard route behind its route to {r.To}.",
                            Why =
                                $"While the tunnel is down, traffic to {r.To} follows the default route and leaves unencrypted.",
                            Do =
                                $"Add a discard route to {r.To} at {end.Name}, less preferred than the route into the tunnel.",
                            Consequence = $"Traffic to {r.To} leaks from {end.Name} while the tunnel is down.",
                            Evidence = Checked.Of(c.Row(RowKey.Routes)),
                        })
                ));
}
