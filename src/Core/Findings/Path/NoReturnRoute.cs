namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-12.</summary>
public static class NoReturnRoute
{
    /// <summary>Not the default router, and no return route recorded (PATH-12).</summary>
    public static readonly Check Check = new("PATH-12", "not the default router, and no return route recorded", c =>
        c.View.Ends.Where(e => e.Site.GatewayIsDefaultRouter == false && e.Site.ReturnRoute != true)
            .Select(e => new Finding
            {
                Severity = Severity.Degrades,
                Subject = e.Name.ToString(),
                What =
                    $"{e.Gateway.Code} is not the default router of {e.Site.Name:w}, and "
                    + $"{(e.Site.ReturnRoute == false ? "there is no route back to it" : "no route back to it is recorded"):w}.",
                Why = $"Hosts reply to their default router, which has no route into the tunnel.",
                Do =
                    $"Add a route to the subnets behind {e.Name.Other()} on the inner router of {e.Site.Name:w}, and record it.",
                Consequence = $"Replies from {e.Site.Name:w} can miss the tunnel: no return route.",
                Evidence = [new Evidence(e.Name, "Default router", "another", $"site {e.Site.Code}")],
            })
    );
}
