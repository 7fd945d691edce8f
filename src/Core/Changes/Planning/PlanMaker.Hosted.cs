using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>
/// Gateways that are asked for in requests, and those that are only created by the change: first created, then their
/// address is got, then the tunnel is asked for, and the key comes last.
/// </summary>
internal sealed partial class PlanMaker
{
    private readonly HashSet<string> created = [];

    /// <summary>Where a gateway is asked for in one request, everything of its end is one step.</summary>
    private void Request(EndWork work, List<Step> late)
    {
        var (tunnel, end) = (work.Tunnel.Then.Tunnel, work.End);
        if (Created(end))
            Create(end);
        // A gateway that was only just created starts as soon as it has the key.
        bool IsLast(Entered entered) => Created(end) && entered.After.Work == Work.Key;
        Ask(work, "request", [.. work.Difference.Enter.Where(e => !IsLast(e))], work.Difference.Remove, late);
        foreach (var kind in Enum.GetValues<Work>().Where(w => !Created(end) || w != Work.Key))
            Carriers.Take(tunnel.Id, end.Name, kind, work.Key("request"));
        if (work.Difference.Enter.Where(IsLast).ToImmutableArray() is not { IsEmpty: false } key)
            return;
        Ask(work, "request-key", key, [], late);
        Carriers.Take(tunnel.Id, end.Name, Work.Key, work.Key("request-key"));
    }

    private void Ask(
        EndWork work,
        string what,
        ImmutableArray<Entered> enter,
        ImmutableArray<Entry> gone,
        List<Step> late
    )
    {
        var (tunnel, end) = (work.Tunnel.Then.Tunnel, work.End);
        var takes = Takes(end, end.Platform.EffectSeconds);
        var does =
            what == "request-key"
                ? Sentence.Of(
                    $"Enter the pre-shared key of {tunnel} on {end.Gateway.Code} last: it may initiate from then on. {takes}"
                )
                : Sentence.Of($"Send one request for {tunnel} on {end.Gateway.Code} with these values. {takes}");
        var part = work.Runs ? Part.Switch : Part.Build;
        var minutes = MinutesOf(end.Platform.EffectSeconds);
        (work.Runs ? late : steps).Add(Made(work, StepKind.Request, new(what, minutes, does, enter, gone), part));
    }

    /// <summary>A gateway is created once, with every endpoint of its site that comes along.</summary>
    private void Create(EndView end)
    {
        if (created.Contains(end.Gateway.Id))
            return;
        var together = tunnels
            .SelectMany(t => t.Then.Ends)
            .Where(e => Created(e) && e.Gateway.SiteId == end.Gateway.SiteId && e.Platform.Id == end.Platform.Id)
            .DistinctBy(e => e.Gateway.Id)
            .Where(e => !created.Contains(e.Gateway.Id))
            .OrderBy(e => e.Gateway.Id == end.Gateway.Id ? 0 : 1)
            .Take(end.Platform.Endpoints ?? 1)
            .ToArray();
        created.UnionWith(together.Select(e => e.Gateway.Id));
        Add(
            StepWords.At(
                end,
                StepKind.Create,
                Part.Build,
                $"create-{end.Gateway.Code}",
                MinutesOf(end.Platform.CreationSeconds),
                $"Have {Say.And(together.Select(e => e.Gateway.Code))} created{AtOnce(together.Length):w}. "
                    + $"{Takes(end, end.Platform.CreationSeconds)} Only then "
                    + $"{(together.Length == 1 ? "its outer address is" : "their outer addresses are"):w} "
                    + $"known.{Placeholder(end):w}"
            ) with
            {
                Undo = $"Have {Say.And(together.Select(e => e.Gateway.Code))} removed.",
            }
        );
        foreach (var p in together.SelectMany(e => pending.Select(p => p.At).Where(p => p.At.RecordId == e.Gateway.Id)))
            Add(
                StepWords.FillIn(
                    p,
                    Part.Build,
                    2,
                    $"{StepWords.Get(p)}, and fill it in here. The steps that need it are then completed."
                ) with
                {
                    TunnelId = end.Tunnel.Tunnel.Id,
                }
            );
    }

    private static string AtOnce(int endpoints) => endpoints == 1 ? "" : $", {endpoints} endpoints in one creation";

    /// <summary>Where the other end's address is not known either, a form may still ask for one.</summary>
    private static string Placeholder(EndView end) =>
        end.PeerAddress.Pending is null
            ? ""
            : " If the form asks for a peer address, enter 192.0.2.1 for now; the request that follows replaces it.";

    private static int MinutesOf(int? seconds) => seconds is { } s ? 1 + (s / 60) : 5;

    private static Sentence Takes(EndView end, int? seconds) =>
        seconds is { } s
            ? $"It takes about {Lifetime.Say(s):w}."
            : Sentence.Of($"The profile of {end.Platform.Title:w} does not say how long it takes.");
}
