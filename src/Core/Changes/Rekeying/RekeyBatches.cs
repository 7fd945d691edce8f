namespace Vellumkeep.Core.Changes.Rekeying;

/// <summary>A rekey of many tunnels in batches, each of which fits a window.</summary>
public static class RekeyBatches
{
    /// <summary>How much work goes into a batch where no window is given, in minutes.</summary>
    public const int UsualMinutes = 120;

    /// <summary>The tunnels in their order, as many together as the window has minutes for; one at least.</summary>
    /// <param name="plan">The plan of all of them together.</param>
    /// <param name="tunnels">Their ids.</param>
    /// <param name="minutes">The length of the window.</param>
    public static ImmutableArray<ImmutableArray<string>> Of(Plan plan, ImmutableArray<string> tunnels, int minutes)
    {
        var batches = ImmutableArray.CreateBuilder<ImmutableArray<string>>();
        var batch = ImmutableArray<string>.Empty;
        foreach (var tunnel in tunnels)
        {
            if (!batch.IsEmpty && MinutesOf(plan, [.. batch, tunnel]) > minutes)
            {
                batches.Add(batch);
                batch = [];
            }

            batch = batch.Add(tunnel);
        }

        if (!batch.IsEmpty)
            batches.Add(batch);
        return batches.ToImmutable();
    }

    /// <summary>The steps of these tunnels, of the gateways that they end on, and of all together.</summary>
    private static int MinutesOf(Plan plan, ImmutableArray<string> tunnels)
    {
        var gateways = plan
            .Steps.Where(s => s.TunnelId is { } t && tunnels.Contains(t))
            .Select(s => s.Gateway)
            .OfType<string>()
            .ToHashSet();
        return plan.Steps.Where(Belongs).Sum(s => s.Minutes);

        bool Belongs(Step step)
        {
            var ofGateway = step.Kind is StepKind.SaveBefore or StepKind.SaveAfter or StepKind.ManagementAccess;
            if (ofGateway)
                return step.Gateway is { } gateway && gateways.Contains(gateway);
            return step.TunnelId is not { } tunnel || tunnels.Contains(tunnel);
        }
    }
}
