using Vellumkeep.Client;
using Vellumkeep.Contract;
using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Fixes;
using Vellumkeep.Core.Records;
using Vellumkeep.Core.Resolution;
using Vellumkeep.Core.Wording;
using Vellumkeep.Exchange.Keepfiles;
using Vellumkeep.Views;

namespace Vellumkeep.Cli.Terminal;

/// <summary>
/// What can be read of tunnels: from a service, or from a keepfile alone. The same answers in the same form.
/// </summary>
internal interface IFacts : IDisposable
{
    Task<TunnelPage> TunnelAsync(string code, CancellationToken ct, string? on = null);

    /// <param name="with">Values to try, as though they were set; nothing is kept.</param>
    Task<RehearsalPage> RehearsalAsync(string code, IReadOnlyList<FixValueLine> with, CancellationToken ct);

    Task<IReadOnlyList<FindingPage>> FindingsAsync(
        string? tunnel,
        string? gateway,
        string? customer,
        string? code,
        string? severity,
        CancellationToken ct
    );

    Task<CommonResult> CommonAsync(string a, string b, string? version, CancellationToken ct);
}

internal sealed class ServiceFacts(KeepClient client) : IFacts
{
    public Task<TunnelPage> TunnelAsync(string code, CancellationToken ct, string? on = null) =>
        client.TunnelAsync(code, ct, on);

    public Task<RehearsalPage> RehearsalAsync(string code, IReadOnlyList<FixValueLine> with, CancellationToken ct) =>
        with.Count == 0 ? client.RehearsalAsync(code, ct) : client.RehearseAsync(new(null, code, with), ct);

    public Task<IReadOnlyList<FindingPage>> FindingsAsync(
        string? tunnel,
        string? gateway,
        string? customer,
        string? code,
        string? severity,
        CancellationToken ct
    ) => client.FindingsAsync(tunnel, customer, code, severity, ct, gateway);

    public Task<CommonResult> CommonAsync(string a, string b, string? version, CancellationToken ct) =>
        client.CommonAsync(a, b, version, ct);

    public void Dispose() => client.Dispose();
}

/// <summary>A keepfile on its own: on a train, or in a pipeline.</summary>
internal sealed class FileFacts : IFacts
{
    private readonly Inventory inventory;
    private readonly DateOnly today = DateOnly.FromDateTime(DateTime.UtcNow);

    private FileFacts(Inventory inventory) => this.inventory = inventory;

    /// <summary>Several files may be given, parted by commas: later ones refer to earlier ones.</summary>
    public static FileFacts Read(string files, TextReader given)
    {
        var names = new Core.Forms.CodeNames();
        var inventory = Inventory.Empty;
        foreach (var file in files.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            if (file != "-" && !File.Exists(file))
                throw new Refusal(3, $"There is no file {file}.");
            var so_far = inventory;
            var read = Keepfile.Read(
                file == "-" ? given.ReadToEnd() : File.ReadAllText(file),
                names,
                id => so_far.Find<Gateway>(id),
                null
            );
            if (read.Problems is [var first, ..])
                throw new Refusal(
                    2,
                    string.Join(
                        "\n",
                        read.Problems.Take(20)
                            .Select(p => $"{file} line {p.Line}, {p.Field}: {p.Wrong}. Expected: {p.Right}.")
                    )
                );
            inventory = inventory.With(read.Records);
        }

        return new(inventory);
    }

    public Task<TunnelPage> TunnelAsync(string code, CancellationToken ct, string? on = null) =>
        on is not null
            ? throw new Refusal(2, "A keepfile alone has no history. Leave out --as-of, or ask the service.")
            : Task.FromResult(TunnelPages.Make(View(code), Beside.Nothing, _ => true));

    public Task<RehearsalPage> RehearsalAsync(string code, IReadOnlyList<FixValueLine> with, CancellationToken ct)
    {
        var view = View(code);
        foreach (var v in with)
        {
            var made = ConfirmingValues
                .RowOf(v.Row)
                .Then(row => FixFinder.Tried(view, new(Enum.Parse<EndName>(v.End), row, v.Value)));
            if (!made.Ok)
                throw new Refusal(2, $"{v.Row}: {made.Wrong}. Expected: {made.Right}.");
            view = new(inventory.With([made.Value]), made.Value, today);
        }

        return Task.FromResult(RehearsalPages.Make(view, _ => true));
    }

    public Task<IReadOnlyList<FindingPage>> FindingsAsync(
        string? tunnel,
        string? gateway,
        string? customer,
        string? code,
        string? severity,
        CancellationToken ct
    )
    {
        if (severity is not null && Severities.Words.Parse(severity) is { Ok: false } bad)
            throw new Refusal(2, $"Severity: {bad.Wrong}. Expected: {bad.Right}.");
        if (code is not null && Checks.CodeOf(code) is { Ok: false } unknown)
            throw new Refusal(2, $"Code: {unknown.Wrong}. Expected: {unknown.Right}.");
        var at = gateway is null ? null : Find<Gateway>("gateway", gateway).Id;
        var owner = customer is null ? null : Find<Customer>("customer", customer).Id;
        IEnumerable<TunnelView> views = tunnel is not null
            ? [View(tunnel)]
            : inventory
                .Tunnels.Where(t =>
                    (at is null || t.A.GatewayId == at || t.B.GatewayId == at)
                    && (owner is null || t.CustomerId == owner)
                )
                .Select(t => new TunnelView(inventory, t, today));
        return Task.FromResult<IReadOnlyList<FindingPage>>([
            .. views
                .SelectMany(v => Checks.Run(new(v)).Select(f => (f, v.Tunnel.Code)))
                .Where(x =>
                    (code is null || x.f.Code.Equals(code, StringComparison.OrdinalIgnoreCase))
                    && (
                        severity is null
                        || Severities.Words.Of(x.f.Severity).Equals(severity, StringComparison.OrdinalIgnoreCase)
                    )
                )
                .OrderBy(x => x.f.Severity)
                .ThenBy(x => x.Code, StringComparer.OrdinalIgnoreCase)
                .ThenBy(x => x.f.Code, StringComparer.Ordinal)
                .Select(x => x.f.Show(x.Code, _ => true)),
        ]);
    }

    public Task<CommonResult> CommonAsync(string a, string b, string? version, CancellationToken ct)
    {
        var v = CalculationPages.VersionOf(version);
        if (!v.Ok)
            throw new Refusal(2, $"{v.Wrong}. Expected: {v.Right}.");
        var (x, y) = (PlatformOf(a), PlatformOf(b));
        return Task.FromResult(CalculationPages.Common(x.Title, x, y.Title, y, v.Value));
    }

    public void Dispose() { }

    private TunnelView View(string code) => new(inventory, Find<Tunnel>("tunnel", code), today);

    private Platform PlatformOf(string code) =>
        inventory.ByCode<Gateway>(code) is { } g
            ? inventory.Get<Platform>(g.PlatformId)
            : Find<Platform>("platform profile", code);

    private T Find<T>(string kind, string code)
        where T : class, IRecord
    {
        if (inventory.ByCode<T>(code) is { } found)
            return found;
        var near = NearCodes.Among(inventory.All.OfType<T>().Select(r => r.Code), code);
        return near.Meant(code) is { } meant
            ? inventory.ByCode<T>(meant)!
            : throw new Refusal(3, near.Refusal(kind, code));
    }
}
