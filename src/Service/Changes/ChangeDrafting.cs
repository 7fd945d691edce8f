using Vellumkeep.Service.Changes.Drafts;

namespace Vellumkeep.Service.Changes;

/// <summary>Changes that are drafted: what was given is read, planned and written.</summary>
public sealed class ChangeDrafting(Keeper keeper)
{
    private const int LongestTitle = 120;

    /// <summary>Drafts a change of any kind.</summary>
    /// <returns>Its code.</returns>
    /// <exception cref="ProblemException">Something that was given cannot be read, or cannot be planned.</exception>
    public async Task<string> DraftAsync(Asker asker, DateTimeOffset now, DraftChange given, CancellationToken ct)
    {
        NeedBounds(given);
        var window = Windows.Of(given.WindowStart, given.WindowMinutes);
        var wrote = await keeper.WriteAsync(
            new(asker.Name, now, "draft"),
            async (writing, reader) =>
            {
                var today = DateOnly.FromDateTime(now.UtcDateTime);
                var (request, title) = await RequestReaders.ReadAsync(new(asker, given, writing, reader, today, ct));
                var around = await ChangeGround.AroundAsync(reader, request, ct, writing);
                var owners = OwnersOf(asker, around, request);
                var plan = PlanOf(around, request, now, asker.Scope, ct);
                // A gateway's change is its owner's; a tunnel's the tunnel's.
                var customer = around.Get<Customer>(request.Gateways.IsEmpty ? owners[0] : owners[^1]);
                var change = new Change
                {
                    Id = writing.NewId(),
                    Code = await NextCodeAsync(reader, customer, ct),
                    Title = TitleOf(given.Title, title(around)),
                    Reason = given.Reason.Trim(),
                    CustomerId = customer.Id,
                    Customers = owners.Length > 1 ? owners : [],
                    Request = request,
                    Plan = plan,
                    State = ChangeState.Draft,
                    Window = window,
                    Author = asker.Name,
                    StatusHistory = [new(ChangeState.Draft, asker.Name, now, null)],
                };
                writing.Put(change, 0);
                return change.Code;
            },
            ct
        );
        return wrote.Result;
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
        if (string.IsNullOrWhiteSpace(given.Reason) || given.Reason.Length > 2000)
            throw ProblemException.Field(
                "reason",
                "the reason is missing",
                "what the change is for, in at most 2,000 characters"
            );
        Bounded("add", given.Add, Bounds.PrefixesPerChange);
        Bounded("reach", given.Reach, Bounds.PrefixesPerChange);
        Bounded("remove", given.Remove, Bounds.PrefixesPerChange);
        Bounded("addOther", given.AddOther, Bounds.PrefixesPerChange);
        Bounded("removeOther", given.RemoveOther, Bounds.PrefixesPerChange);
        Bounded("pairs", given.New?.Pairs, Bounds.PrefixesPerChange);
        Bounded("also", given.Also, Bounds.TunnelsPerChange);
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

    private static async Task<string> NextCodeAsync(RecordReader reader, Customer customer, CancellationToken ct)
    {
        var numbers = await reader.BeginningNumbersAsync(RecordKind.Change, customer.Code + "-", ct);
        var next = numbers.DefaultIfEmpty(0).Max() + 1;
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
