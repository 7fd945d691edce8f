namespace Vellumkeep.Service.Changes;

/// <summary>What is done with changes, from wish to record. Callable with any clock.</summary>
public sealed class ChangeWork(Databases databases, Keeper keeper, Keys.KeyWork keys, ServiceSettings settings)
{
    /// <summary>Characters of pasted proof: it stands in the record, every version of it.</summary>
    private const int MostProof = 20_000;

    public async Task<string> DraftAsync(Asker asker, DateTimeOffset now, DraftChange given, CancellationToken ct)
    {
        if (string.IsNullOrWhiteSpace(given.Why) || given.Why.Length > 2000)
            throw ProblemException.Field(
                "why",
                "nothing says why",
                "what the change is for, in at most 2,000 characters"
            );
        Bounded("add", given.Add, Bounds.PrefixesPerChange);
        Bounded("reach", given.Reach, Bounds.PrefixesPerChange);
        Bounded("remove", given.Remove, Bounds.PrefixesPerChange);
        Bounded("addOther", given.AddOther, Bounds.PrefixesPerChange);
        Bounded("removeOther", given.RemoveOther, Bounds.PrefixesPerChange);
        Bounded("pairs", given.New?.Pairs, Bounds.PrefixesPerChange);
        Bounded("also", given.Also, Bounds.TunnelsPerChange);
        var wrote = await keeper.WriteAsync(
            new(asker.Name, now, "draft"),
            async (writing, reader) =>
            {
                var (wish, title) = await WishOf(
                    asker,
                    given,
                    writing,
                    reader,
                    DateOnly.FromDateTime(now.UtcDateTime),
                    ct
                );
                var around = await AroundAsync(reader, wish, ct, writing);
                var tunnels = wish.Tunnels.Select(around.Get<Tunnel>).ToArray();
                var owners = tunnels
                    .Select(t => t.CustomerId)
                    .Concat(wish.Gateways.Select(g => around.Get<Site>(around.Get<Gateway>(g).SiteId).CustomerId))
                    .Distinct()
                    .ToImmutableArray();
                foreach (var owner in owners)
                    asker.Need(
                        Role.Engineer,
                        owner,
                        tunnels.FirstOrDefault(t => t.CustomerId == owner)?.Code ?? around.Get<Customer>(owner).Code
                    );
                var plan = PlanOf(around, wish, now, asker.Scope, ct);
                // A gateway's change is its owner's; a tunnel's the tunnel's.
                var customer = around.Get<Customer>(wish.Gateways.IsEmpty ? tunnels[0].CustomerId : owners[^1]);
                var number =
                    (await reader.BeginningNumbersAsync(RecordKind.Change, customer.Code + "-", ct))
                        .DefaultIfEmpty(0)
                        .Max() + 1;
                var code = $"{customer.Code}-{number.ToString("0000", CultureInfo.InvariantCulture)}";
                title = string.IsNullOrWhiteSpace(given.Title)
                    ? title(around) is { Length: > 120 } long_
                        ? _ => long_[..117] + "..."
                        : title
                    : _ => given.Title.Trim();
                if (title(around).Length > 120)
                    throw ProblemException.Field("title", "the title is too long", "at most 120 characters");
                var change = new Change(
                    writing.NewId(),
                    code,
                    title(around),
                    given.Why.Trim(),
                    customer.Id,
                    wish,
                    plan,
                    ChangeState.Draft,
                    WindowOf(given.WindowStart, given.WindowMinutes),
                    asker.Name,
                    [],
                    null,
                    [],
                    [new(ChangeState.Draft, asker.Name, now, null)]
                );
                writing.Put(change with { Customers = owners.Length > 1 ? owners : [] }, 0);
                return code;
            },
            ct
        );
        return wrote.Result;
    }

    private static void Bounded<T>(string field, IReadOnlyCollection<T>? items, int most)
    {
        if (items?.Count > most)
            throw ProblemException.Field(field, $"it has {items.Count:N0} items", $"at most {most} in one change");
    }

    private static Window? WindowOf(DateTimeOffset? start, int? minutes) =>
        start is { } at
            ? at < Bounds.FirstMoment || at >= Bounds.LastMoment
                ? throw ProblemException.Field(
                    "start",
                    $"{at:yyyy-MM-dd} is out of range",
                    $"a day from {Scalars.Write(Scalars.FirstDay)} to {Scalars.Write(Scalars.LastDay)}"
                )
                : minutes is > 0 and <= 1440
                    ? new Window(at, minutes.Value)
                    : throw ProblemException.Field("windowMinutes", "a window needs its length", "minutes, 1 to 1440")
            : null;

