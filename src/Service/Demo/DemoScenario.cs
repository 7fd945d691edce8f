using System.Text.RegularExpressions;
using Vellumkeep.Service.Changes;
using Vellumkeep.Service.Imports;
using Vellumkeep.Service.Tunnels;

namespace Vellumkeep.Service.Demo;

/// <summary>
/// Loads the demo by living through it: real imports, corrections, drafts, reviews, attempts and closings on past days,
/// through the same code that a user's calls run through.
/// </summary>
public sealed partial class DemoScenario(
    Databases databases,
    PeopleStore people,
    Importing importing,
    TunnelWork tunnels,
    ChangeDrafting drafting,
    ChangeWork changes,
    Records.RecordWork records,
    Keys.KeyWork keys
)
{
    /// <summary>
    /// The demo's people; their passwords are refused outside demo mode, because nobody is made outside it.
    /// </summary>
    public static readonly ImmutableArray<(string Name, string Display, string Password, Role[] Roles)> People =
    [
        ("ines", "Ines", "cold-store-1", [Role.Engineer]),
        ("tomas", "Tomas", "cold-store-2", [Role.Engineer, Role.Reviewer]),
        ("odile", "Odile", "cold-store-3", [Role.Lead]),
        ("bram", "Bram", "cold-store-4", [Role.Reader]),
        ("maud-audit", "Maud", "cold-store-5", [Role.Reader]),
    ];

    private static readonly Asker Odile = Asker.Of("odile", "Odile", Role.Lead);
    private static readonly Asker Ines = Asker.Of("ines", "Ines", Role.Engineer);
    private static readonly Asker Tomas = Asker.Of("tomas", "Tomas", Role.Engineer, Role.Reviewer);

    /// <summary>Loads the keepfiles of a folder and lives through what happened since, up to now.</summary>
    public async Task LoadAsync(string folder, DateTimeOffset now, CancellationToken ct)
    {
        var days = new DemoDays(now);
        await ImportAsync(folder, days, ct);
        await AddPeopleAsync(days, ct);
        // In the order of its days: history goes forward.
        await KeyMadeElsewhereAsync(days, ct);
        await PerrinLeavesAsync(days, ct);
        await ScannersWithDeviationAsync(days, ct);
        await CorrectedAtPethermeadAsync(days, ct);
        await CamerasBackedOutAsync(days, ct);
        var logs = await SaltmarshAndLogStoreAsync(days, ct);
        await ColdStoreAsync(days, ct);
        await SecondEndpointAndMainHallAsync(days, ct);
        await LogStoreAtFailedStepAsync(logs, days, ct);
    }

    private async Task ImportAsync(string folder, DemoDays days, CancellationToken ct)
    {
        string[] files = [.. Directory.GetFiles(folder, "*.yaml").OrderBy(Place)];
        for (var i = 0; i < files.Length; i++)
            await importing.ImportAsync(
                i == 0 ? Odile : Ines,
                days.At(-40, 8 + i),
                Days(await File.ReadAllTextAsync(files[i], ct), days.Today),
                false,
                null,
                ct
            );
    }

    private async Task AddPeopleAsync(DemoDays days, CancellationToken ct)
    {
        var saltmarsh = await CustomerAsync("SAL", ct);
        foreach (var (name, display, password, roles) in People)
            await people.AddAsync(
                new("odile", days.At(-40, 19), "add"),
                name,
                display,
                roles.Select(r => new Grant(r, name == "maud-audit" ? [saltmarsh] : null)),
                password,
                null,
                ct
            );
        await people.AddAsync(
            new("odile", days.At(-40, 19, 5), "add"),
            "perrin",
            "Perrin",
            [new(Role.Engineer, null)],
            null,
            null,
            ct
        );
    }

    private async Task PerrinLeavesAsync(DemoDays days, CancellationToken ct)
    {
        var away = days.At(-15, 12);
        await records.RetireAsync(Odile, away, RecordKind.Person, "perrin", 1, "took another job", false, ct);
    }

    /// <summary>
    /// The files in the order of the numbers they begin with, so that each refers only to those before it.
    /// </summary>
    public static int Place(string file) =>
        int.Parse(Path.GetFileName(file).Split('-')[0], CultureInfo.InvariantCulture);

    /// <summary>
    /// The institute made the next key of its tunnel: here only its check code is known, as it was read out.
    /// </summary>
    private async Task KeyMadeElsewhereAsync(DemoDays days, CancellationToken ct) =>
        await keys.MakeAsync(
            Ines,
            days.At(-20, 10),
            "QUI-OTT",
            new(null) { MadeBy = "the institute", CheckCode = "4K7M-Q2XB" },
            ct
        );

    /// <summary>
    /// Dates relative to the day the demo is loaded, so that "due in 9 days" stays true: <c>day-21</c>.
    /// </summary>
    public static string Days(string text, DateOnly today) =>
        DayMark()
            .Replace(text, m =>
                Scalars.Write(today.AddDays(int.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture)))
            );

    [GeneratedRegex(@"\bday([+-]\d+)\b")]
    private static partial Regex DayMark();

    /// <summary>
    /// Begins a change and works its steps in order, a minute each, up to the first for which <paramref name="last"/>
    /// holds.
    /// </summary>
    private async Task WorkAsync(
        string code,
        Asker who,
        DateTimeOffset from,
        Func<Step, string, AttemptStep> attempt,
        Func<Step, bool>? last,
        CancellationToken ct
    )
    {
        await changes.BeginAsync(who, from, code, null, ct);
        await using var context = databases.Open();
        var change = (await Find.ChangeAsync(new(context), Scope.Everything, code, ct)).Record;
        for (var i = 0; i < change.Plan.Steps.Length; i++)
        {
            var step = change.Plan.Steps[i];
            var given = attempt(step, step.Key);
            await changes.AttemptAsync(
                who,
                from.AddMinutes(2 * (i + 1)),
                code,
                i + 1,
                step.Proves ? given with { Proof = ProofOf(step) } : given,
                ct
            );
            if (last?.Invoke(step) == true)
                return;
        }
    }

    /// <summary>What whoever worked a proving step pasted.</summary>
    private static string ProofOf(Step step) =>
        step.Do.ToString().Contains("Ping", StringComparison.Ordinal)
            ? "5 sent, 5 replies; counters at both ends up by 5"
            : "both SAs up with the planned algorithms";

    private async Task EditAsync(string code, Func<int, string, Task> edit, CancellationToken ct)
    {
        await using var context = databases.Open();
        await edit((await Find.TunnelAsync(new(context), Scope.Everything, code, ct)).Version, code);
    }

    private async Task<string> CustomerAsync(string code, CancellationToken ct)
    {
        await using var context = databases.Open();
        return (await new RecordReader(context).ByCodeAsync<Customer>(Scope.Everything, RecordKind.Customer, code, ct))!
            .Record
            .Id;
    }
}
