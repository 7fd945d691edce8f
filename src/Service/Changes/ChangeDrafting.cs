using Vellumkeep.Core.Changes.Lifecycle;
using Vellumkeep.Core.Changes.Rekeying;
using Vellumkeep.Service.Changes.Drafts;

namespace Vellumkeep.Service.Changes;

/// <summary>Changes that are drafted: what was given is read, planned and written.</summary>
public sealed class ChangeDrafting(Keeper keeper)
{
    private const int LongestTitle = 120;

    /// <summary>What stands for the number of a change that is only looked at.</summary>
    private const string NotKept = "not kept";

    /// <summary>What was worked out, and the records that it was worked out from.</summary>
    private sealed record Prepared(ImmutableArray<Change> Changes, Inventory Around);

    /// <summary>Drafts a change of any kind.</summary>
    /// <returns>Its code; that of the first where a rekey is several.</returns>
    /// <exception cref="ProblemException">Something that was given cannot be read, or cannot be planned.</exception>
    public async Task<string> DraftAsync(Asker asker, DateTimeOffset now, DraftChange given, CancellationToken ct)
    {
        var wrote = await keeper.WriteAsync(
            new(asker.Name, now, "draft"),
            async (writing, reader) =>
            {
                var (changes, _) = await PrepareAsync(asker, now, given, writing, reader, ct);
                // Whoever only looks is told by PLAN-06.
                if (changes is [var only] && ChangeLife.WindowUnfit(only.Plan, only.Window, now) is { } unfit)
                    throw ChangeProblems.Refuse(unfit, asker.Scope);
                ImmutableArray<string> codes = changes.Length == 1 ? [] : [.. changes.Select(c => c.Code)];
                foreach (var change in changes)
                    writing.Put(change with { Batches = codes }, 0);
                return changes[0].Code;
            },
            ct
        );
        return wrote.Result;
    }

    /// <summary>What a draft would be, as a page; nothing is kept, and no number is used.</summary>
    /// <exception cref="ProblemException">Something that was given cannot be read, or cannot be planned.</exception>
    public async Task<ChangePage> LookAsync(Asker asker, DateTimeOffset now, DraftChange given, CancellationToken ct)
    {
        var looked = await keeper.WriteAsync(
            new(asker.Name, now, "draft"),
            async (writing, reader) =>
            {
                var (changes, around) = await PrepareAsync(asker, now, given, writing, reader, ct);
                var first = changes[0] with { Code = NotKept };
                var page = ChangePages.Make(
                    new(first, 0, 0),
                    around,
                    [],
                    asker,
                    now,
                    new Dictionary<(string Tunnel, int Version), (string State, string CheckCode)>(),
                    null
                );
                writing.Note();
                return page with { Acts = [], Batches = changes.Length == 1 ? [] : [.. changes.Select(c => c.Title)] };
            },
            ct,
            keep: false
        );
        return looked.Result;
    }

    private async Task<Prepared> PrepareAsync(
        Asker asker,
        DateTimeOffset now,
        DraftChange given,
        Storage.Writing.Writing writing,
        RecordReader reader,
        CancellationToken ct
    )
    {
        NeedBounds(given);
        var window = Windows.Of(given);
        var today = DateOnly.FromDateTime(now.UtcDateTime);
        var (request, title) = await RequestReaders.ReadAsync(new(asker, writing, reader, today, ct), given);
        var around = await ChangeGround.AroundAsync(reader, request, ct, writing);
        // Whoever may not draft it is told so before anything is worked out.
        OwnersOf(asker, around, request);
        var plan = PlanOf(around, request, now, asker.Scope, ct);
        var batches = BatchesOf(request, plan, window);
        var changes = new List<Change>();
        foreach (var batch in batches)
        {
            var owners = OwnersOf(asker, around, batch);
            // A gateway's change is its owner's; a tunnel's the tunnel's.
            var customer = around.Get<Customer>(batch.Gateways.IsEmpty ? owners[0] : owners[^1]);
            var number = changes.Count + 1;
            var titled = TitleOf(given.Title, batches.Length == 1 ? title(around) : TitleOfBatch(around, batch));
            changes.Add(
                new()
                {
                    Id = writing.NewId(),
                    Code = await NextCodeAsync(reader, customer, changes, ct),
                    Title = batches.Length == 1 ? titled : Numbered(titled, number, batches.Length),
                    Reason = given.Reason.Trim(),
                    CustomerId = customer.Id,
                    Customers = owners.Length > 1 ? owners : [],
                    Request = batch,
                    Plan = batches.Length == 1 ? plan : PlanOf(around, batch, now, asker.Scope, ct),
                    State = ChangeState.Draft,
                    // One batch a day, at the same hour.
                    Window = window is null ? null : window with { Start = window.Start.AddDays(number - 1) },
                    Author = asker.Name,
                    StatusHistory = [new(ChangeState.Draft, asker.Name, now, null)],
                }
            );
        }

        return new([.. changes], around);
    }

