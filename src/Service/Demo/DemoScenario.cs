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
    Records.RecordWork records
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

    public async Task LoadAsync(string folder, DateTimeOffset now, CancellationToken ct)
    {
        var today = DateOnly.FromDateTime(now.UtcDateTime);
        var odile = Asker.Of("odile", "Odile", Role.Lead);
        var ines = Asker.Of("ines", "Ines", Role.Engineer);
        var tomas = Asker.Of("tomas", "Tomas", Role.Engineer, Role.Reviewer);
        DateTimeOffset At(int day, int hour, int minute = 0) =>
            new(today.AddDays(day).ToDateTime(new(hour, minute)), TimeSpan.Zero);
        // Whatever the hour of loading, this morning is over and tonight is to come.
        var early =
            now.UtcDateTime.TimeOfDay >= new TimeSpan(6, 40, 0)
                ? At(0, 6)
                : new DateTimeOffset(now.UtcTicks - (now.UtcTicks % TimeSpan.TicksPerHour), TimeSpan.Zero).AddHours(-1);
        var tonight = At(now.UtcDateTime.Hour < 21 ? 0 : 1, 22);

        string[] files = [.. Directory.GetFiles(folder, "*.yaml").OrderBy(Place)];
        for (var i = 0; i < files.Length; i++)
            await importing.ImportAsync(
                i == 0 ? odile : ines,
                At(-40, 8 + i),
                Days(await File.ReadAllTextAsync(files[i], ct), today),
                false,
                null,
                ct
            );

        var saltmarsh = await CustomerAsync("SAL", ct);
        foreach (var (name, display, password, roles) in People)
            await people.AddAsync(
                new("odile", At(-40, 19), "add"),
                name,
                display,
                roles.Select(r => new Grant(r, name == "maud-audit" ? [saltmarsh] : null)),
                password,
                null,
                ct
            );
        await people.AddAsync(
            new("odile", At(-40, 19, 5), "add"),
            "perrin",
            "Perrin",
            [new(Role.Engineer, null)],
            null,
            null,
            ct
        );
        await RetireAsync(odile, At(-15, 12), "perrin", "took another job", ct);

        // Last week: the scanners at the depot, with a deviation that nobody has mirrored at A yet.
        var scanners = await drafting.DraftAsync(
            ines,
            At(-12, 10),
            new(
                "BRI-DEPOT",
                "B",
                ["10.62.21.0/24"],
                null,
                null,
                "Hand scanners at the depot have to reach the offices.",
                At(-8, 21),
                60
            ),
            ct
        );
        await changes.SubmitAsync(ines, At(-12, 10, 20), scanners, ct);
        await changes.ApproveAsync(
            tomas,
            At(-11, 9),
            scanners,
            2,
            "Right. Ask the depot to try a scanner straight after.",
            ct
        );
        await WorkAsync(
            scanners,
            ines,
            At(-8, 21),
            (step, text) =>
                step.Where == Where.B && step.Enter.Any(v => v.Label == "own subnet")
                    ? new(
                        "done",
                        "the depot's own device",
                        null,
                        "10.62.21.0/25",
                        "the depot uses only the lower half and entered it so"
                    )
                    : new("done", null, null, null, null),
            null,
            ct
        );
        await changes.CloseAsync(ines, At(-8, 21, 55), scanners, ct);

        // A name at Pethermead was recorded wrong from the start.
        await EditAsync(
            "BRI-PETHER",
            (v, code) =>
                tunnels.CorrectAsync(
                    tomas,
                    At(-7, 14),
                    code,
                    v,
                    new(
                        "B",
                        "dpd",
                        "30 s x 5, try again",
                        "the device has always tried five times; read again today",
                        "read",
                        null
                    ),
                    ct
                ),
            ct
        );
        await EditAsync(
            "BRI-PETHER",
            (v, code) =>
                tunnels.ConfirmAsync(
                    tomas,
                    At(-7, 14, 10),
                    code,
                    v,
                    new(
                        "B",
                        [
                            "ikeProposals",
                            "espProposals",
                            "ikeVersions",
                            "authentication",
                            "start",
                            "identityOfA",
                            "identityOfB",
                            "ikeLifetime",
                        ],
                        "read",
                        null,
                        null
                    ),
                    ct
                ),
            ct
        );
        await EditAsync(
            "BRI-PETHER",
            (v, code) =>
                tunnels.ConfirmAsync(
                    tomas,
                    At(-7, 14, 20),
                    code,
                    v,
                    new(
                        "A",
                        [
                            "ikeProposals",
                            "espProposals",
                            "ikeVersions",
                            "authentication",
                            "start",
                            "identityOfA",
                            "identityOfB",
                            "ikeLifetime",
                            "espLifetime",
                        ],
                        "read",
                        null,
                        null
                    ),
                    ct
                ),
            ct
        );

        // Tidewrack: tried, and backed out because the old box would not take it.
        var cameras = await drafting.DraftAsync(
            tomas,
            At(-6, 11),
            new("TID-PUMP", "B", ["10.41.1.0/24"], null, null, "Cameras in the pump house.", At(-5, 6), 45),
            ct
        );
        await changes.SubmitAsync(tomas, At(-6, 11, 30), cameras, ct);
        await changes.ApproveAsync(odile, At(-6, 15), cameras, 2, null, ct);
        await WorkAsync(
            cameras,
            tomas,
            At(-5, 6),
            (step, _) =>
                step.Part == Part.Switch
                    ? new("failed", "the device answers: table full", null, null, null)
                    : new("done", null, null, null, null),
            s => s.Part == Part.Switch,
            ct
        );
        await changes.BackOutAsync(
            tomas,
            At(-5, 6, 40),
            cameras,
            "the old box holds no more pairs; it has to be replaced first",
            ct
        );

        // Saltmarsh: approved for tonight; another one dropped.
        var staff = await drafting.DraftAsync(
            ines,
            At(-3, 9),
            new(
                "SAL-GANNET",
                "B",
                ["10.71.1.0/24"],
                null,
                "Let Gannet Pier's staff reach booking",
                "The staff room gets two terminals.",
                tonight,
                40
            ),
            ct
        );
        await changes.SubmitAsync(ines, At(-3, 9, 30), staff, ct);
        var crew = await drafting.DraftAsync(
            ines,
            At(-3, 10),
            new(
                "SAL-DUNLIN",
                "B",
                ["10.80.5.0/24"],
                null,
                "Let Dunlin's crew reach booking",
                "Asked for by the crew.",
                null,
                null
            ),
            ct
        );
        await changes.DropAsync(ines, At(-2, 9), crew, "the harbour office does not want crew traffic in booking", ct);
        var logs = await drafting.DraftAsync(
            tomas,
            At(-2, 13),
            new(
                "QUI-BRI",
                "A",
                ["10.250.8.0/24"],
                null,
                "Let the log store reach Churn House",
                "Logs of the plant are to be kept at Keelhouse.",
                early,
                60
            ),
            ct
        );
        await changes.SubmitAsync(tomas, At(-2, 13, 30), logs, ct);
        await changes.ApproveAsync(
            tomas,
            At(-2, 16),
            staff,
            2,
            "Approved. The identity at Gannet Pier is older trouble and stays as it is tonight.",
            ct
        );
        await changes.ApproveAsync(odile, At(-1, 10), logs, 2, null, ct);

        // The cold store: in review for Ashlow, still a draft for Pethermead.
        var ashlow = await drafting.DraftAsync(
            ines,
            At(-1, 15),
            new(
                "BRI-ASHLOW",
                "A",
                ["10.61.40.0/24"],
                null,
                "Add the cold store to Ashlow",
                "The new cold store at Churn House is watched from the creamery.",
                At(2, 22),
                45
            ),
            ct
        );
        await changes.SubmitAsync(ines, At(-1, 15, 30), ashlow, ct);
        await drafting.DraftAsync(
            ines,
            At(-1, 16),
            new(
                "BRI-PETHER",
                "A",
                ["10.61.40.0/24"],
                null,
                "Add the cold store to Pethermead",
                "The new cold store at Churn House is watched from the curd hall.",
                null,
                null
            ),
            ct
        );

        // Thrumley's second endpoint is in review with its address still to come; Tidewrack's first gateway is planned
        // onto the platform that follows the old one.
        var plates = await drafting.DraftAsync(
            ines,
            At(-1, 16, 30),
            new(
                "THR-PLATES-2",
                null,
                null,
                null,
                null,
                "The second endpoint takes over when the first falls.",
                At(6, 20),
                120
            )
            {
                Kind = "new tunnel",
            },
            ct
        );
        await changes.SubmitAsync(ines, At(-1, 16, 40), plates, ct);
        await drafting.DraftAsync(
            tomas,
            At(-1, 17),
            new(
                null,
                null,
                null,
                null,
                null,
                "The old boxes are past support; the main hall goes first.",
                At(9, 6),
                240
            )
            {
                Kind = "replace platform",
                Gateway = "tid-main-gw",
                Platform = "alderquay-major@1",
            },
            ct
        );

        // Under way since this morning, standing at a failed step.
        await WorkAsync(
            logs,
            tomas,
            early,
            (step, _) =>
                step.Part == Part.Prove
                    ? new("failed", "no answer from 10.61.0.20; counters at A rise, at B they do not", null, null, null)
                    : new("done", null, null, null, null),
            s => s.Part == Part.Prove,
            ct
        );
    }

    /// <summary>
    /// The files in the order of the numbers they begin with, so that each refers only to those before it.
    /// </summary>
    public static int Place(string file) =>
        int.Parse(Path.GetFileName(file).Split('-')[0], CultureInfo.InvariantCulture);

    /// <summary>
    /// Dates relative to the day the demo is loaded, so that "due in 9 days" stays true: <c>{{day-21}}</c>.
    /// </summary>
    public static string Days(string text, DateOnly today) =>
        DayMark()
            .Replace(text, m =>
                Scalars.Write(today.AddDays(int.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture)))
            );

    [GeneratedRegex(@"\{\{day([+-]\d+)\}\}")]
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
        await changes.BeginAsync(who, from, code, ct);
        await using var context = databases.Open();
        var change = (await Find.ChangeAsync(new(context), Scope.Everything, code, ct)).Record;
        for (var i = 0; i < change.Plan.Steps.Length; i++)
        {
            var step = change.Plan.Steps[i];
            await changes.AttemptAsync(who, from.AddMinutes(2 * (i + 1)), code, i + 1, attempt(step, step.Key), ct);
            if (last?.Invoke(step) == true)
                return;
        }
    }

    private async Task RetireAsync(Asker who, DateTimeOffset at, string name, string reason, CancellationToken ct) =>
        await records.RetireAsync(who, at, RecordKind.Person, name, 1, reason, false, ct);

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