    private async Task<(Wish Wish, Func<Inventory, string> Title)> WishOf(
        Asker asker,
        DraftChange given,
        Storage.Writing.Writing writing,
        RecordReader reader,
        DateOnly today,
        CancellationToken ct
    )
    {
        async Task<Tunnel> TunnelAsync(string field, string? code) =>
            string.IsNullOrWhiteSpace(code)
                ? throw ProblemException.Field(field, "no tunnel is named", "the code of a tunnel")
                : (await Find.TunnelAsync(reader, asker.Scope, code, ct)).Record;
        async Task<T> Named<T>(string field, RecordKind kind, string? code)
            where T : class, IRecord =>
            string.IsNullOrWhiteSpace(code)
                ? throw ProblemException.Field(field, $"no {kind.Word()} is named", $"the code of a {kind.Word()}")
                : (await reader.ByCodeAsync<T>(asker.Scope, kind, code.Trim(), ct))?.Record
                    ?? await OnlyAsync<T>(kind, code.Trim());
        // The beginning of a code is enough where one record alone begins so.
        async Task<T> OnlyAsync<T>(RecordKind kind, string code)
            where T : class, IRecord =>
            await reader.BeginningAsync(asker.Scope, kind, code, ct) is { Count: 1 } only
                ? (await reader.ByCodeAsync<T>(asker.Scope, kind, only[0], ct))!.Record
                : throw ProblemException.NotFound(
                    kind.Word(),
                    code,
                    await reader.BeginningAsync(asker.Scope, kind, code, ct)
                );
        Address AddressOf(string field, string? text) =>
            Address.Parse(text ?? "") is { Ok: true } read
                ? read.Value
                : throw ProblemException.Field(
                    field,
                    $"'{Typed.Short(text ?? "")}' is not an address",
                    "an address such as 198.51.100.20"
                );
        var kind = string.IsNullOrWhiteSpace(given.Kind)
            ? "subnets"
            : given.Kind.Trim().ToLowerInvariant().Replace('-', ' ');
        switch (kind)
        {
            case "subnets":
            {
                var tunnel = await TunnelAsync("tunnel", given.Tunnel);
                var end = Find.EndOf(given.End ?? "");
                var around = await reader.AroundAsync([tunnel.Id], false, ct);
                var site = around.Get<Gateway>(tunnel.End(end).GatewayId).SiteId;
                var also = new List<TunnelSide>();
                foreach (var code in given.Also ?? [])
                {
                    // The network lives at one site: on every further tunnel it is the end that stands there.
                    var other = await TunnelAsync("also", code);
                    var beside = await reader.AroundAsync([other.Id], false, ct);
                    EndName? there = Enum.GetValues<EndName>()
                        .Where(e => beside.Get<Gateway>(other.End(e).GatewayId).SiteId == site)
                        .Select(e => (EndName?)e)
                        .FirstOrDefault();
                    also.Add(
                        new(
                            other.Id,
                            there
                                ?? throw ProblemException.Field(
                                    "also",
                                    $"{other.Code} has no end at {around.Get<Site>(site).Name}, where the prefixes are",
                                    $"a tunnel that ends there, or a change of its own for {other.Code}"
                                )
                        )
                    );
                }

                var (addOther, removeOther) = (
                    Prefixes("addOther", given.AddOther),
                    Prefixes("removeOther", given.RemoveOther)
                );
                if (!addOther.IsEmpty || !removeOther.IsEmpty)
                    also.Add(new(tunnel.Id, end.Other()) { Add = addOther, Remove = removeOther });
                var wish = new SubnetsWish(tunnel.Id, end, Prefixes("add", given.Add), Prefixes("reach", given.Reach))
                {
                    Remove = Prefixes("remove", given.Remove),
                    Also = [.. also],
                };
                return (wish, inventory =>
                {
                    var near = inventory.Get<Site>(site);
                    string Names(ImmutableArray<Prefix> list) =>
                        Say.And(list.Select(p => near.NameOf(p) ?? p.ToString()));
                    var what = Say.And(
                        new[]
                        {
                            wish.Add.IsEmpty ? "" : $"add {Names(wish.Add)} to",
                            wish.Remove.IsEmpty ? "" : $"take {Names(wish.Remove)} out of",
                            wish.Add.IsEmpty && wish.Remove.IsEmpty ? $"move subnets on side {end.Other()} of" : "",
                        }.Where(t => t.Length > 0)
                    );
                    return Say.Capital($"{what} {Say.And(wish.Tunnels.Select(id => inventory.Get<Tunnel>(id).Code))}");
                });
            }

            case "new tunnel":
            {
                if (given.New is not { } idea)
                {
                    var planned = await TunnelAsync("tunnel", given.Tunnel);
                    return (new NewTunnelWish(planned.Id), _ => $"Build {planned.Code}");
                }

                var (a, b) = (
                    await Named<Gateway>("gatewayA", RecordKind.Gateway, idea.GatewayA),
                    await Named<Gateway>("gatewayB", RecordKind.Gateway, idea.GatewayB)
                );
                var inventory = await BetweenAsync(reader, a, b, ct);
                var customer = idea.Customer is { } named
                    ? await Named<Customer>("customer", RecordKind.Customer, named)
                    : inventory.Get<Customer>(inventory.Get<Site>(a.SiteId).CustomerId);
                var suite = given.Suite is null ? null : await Named<Suite>("suite", RecordKind.Suite, given.Suite);
                await Records.Ownership.NeedFreeAsync(
                    asker,
                    reader,
                    RecordKind.Tunnel,
                    idea.Code ?? "",
                    null,
                    "code",
                    ct
                );
                var pairs = (idea.Pairs ?? []).Select(PairOf).ToImmutableArray();
                ImmutableArray<string> Uplink(Gateway g, string? label, string field) =>
                    label is null ? []
                    : g.Uplinks.Any(u => u.Label == label) ? [label]
                    : throw ProblemException.Field(
                        field,
                        $"{g.Code} has no uplink '{Typed.Short(label)}'",
                        string.Join(", ", g.Uplinks.Select(u => u.Label))
                    );
                var name = string.IsNullOrWhiteSpace(idea.Name)
                    ? $"{inventory.Get<Site>(a.SiteId).Name} to {inventory.Get<Site>(b.SiteId).Name}"
                    : idea.Name.Trim();
                var (made, refused) = NewTunnel.Design(
                    suite is null ? inventory : inventory.With(suite),
                    writing.NewId(),
                    new(
                        (idea.Code ?? "").Trim(),
                        customer.Id,
                        name,
                        a.Id,
                        b.Id,
                        Uplink(a, idea.UplinkA, "uplinkA"),
                        Uplink(b, idea.UplinkB, "uplinkB"),
                        pairs,
                        suite?.Id
                    ),
                    today
                );
                if (made is null)
                    throw Unplanned(refused, asker.Scope);
                asker.Need(Role.Engineer, customer.Id, made.Code);
                await Records.Ownership.NeedEndsAsync(asker, reader, null, made, _ => null, ct);
                writing.Put(made, 0);
                return (new NewTunnelWish(made.Id), _ => $"Build {made.Code}");
            }

            case "rekey":
            {
                var tunnels = new List<Tunnel>();
                foreach (var code in (given.Also ?? []).Prepend(given.Tunnel!).OfType<string>())
                    tunnels.Add(await TunnelAsync("tunnel", code));
                return (new RekeyWish([.. tunnels.Select(t => t.Id).Distinct()]), _ =>
                    $"New key for {Say.And(tunnels.Select(t => t.Code).Distinct())}"
                );
            }

            case "strengthen":
            {
                var tunnel = await TunnelAsync("tunnel", given.Tunnel);
                var suite = given.Suite is null ? null : await Named<Suite>("suite", RecordKind.Suite, given.Suite);
                return (new StrengthenWish(tunnel.Id, suite?.Id), _ =>
                    $"Strengthen {tunnel.Code}{(suite is null ? "" : $" to {suite.Code}")}"
                );
            }

            case "replace platform":
            {
                var gateway = await Named<Gateway>("gateway", RecordKind.Gateway, given.Gateway);
                var platform = await Named<Platform>("platform", RecordKind.Platform, given.Platform);
                var on = await reader.OnGatewayAsync(gateway.Id, ct);
                return (
                    new PlatformWish(
                        gateway.Id,
                        platform.Id,
                        [
                            .. on.Where(t => t.State != TunnelState.Planned)
                                .OrderBy(t => t.Code, StringComparer.OrdinalIgnoreCase)
                                .Select(t => t.Id),
                        ]
                    )
                    {
                        Beside = given.Beside is null
                            ? null
                            : await FreeAsync(
                                writing,
                                reader,
                                asker,
                                "beside",
                                AddressOf("beside", given.Beside),
                                gateway.Id,
                                ct
                            ),
                    },
                    _ => $"Move {gateway.Code} to {platform.Title}"
                );
            }

            case "address move":
            {
                var gateway = await Named<Gateway>("gateway", RecordKind.Gateway, given.Gateway);
                var uplink = given.Uplink ?? gateway.Uplinks.FirstOrDefault()?.Label ?? "";
                var on = (await reader.OnGatewayAsync(gateway.Id, ct)).Where(t =>
                    t.State != TunnelState.Planned
                    && new[] { t.A, t.B }.Any(e =>
                        e.GatewayId == gateway.Id && (e.Uplinks.IsEmpty || e.Uplinks.Contains(uplink))
                    )
                );
                return (
                    new AddressWish(
                        gateway.Id,
                        uplink,
                        await FreeAsync(
                            writing,
                            reader,
                            asker,
                            "address",
                            AddressOf("address", given.Address),
                            gateway.Id,
                            ct
                        ),
                        [.. on.OrderBy(t => t.Code, StringComparer.OrdinalIgnoreCase).Select(t => t.Id)]
                    ),
                    _ => $"New outer address for {gateway.Code} {uplink}"
                );
            }

            case "retire":
            {
                var tunnel = await TunnelAsync("tunnel", given.Tunnel);
                return (new RetireWish(tunnel.Id), _ => $"Retire {tunnel.Code}");
            }

            case "free":
            {
                var tunnel = await TunnelAsync("tunnel", given.Tunnel);
                var steps = (given.Steps ?? [])
                    .Select(
                        (s, i) =>
                            new FreeStep(
                                Enum.TryParse<Part>(s.Part, true, out var part)
                                    ? part
                                    : throw ProblemException.Field(
                                        $"steps[{i + 1}].part",
                                        $"'{Typed.Short(s.Part ?? "")}' is not a part of a run sheet",
                                        "prepare, safeguard, build, switch, prove or record"
                                    ),
                                Enum.TryParse<Where>(s.Where, true, out var where)
                                    ? where
                                    : throw ProblemException.Field(
                                        $"steps[{i + 1}].where",
                                        $"'{Typed.Short(s.Where ?? "")}' is not a place",
                                        "A, B or us"
                                    ),
                                string.IsNullOrWhiteSpace(s.Do) || s.Do.Length > 400
                                    ? throw ProblemException.Field(
                                        $"steps[{i + 1}].do",
                                        "nothing says what to do",
                                        "one sentence of at most 400 characters"
                                    )
                                    : s.Do.Trim().Replace('{', '(').Replace('}', ')'),
                                s.Minutes is null ? 5
                                    : s.Minutes is > 0 and <= 600 ? s.Minutes.Value
                                    : throw ProblemException.Field(
                                        $"steps[{i + 1}].minutes",
                                        "a step takes 1 to 600 minutes",
                                        "a whole number"
                                    ),
                                s.Stops,
                                s.Undo
                            )
                    )
                    .ToImmutableArray();
                return (new FreeWish(tunnel.Id, steps), _ => $"Work on {tunnel.Code}");
            }

            default:
                throw ProblemException.Field(
                    "kind",
                    $"'{Typed.Short(kind)}' is not a kind of change",
                    "subnets, new tunnel, rekey, strengthen, replace platform, address move, retire or free"
                );
        }
    }