    /// <summary>A rekey of many tunnels is as many changes as fit windows; everything else is one.</summary>
    private static ImmutableArray<ChangeRequest> BatchesOf(ChangeRequest request, Plan plan, Window? window)
    {
        var minutes = window?.Minutes ?? RekeyBatches.UsualMinutes;
        return request is RekeyRequest { TunnelIds.Length: > 1 } rekey && plan.Minutes > minutes
            ? [.. RekeyBatches.Of(plan, rekey.TunnelIds, minutes).Select(ChangeRequest (b) => new RekeyRequest(b))]
            : [request];
    }

    private static string TitleOfBatch(Inventory around, ChangeRequest batch) =>
        $"New keys for {Say.And(batch.Tunnels.Select(t => around.Get<Tunnel>(t).Code))}";

    private static string Numbered(string title, int number, int of)
    {
        var ending = $" ({number} of {of})";
        return (
                title.Length + ending.Length <= LongestTitle
                    ? title
                    : title[..(LongestTitle - ending.Length - 3)] + "..."
            ) + ending;
    }

    /// <summary>The plan of a request.</summary>
    /// <exception cref="ProblemException">There is none.</exception>
    internal static Plan PlanOf(
        Inventory around,
        ChangeRequest request,
        DateTimeOffset now,
        Scope scope,
        CancellationToken ct
    )
    {
        var planned = Planner.Plan(around, request, DateOnly.FromDateTime(now.UtcDateTime), ct);
        return planned.Plan ?? throw ChangeProblems.Unplanned(planned.Refused, scope);
    }

    private static void NeedBounds(DraftChange given)
    {
        Reasons.Need(given.Reason, 2000, "what the change is for");
        switch (given)
        {
            case DraftSubnets subnets:
                Bounded("add", subnets.Add, Bounds.PrefixesPerChange);
                Bounded("reach", subnets.Reach, Bounds.PrefixesPerChange);
                Bounded("remove", subnets.Remove, Bounds.PrefixesPerChange);
                Bounded("addOther", subnets.AddOther, Bounds.PrefixesPerChange);
                Bounded("removeOther", subnets.RemoveOther, Bounds.PrefixesPerChange);
                Bounded("also", subnets.Also, Bounds.TunnelsPerChange);
                break;
            case DraftNewTunnel built:
                Bounded("pairs", built.New?.Pairs, Bounds.PrefixesPerChange);
                Bounded("also", built.Also, Bounds.TunnelsPerChange);
                break;
            case DraftRekey rekey:
                Bounded("also", rekey.Also, Bounds.TunnelsPerChange);
                break;
        }
    }

    private static void Bounded<T>(string field, IReadOnlyCollection<T>? items, int most)
    {
        if (items?.Count > most)
            throw ProblemException.Field(field, $"it has {items.Count:N0} items", $"at most {most} in one change");
    }

    /// <summary>Everybody whose right it needs: the owners of its tunnels, then of its gateways.</summary>
    private static ImmutableArray<string> OwnersOf(Asker asker, Inventory around, ChangeRequest request)
    {
        var tunnels = request.Tunnels.Select(around.Get<Tunnel>).ToArray();
        var owners = tunnels
            .Select(t => t.CustomerId)
            .Concat(request.Gateways.Select(g => around.Get<Site>(around.Get<Gateway>(g).SiteId).CustomerId))
            .Distinct()
            .ToImmutableArray();
        foreach (var owner in owners)
            asker.Need(
                Role.Engineer,
                owner,
                tunnels.FirstOrDefault(t => t.CustomerId == owner)?.Code ?? around.Get<Customer>(owner).Code
            );
        return owners;
    }

    private static async Task<string> NextCodeAsync(
        RecordReader reader,
        Customer customer,
        List<Change> drafted,
        CancellationToken ct
    )
    {
        var numbers = await reader.BeginningNumbersAsync(RecordKind.Change, customer.Code + "-", ct);
        var next = numbers.DefaultIfEmpty(0).Max() + 1 + drafted.Count(c => c.CustomerId == customer.Id);
        return $"{customer.Code}-{next.ToString("0000", CultureInfo.InvariantCulture)}";
    }

    private static string TitleOf(string? given, string otherwise)
    {
        if (string.IsNullOrWhiteSpace(given))
            return otherwise.Length > LongestTitle ? otherwise[..(LongestTitle - 3)] + "..." : otherwise;
        return given.Trim().Length <= LongestTitle
            ? given.Trim()
            : throw ProblemException.Field("title", "the title is too long", $"at most {LongestTitle} characters");
    }
}
