namespace Vellumkeep.Service.Edge;

/// <summary>With what an endpoint can refuse, for the description of the interface.</summary>
public static class Refusing
{
    /// <param name="statuses">The statuses of its problem details (RFC 9457).</param>
    public static RouteHandlerBuilder Refuses(this RouteHandlerBuilder builder, params int[] statuses)
    {
        foreach (var status in statuses)
            builder.ProducesProblem(status);
        return builder;
    }
}