    /// <summary>
    /// Refuses an outer address that another gateway shows, wherever in the fleet; it is named to whoever may see it.
    /// </summary>
    private static async Task<Address> FreeAsync(
        Storage.Writing.Writing writing,
        RecordReader reader,
        Asker asker,
        string field,
        Address address,
        string but,
        CancellationToken ct
    )
    {
        if (await new GatewayList(writing.Read).AtOuterAsync(Scope.Everything, address, ct) is { } id && id != but)
        {
            var there = (await reader.ByIdAsync<Gateway>(asker.Scope, id, ct))?.Record.Code;
            throw ProblemException.Field(
                field,
                $"{address} is the outer address of {there ?? "another customer's gateway"}",
                there is null ? "another address" : $"another address, or correct {there} first"
            );
        }

        return address;
    }

    private static SubnetPair PairOf(string text)
    {
        var parts = text.Split([" - ", ","], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        if (parts.Length != 2)
            throw ProblemException.Field(
                "pairs",
                $"'{Typed.Short(text)}' is not a pair",
                "an A-side and a B-side prefix, such as 10.50.0.0/24 - 10.51.0.0/24"
            );
        var (a, b) = (Prefixes("pairs", [parts[0]])[0], Prefixes("pairs", [parts[1]])[0]);
        return a.Family == b.Family
            ? new(a, b)
            : throw ProblemException.Field(
                "pairs",
                $"{a} and {b} are of different families",
                "two IPv4 or two IPv6 prefixes"
            );
    }

    /// <summary>
    /// What two gateways stand among: their sites, platforms, owners, and the tunnels that end on them.
    /// </summary>
    private static async Task<Inventory> BetweenAsync(RecordReader reader, Gateway a, Gateway b, CancellationToken ct)
    {
        var on = (await reader.OnGatewayAsync(a.Id, ct))
            .Concat(await reader.OnGatewayAsync(b.Id, ct))
            .Select(t => t.Id)
            .Distinct()
            .ToArray();
        var around = await reader.AroundAsync(on, true, ct);
        var more = new List<IRecord> { a, b };
        foreach (var gateway in new[] { a, b })
        {
            var site = (await reader.ByIdAsync<Site>(Scope.Everything, gateway.SiteId, ct))!.Record;
            more.AddRange([
                site,
                (await reader.ByIdAsync<Platform>(Scope.Everything, gateway.PlatformId, ct))!.Record,
                (await reader.ByIdAsync<Customer>(Scope.Everything, site.CustomerId, ct))!.Record,
            ]);
        }

        return around.With(more);
    }

    /// <summary>
    /// Everything a wish is computed from: its tunnels and all others on their gateways, the gateways, and the platform
    /// or suite that is wished for.
    /// </summary>
    public static async Task<Inventory> AroundAsync(
        RecordReader reader,
        Wish wish,
        CancellationToken ct,
        Storage.Writing.Writing? writing = null
    )
    {
        // A tunnel that this very writing puts is not in the database yet.
        var put = wish.Tunnels.Select(id => writing?.PutUnder(id)).OfType<Tunnel>().ToArray();
        var around = await reader.AroundAsync(wish.Tunnels, true, ct);
        foreach (var tunnel in put)
            around = around.With(
                (
                    await BetweenAsync(
                        reader,
                        (await reader.ByIdAsync<Gateway>(Scope.Everything, tunnel.A.GatewayId, ct))!.Record,
                        (await reader.ByIdAsync<Gateway>(Scope.Everything, tunnel.B.GatewayId, ct))!.Record,
                        ct
                    )
                ).All.Append(tunnel)
            );
        foreach (
            var (id, kind) in new[]
            {
                ((wish as PlatformWish)?.PlatformId, RecordKind.Platform),
                ((wish as StrengthenWish)?.SuiteId, RecordKind.Suite),
            }
                .Concat(put.Select(t => (t.Agreed.SuiteId, RecordKind.Suite)))
                .Concat(put.Select(t => ((string?)t.CustomerId, RecordKind.Customer)))
        )
            if (id is not null && await reader.ByIdAsync<IRecord>(Scope.Everything, id, ct) is { } found)
                around = around.With(found.Record);
        return around;
    }

    public Task SubmitAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        StepAsync(asker, now, "submit", code, null, (c, _, _) => ChangeLife.Submit(c, asker.Name, now), ct);

    /// <summary>Approves the version that was seen, and no other.</summary>
    public Task ApproveAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        string? remark,
        CancellationToken ct
    ) =>
        StepAsync(
            asker,
            now,
            "approve",
            code,
            version,
            (c, around, _) => ChangeLife.Approve(c, asker.Name, now, remark, ChangeLife.Moved(c, around)),
            ct
        );

