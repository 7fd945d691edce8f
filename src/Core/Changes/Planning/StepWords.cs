using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// How steps are said, and what every kind of change has alike: who is asked, what stops, where proof is taken.
/// </summary>
internal static partial class StepWords
{
    /// <summary>Who is asked to do it; null when we run the gateway.</summary>
    public static string? Asked(EndView end) => end.Gateway.RunBy == RunBy.Us ? null : end.Owner.Name;

    public static Where WhereOf(EndView? end) =>
        end is null ? Where.Us
        : end.Name == EndName.A ? Where.A
        : Where.B;

    /// <summary>A step on the gateway of an end.</summary>
    public static Step At(EndView end, StepKind kind, Part part, string key, int minutes, Sentence does) =>
        new()
        {
            Key = key,
            Kind = kind,
            Part = part,
            Where = WhereOf(end),
            Asked = Asked(end),
            Do = does,
            Minutes = minutes,
            TunnelId = end.Tunnel.Tunnel.Id,
            Gateway = end.Gateway.Code,
        };

    /// <summary>The saving of a configuration before it is touched.</summary>
    /// <param name="end">The end that it is asked of.</param>
    /// <param name="running">How many tunnels end on the gateway.</param>
    public static Step SaveBefore(EndView end, int running) =>
        At(
            end,
            StepKind.SaveBefore,
            Part.Safeguard,
            $"save-{end.Gateway.Code}",
            3,
            $"Save the configuration of {end.Gateway.Code}, and note which tunnels are up. It has "
                + $"{Say.Count(running, "tunnel"):w}."
        ) with
        {
            Proof = $"the saved configuration and its time",
        };

    /// <summary>The filling in of a value that is pending.</summary>
    public static Step FillIn(PendingAt pending, Part part, int minutes, Sentence does) =>
        new()
        {
            Key = $"prepare-pending-{pending.At.RecordId}-{pending.At.Path}",
            Kind = StepKind.FillIn,
            Part = part,
            Minutes = minutes,
            Do = does,
            Fills = pending.At,
        };

    /// <summary>Get a value that is pending, from whom, and by when.</summary>
    public static Sentence Get(PendingAt pending) =>
        $"Get the {pending.Label:w}{(pending.WhoKnows is { } who ? $" from {who}" : ""):w}"
        + $"{(pending.By is { } by ? $", due {Scalars.Write(by)}" : ""):w}";

    /// <summary>That a value is pending, who will know it, and by when.</summary>
    public static Sentence IsPending(PendingAt pending) =>
        $"The {pending.Label:w} is "
        + $"pending{(pending.WhoKnows is { } who ? $" from {who}" : ""):w}"
        + $"{(pending.By is { } by ? $", by {Scalars.Write(by)}" : ""):w}.";

    /// <summary>A kind of work in the key of a step.</summary>
    public static string KeyOf(Work work) => work.ToString().ToLowerInvariant();

    /// <summary>
    /// How somebody tries a pair from one end to the other: by ping, or by a connection where the pair is for other
    /// traffic alone.
    /// </summary>
    public static Sentence Try(EndView from, SubnetPair pair)
    {
        var (there, here) = (PointIn(from.Other, pair), PointIn(from, pair));
        return pair.TrafficAt(from.Name).TakesPing
            ? Sentence.Of($"ping {there} from {here}")
            : Sentence.Of($"open a connection from {here} to {there} ({pair.Only!.OfPair})");
    }

    public static Sentence PointIn(EndView end, SubnetPair pair)
    {
        var prefix = pair.On(end.Name);
        var network = end.Site.Networks.FirstOrDefault(n =>
            n.AsPresented.Contains(prefix) || prefix.Contains(n.AsPresented)
        );
        var point = network?.TestPoints.FirstOrDefault(t => prefix.Contains(t.Address));
        return point is not null ? Sentence.Of($"{point.Address}") : Sentence.Of($"a host in {prefix}");
    }

    public static Step ManagementAccess(EndView end)
    {
        var way = end.Gateway.ManagementAccess!;
        var throughThis = end.Gateway.IsManagedThrough(end.Tunnel.Tunnel);
        Sentence other =
            way.OutOfBand is { } o ? Sentence.Of($" and out-of-band access ({o:w})")
            : throughThis ? Sentence.Plain(". Arrange out-of-band access first; none is recorded")
            : Sentence.Plain(". No out-of-band access is recorded");
        return At(
            end,
            StepKind.ManagementAccess,
            Part.Prepare,
            $"prepare-way-{end.Gateway.Code}",
            3,
            throughThis
                ? Sentence.Of($"You manage {end.Gateway.Code} through this tunnel. Test the management access{other}.")
                : Sentence.Of($"Test the management access to {end.Gateway.Code} ({Through(end, way)}){other}.")
        );
    }

    /// <summary>What a gateway is managed through.</summary>
    private static Sentence Through(EndView end, ManagementAccess way) =>
        way switch
        {
            { TunnelId: { } id } => end.Tunnel.Inventory.Find<Tunnel>(id) is { } tunnel
                ? Sentence.Of($"through {tunnel}")
                : Sentence.Plain("through a tunnel that is not recorded"),
            { Uplink: { } uplink } => Sentence.Of($"over {uplink}"),
            _ => Sentence.Of($"{way.Otherwise:w}"),
        };

    private static string ProfileIsSilent(EndView end) =>
        end.Platform.SavedSeparately is null ? " The profile does not say whether the device saves automatically." : "";

    public static Step SaveAfter(EndView end) =>
        At(
            end,
            StepKind.SaveAfter,
            Part.Record,
            $"save-after-{end.Gateway.Code}",
            1,
            end.Platform.SavedSeparately != false
                ? Sentence.Of(
                    $"Save the running configuration on {end.Gateway.Code}, and keep a copy.{ProfileIsSilent(end):w}"
                )
                : Sentence.Of(
                    $"Keep a copy of the configuration of {end.Gateway.Code}. The device saved it automatically."
                )
        ) with
        {
            Proof = $"the saved configuration and its time",
        };

    /// <summary>
    /// A name for something on the device, by the customer's or the house pattern, alike on both ends. Too long for the
    /// platform, it is cut before its last word, which tells it from its neighbours.
    /// </summary>
    public static string Name(EndView end, string what)
    {
        var view = end.Tunnel;
        var slug = new string([.. what.ToLowerInvariant().Select(ch => char.IsAsciiLetterOrDigit(ch) ? ch : '-')]);
        var name = (view.Customer.NamingPattern ?? "{tunnel}-{what}")
            .Replace("{tunnel}", view.Tunnel.Code.ToLowerInvariant())
            .Replace("{what}", slug)
            .Replace("{end}", end.Name.Key());
        if (end.Platform.NameLimit is not { } limit || name.Length <= limit)
            return name;
        var last = name[name.LastIndexOf('-')..];
        return last.Length < limit ? name[..(limit - last.Length)].TrimEnd('-') + last : name[..limit];
    }

    public static Sentence Tunnels(IReadOnlyList<Tunnel> tunnels) =>
        tunnels.Count switch
        {
            1 => Sentence.Of($"{tunnels[0]}"),
            2 => Sentence.Of($"{tunnels[0]} and {tunnels[1]}"),
            3 => Sentence.Of($"{tunnels[0]}, {tunnels[1]} and {tunnels[2]}"),
            _ => Sentence.Of($"{tunnels[0]} and {tunnels.Count - 1} others"),
        };

    public static int Minutes(Work work) =>
        work switch
        {
            Work.Key => 3,
            Work.Proposals or Work.Peer or Work.Selectors or Work.Routing => 2,
            _ => 1,
        };
}