    public Task ReturnAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        string? remark,
        int? step,
        CancellationToken ct
    )
    {
        if (string.IsNullOrWhiteSpace(remark))
            throw ProblemException.Field("remark", "nothing says what to mend", "a remark for the author");
        return StepAsync(
            asker,
            now,
            "return",
            code,
            null,
            (c, _, _) => ChangeLife.Return(c, asker.Name, now, remark.Trim(), step is { } n ? KeyOf(c, n) : null),
            ct
        );
    }

    public Task BeginAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        StepAsync(
            asker,
            now,
            "begin",
            code,
            null,
            (c, around, _) => ChangeLife.Begin(c, asker.Name, now, ChangeLife.Moved(c, around)),
            ct
        );

    public Task WindowAsync(Asker asker, DateTimeOffset now, string code, WindowGiven given, CancellationToken ct)
    {
        return StepAsync(
            asker,
            now,
            given.Start is null && given.Wall is null ? "clear window" : "set window",
            code,
            null,
            (c, around, _) =>
                (
                    given.Wall is { Length: > 0 } wall
                        ? WindowOf(AtSite(around, c, given.End, wall), given.Minutes)
                        : WindowOf(given.Start, given.Minutes)
                )
                    is var window
                && c.Open
                    ? new(c with { Window = window }, null)
                    : new(
                        null,
                        new(
                            null,
                            $"{c.Code} is {Change.States.Of(c.State):w} and needs no window.",
                            $"Only an open change has one."
                        )
                    ),
            ct
        );
    }

    /// <summary>A time on the wall at the site of an end of the change's first tunnel.</summary>
    private static DateTimeOffset AtSite(Inventory around, Change change, string? end, string wall)
    {
        var tunnel = around.Get<Tunnel>(change.Wish.Tunnels[0]);
        var site = around.Get<Site>(around.Get<Gateway>(tunnel.End(Find.EndOf(end ?? "A")).GatewayId).SiteId);
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(site.TimeZone, out var zone))
            throw ProblemException.Field(
                "wall",
                $"the time zone {site.TimeZone} of {site.Name} is not known on this machine",
                "a time with its offset, such as 2026-11-27T21:00+00:00"
            );
        var at = WallTime.In(wall, zone);
        return at.Ok ? at.Value : throw ProblemException.Field("wall", at.Wrong!, at.Right!);
    }

    public Task RemarkAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        string? remark,
        int? step,
        string? value,
        CancellationToken ct
    )
    {
        if (string.IsNullOrWhiteSpace(remark) || remark.Length > 2000)
            throw ProblemException.Field("remark", "nothing is said", "a remark of at most 2,000 characters");
        return StepAsync(
            asker,
            now,
            "remark",
            code,
            null,
            (c, _, _) => ChangeLife.Remarked(c, asker.Name, now, remark, step is { } n ? KeyOf(c, n) : null, value),
            ct
        );
    }

    /// <summary>
    /// Asks a second person to let urgent work begin. They have to be somebody who may see and approve this change, and
    /// it begins when they say so themselves.
    /// </summary>
    public Task AskUrgentAsync(Asker asker, DateTimeOffset now, string code, UrgentGiven given, CancellationToken ct)
    {
        var named = SignIns.Fold(given.Named);
        return StepAsync(
            asker,
            now,
            "ask to begin urgently",
            code,
            null,
            async (c, _, reader) =>
            {
                var asked = ChangeLife.AskUrgently(c, asker.Name, now, named, given.Why ?? "");
                if (asked.Refused is null && !await MayApproveAsync(reader, c, named, ct))
                    throw ProblemException.Field(
                        "named",
                        $"'{Typed.Short(named)}' is nobody who may approve {c.Code}",
                        "the sign-in name of a second person with the role reviewer for everything that it is about"
                    );
                return asked;
            },
            ct
        );
    }

    /// <summary>The person who was asked lets the work begin, for the version that they read.</summary>
    public Task ConfirmUrgentAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int version,
        string? remark,
        CancellationToken ct
    ) =>
        StepAsync(
            asker,
            now,
            "confirm urgent work",
            code,
            version,
            (c, around, _) =>
                Task.FromResult(
                    ChangeLife.ConfirmUrgently(
                        c,
                        asker.Name,
                        now,
                        remark,
                        now.AddHours(settings.ReviewWithinHours),
                        ChangeLife.Moved(c, around)
                    )
                ),
            ct
        );

    private static async Task<bool> MayApproveAsync(
        RecordReader reader,
        Change change,
        string name,
        CancellationToken ct
    ) =>
        await reader.ByCodeAsync<Person>(Scope.Everything, RecordKind.Person, name, ct)
            is { Record: { Left: null } person }
        && new Asker(person.Code, person.Name, person.Grants) is var they
        && change.AllCustomers.All(owner => they.Is(Role.Reviewer, owner));

    public Task ReviewAfterAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) =>
        StepAsync(
            asker,
            now,
            "review afterwards",
            code,
            null,
            (c, _, _) => ChangeLife.ReviewAfter(c, asker.Name, now, remark),
            ct
        );

    /// <summary>
    /// Writes a value that was pending into the record that waited for it, and computes anew what depends on it.
    /// </summary>
    public async Task FillAsync(Asker asker, DateTimeOffset now, string code, FillGiven given, CancellationToken ct)
    {
        var id = await IdAsync(asker, code, ct);
        await keeper.WriteAsync(
            new(asker.Name, now, "fill in", null, id),
            async (writing, reader) =>
            {
                var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
                Need(asker, Role.Engineer, kept.Record);
                var change = kept.Record;
                if (given.Number < 1 || given.Number > change.Plan.Pending.Length)
                    throw ProblemException.Field(
                        "number",
                        change.Plan.Pending.IsEmpty
                            ? $"nothing of {change.Code} is pending"
                            : $"{change.Code} has no pending value {given.Number}",
                        change.Plan.Pending.IsEmpty ? "nothing to fill in" : $"1 to {change.Plan.Pending.Length}"
                    );
                var pending = change.Plan.Pending[given.Number - 1];
                var around = await AroundAsync(reader, change.Wish, ct);
                IRecord record =
                    pending.At.Kind == RecordKind.Gateway
                        ? around.Get<Gateway>(pending.At.RecordId)
                        : around.Get<Tunnel>(pending.At.RecordId);
                var (made, problems) = RecordBody.Read(
                    record.Kind,
                    record.Id,
                    Edits.Put(RecordBody.Form(record), pending.At.Path, (given.Value ?? "").Trim())
                );
                if (made is null)
                    throw ProblemException.Field("value", problems[0].Wrong, problems[0].Right);
                foreach (var outer in (made as Gateway)?.Uplinks.Select(u => u.Outer).OfType<Address>() ?? [])
                    await FreeAsync(writing, reader, asker, "value", outer, made.Id, ct);
                var ground = around.With(made);
                var (next, refused) = ChangeLife.Fill(
                    change,
                    PlanOf(ground, change.Wish, now, asker.Scope, ct),
                    pending,
                    given.Value!.Trim(),
                    asker.Name,
                    now
                );
                writing.Put(made);
                writing.Put(next ?? throw Refuse(refused!, asker.Scope), kept.Version);
                return true;
            },
            ct
        );
    }

    public Task RecomputeAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct) =>
        StepAsync(
            asker,
            now,
            "recompute",
            code,
            null,
            (c, around, _) =>
                ChangeLife.Recompute(
                    c,
                    PlanOf(around, c.Wish, now, asker.Scope, ct),
                    asker.Name,
                    now,
                    "recomputed because what it rests on had moved"
                ),
            ct
        );

    public Task DropAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) =>
        StepAsync(asker, now, "drop", code, null, (c, _, _) => ChangeLife.Drop(c, asker.Name, now, remark), ct);

    public Task BackOutAsync(Asker asker, DateTimeOffset now, string code, string? remark, CancellationToken ct) =>
        StepAsync(asker, now, "back out", code, null, (c, _, _) => ChangeLife.BackOut(c, asker.Name, now, remark), ct);

    public async Task AttemptAsync(
        Asker asker,
        DateTimeOffset now,
        string code,
        int step,
        AttemptStep given,
        CancellationToken ct
    )
    {
        var outcome = Change.Outcomes.Parse(given.Outcome ?? "");
        if (!outcome.Ok)
            throw ProblemException.Field("outcome", outcome.Wrong!, outcome.Right!);
        if (given.Proof is { Length: > MostProof } long_)
            throw ProblemException.Field(
                "proof",
                $"it has {long_.Length:N0} characters",
                $"at most {MostProof:N0}; what is longer goes as a file"
            );
        var file = given.File is null ? null : ProofFiles.Read(given.File);
        await keys.RefuseAsync(
            asker,
            code,
            [
                ("remark", given.Remark),
                ("set", given.Set),
                ("reason", given.Reason),
                ("proof", given.Proof),
                ("file.name", given.File?.Name),
            ],
            file is null ? null : ("file", file.Bytes),
            ct
        );
        await StepAsync(
            asker,
            now,
            "step",
            code,
            null,
            (c, _, _) =>
            {
                var key = KeyOf(c, step);
                var does = c.Plan.Steps[step - 1];
                // A deviation names what was set; what was planned may be left out where the step enters one prefix
                // only.
                var planned = given.Planned
                    ?? (
                        given.Set is null ? null
                        : (
                            does.Enter.Select(v => v.Text).Distinct().Where(t => Prefix.Parse(t).Ok).ToArray()
                                is [var only]
                                ? only
                            : does.Enter.Select(v => v.Text).Distinct().ToArray() is [var sole] ? sole
                            : null
                        )
                            is { } one
                            ? one
                        : throw ProblemException.Field(
                            "planned",
                            $"step {step} enters several values",
                            $"which one was set otherwise: {Say.And(does.Enter.Select(v => v.Text).Distinct())}"
                        )
                    );
                return ChangeLife.Attempt(
                    c,
                    key,
                    outcome.Value,
                    asker.Name,
                    now,
                    given.Remark,
                    given.Set is null ? null : new(planned!, Canonical(given.Set), given.Reason ?? ""),
                    given.Proof,
                    file?.Line
                );
            },
            ct,
            beside: file is null ? null : (context, change) => ProofFiles.KeepAsync(context, change.Id, file, ct)
        );
    }

    public async Task CloseAsync(Asker asker, DateTimeOffset now, string code, CancellationToken ct)
    {
        var id = await IdAsync(asker, code, ct);
        await keeper.WriteAsync(
            new(asker.Name, now, "close", null, id),
            async (writing, reader) =>
            {
                var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
                Need(asker, Role.Engineer, kept.Record);
                var around = await AroundAsync(reader, kept.Record.Wish, ct);
                var (closed, refused) = ChangeLife.Close(kept.Record, around, asker.Name, now);
                if (closed is null)
                    throw Refuse(refused!, asker.Scope);
                writing.Put(closed.Change, kept.Version);
                foreach (var record in closed.AsBuilt)
                    writing.Put(record);
                writing.Beside(context => Keys.KeyWork.ClosedAsync(context, closed.Change, closed.AsBuilt, ct));
                return true;
            },
            ct
        );
    }

    private async Task<string> IdAsync(Asker asker, string code, CancellationToken ct)
    {
        await using var context = databases.Open();
        return (await Find.ChangeAsync(new(context), asker.Scope, code, ct)).Record.Id;
    }

    private Task StepAsync(
        Asker asker,
        DateTimeOffset now,
        string what,
        string code,
        int? version,
        Func<Change, Inventory, RecordReader, Next<Change>> next,
        CancellationToken ct,
        Func<KeepContext, Change, Task>? beside = null
    ) =>
        StepAsync(
            asker,
            now,
            what,
            code,
            version,
            (change, around, reader) => Task.FromResult(next(change, around, reader)),
            ct,
            beside
        );

    private async Task StepAsync(
        Asker asker,
        DateTimeOffset now,
        string what,
        string code,
        int? version,
        Func<Change, Inventory, RecordReader, Task<Next<Change>>> next,
        CancellationToken ct,
        Func<KeepContext, Change, Task>? beside = null
    )
    {
        var id = await IdAsync(asker, code, ct);
        await keeper.WriteAsync(
            new(asker.Name, now, what, null, id),
            async (writing, reader) =>
            {
                var kept = (await reader.ByIdAsync<Change>(asker.Scope, id, ct))!;
                if (what == "remark")
                    Need(asker, asker.Is(Role.Reviewer) ? Role.Reviewer : Role.Engineer, kept.Record);
                else
                    Need(
                        asker,
                        what is "approve" or "return" or "review afterwards" or "confirm urgent work"
                            ? Role.Reviewer
                            : Role.Engineer,
                        kept.Record
                    );
                if (version is { } seen && seen != kept.Version)
                    throw new ConflictException(id, seen, kept.Version);
                var around = await AroundAsync(reader, kept.Record.Wish, ct);
                var (change, refused) = await next(kept.Record, around, reader);
                writing.Put(change ?? throw Refuse(refused!, asker.Scope), kept.Version);
                if (beside is not null)
                    writing.Beside(context => beside(context, change));
                return true;
            },
            ct
        );
    }

    private static void Need(Asker asker, Role role, Change change)
    {
        foreach (var owner in change.AllCustomers)
            asker.Need(role, owner, change.Code);
    }

    private static Plan PlanOf(Inventory around, Wish wish, DateTimeOffset now, Scope scope, CancellationToken ct)
    {
        var planned = Planner.Plan(around, wish, DateOnly.FromDateTime(now.UtcDateTime), ct);
        return planned.Plan ?? throw Unplanned(planned.Refused, scope);
    }

    private static ProblemException Unplanned(ImmutableArray<Refusal> refused, Scope scope) =>
        new ProblemException(
            422,
            "cannot-be-planned",
            "This cannot be planned",
            string.Join(
                " ",
                refused.Take(3).Select(r => $"{r.Wrong.Show(scope.Sees).Text} {r.Right.Show(scope.Sees).Text}")
            )
        )
            .With("field", refused[0].Field)
            .With("findings", refused.Select(r => r.Code).OfType<string>().Distinct());

    private static ProblemException Refuse(Refused refused, Scope scope) =>
        new ProblemException(
            409,
            "refused",
            "Refused",
            $"{refused.Wrong.Show(scope.Sees).Text} {refused.Right.Show(scope.Sees).Text}"
        ).With("findings", refused.Code is { } code ? new[] { code } : []);

    private static string KeyOf(Change c, int number) =>
        number >= 1 && number <= c.Plan.Steps.Length
            ? c.Plan.Steps[number - 1].Key
            : throw ProblemException.Field("step", $"{c.Code} has no step {number}", $"1 to {c.Plan.Steps.Length}");

    private static string Canonical(string value) =>
        Prefix.Parse(value) is { Ok: true } prefix ? prefix.Value.ToString() : value.Trim();

    private static ImmutableArray<Prefix> Prefixes(string field, IReadOnlyList<string>? texts)
    {
        var result = ImmutableArray.CreateBuilder<Prefix>();
        foreach (var text in texts ?? [])
        {
            var read = Prefix.Parse(text ?? "");
            result.Add(
                read.Ok
                    ? read.Value
                    : throw ProblemException
                        .Field(field, read.Wrong!, read.Right!)
                        .With(
                            "findings",
                            read.Wrong!.Contains("ADR-01", StringComparison.Ordinal) ? new[] { "ADR-01" } : []
                        )
            );
        }

        return result.ToImmutable();
    }
}
