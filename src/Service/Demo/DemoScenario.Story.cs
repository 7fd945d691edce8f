namespace Vellumkeep.Service.Demo;

/// <summary>What happened in the demo before today, an episode a method.</summary>
public sealed partial class DemoScenario
{
    /// <summary>Last week: the scanners at the depot, with a deviation that nobody has mirrored at A yet.</summary>
    private async Task ScannersWithDeviationAsync(DemoDays days, CancellationToken ct)
    {
        var scanners = await drafting.DraftAsync(
            Ines,
            days.At(-12, 10),
            new DraftSubnets
            {
                Tunnel = "BRI-DEPOT",
                End = "B",
                Add = ["10.62.21.0/24"],
                Reason = "Hand scanners at the depot have to reach the offices.",
                WindowStart = days.At(-8, 21),
                WindowMinutes = 60,
            },
            ct
        );
        await changes.SubmitAsync(Ines, days.At(-12, 10, 20), scanners, ct);
        await changes.ApproveAsync(
            Tomas,
            days.At(-11, 9),
            scanners,
            2,
            "Right. Ask the depot to try a scanner straight after.",
            ct
        );
        await WorkAsync(
            scanners,
            Ines,
            days.At(-8, 21),
            (step, text) =>
                step.Where == Where.B && step.Part == Part.Switch
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
        await changes.CloseAsync(Ines, days.At(-8, 21, 55), scanners, ct);
    }

    /// <summary>A name at Pethermead was recorded wrong from the start.</summary>
    private async Task CorrectedAtPethermeadAsync(DemoDays days, CancellationToken ct)
    {
        string[] agreedAtBoth =
        [
            "ikeProposals",
            "espProposals",
            "ikeVersions",
            "authentication",
            "initiation",
            "identityOfA",
            "identityOfB",
            "ikeLifetime",
        ];
        var corrected = new CorrectValue(
            "B",
            "dpd",
            "30 s x 5, try again",
            "the device has always tried five times; read again today",
            "read",
            null
        );
        await EditAsync(
            "BRI-PETHER",
            (v, code) => tunnels.CorrectAsync(Tomas, days.At(-7, 14), code, v, corrected, ct),
            ct
        );
        await ConfirmAsync("B", agreedAtBoth, days.At(-7, 14, 10));
        await ConfirmAsync("A", [.. agreedAtBoth, "espLifetime"], days.At(-7, 14, 20));

        Task ConfirmAsync(string end, string[] fields, DateTimeOffset at) =>
            EditAsync(
                "BRI-PETHER",
                (v, code) => tunnels.ConfirmAsync(Tomas, at, code, v, new(end, fields, "read", null, null), ct),
                ct
            );
    }

    /// <summary>Tidewrack: tried, and backed out because the old box would not take it.</summary>
    private async Task CamerasBackedOutAsync(DemoDays days, CancellationToken ct)
    {
        var cameras = await drafting.DraftAsync(
            Tomas,
            days.At(-6, 11),
            new DraftSubnets
            {
                Tunnel = "TID-PUMP",
                End = "B",
                Add = ["10.41.1.0/24"],
                Reason = "Cameras in the pump house.",
                WindowStart = days.At(-5, 6),
                WindowMinutes = 45,
            },
            ct
        );
        await changes.SubmitAsync(Tomas, days.At(-6, 11, 30), cameras, ct);
        await changes.ApproveAsync(Odile, days.At(-6, 15), cameras, 2, null, ct);
        await WorkAsync(
            cameras,
            Tomas,
            days.At(-5, 6),
            (step, _) =>
                step.Part == Part.Switch
                    ? new("failed", "the device answers: table full", null, null, null)
                    : new("done", null, null, null, null),
            s => s.Part == Part.Switch,
            ct
        );
        await changes.BackOutAsync(
            Tomas,
            days.At(-5, 6, 40),
            cameras,
            "the old box holds no more pairs; it must be replaced first",
            ct
        );
    }

    /// <summary>Saltmarsh: approved for tonight, another one dropped. Tells the change for the log store, approved for
    /// this morning.</summary>
    private async Task<string> SaltmarshAndLogStoreAsync(DemoDays days, CancellationToken ct)
    {
        var staff = await drafting.DraftAsync(
            Ines,
            days.At(-3, 9),
            new DraftSubnets
            {
                Tunnel = "SAL-GANNET",
                End = "B",
                Add = ["10.71.1.0/24"],
                Title = "Let Gannet Pier's staff reach booking",
                Reason = "The staff room gets two terminals.",
                WindowStart = days.Tonight,
                WindowMinutes = 40,
            },
            ct
        );
        await changes.SubmitAsync(Ines, days.At(-3, 9, 30), staff, ct);
        var crew = await drafting.DraftAsync(
            Ines,
            days.At(-3, 10),
            new DraftSubnets
            {
                Tunnel = "SAL-DUNLIN",
                End = "B",
                Add = ["10.80.5.0/24"],
                Title = "Let Dunlin's crew reach booking",
                Reason = "Asked for by the crew.",
            },
            ct
        );
        await changes.DropAsync(
            Ines,
            days.At(-2, 9),
            crew,
            "the harbour office does not want crew traffic in booking",
            ct
        );
        var logs = await drafting.DraftAsync(
            Tomas,
            days.At(-2, 13),
            new DraftSubnets
            {
                Tunnel = "QUI-BRI",
                End = "A",
                Add = ["10.250.8.0/24"],
                Title = "Let the log store reach Churn House",
                Reason = "The plant logs must be stored at Keelhouse.",
                WindowStart = days.ThisMorning,
                WindowMinutes = 60,
            },
            ct
        );
        await changes.SubmitAsync(Tomas, days.At(-2, 13, 30), logs, ct);
        await changes.ApproveAsync(
            Tomas,
            days.At(-2, 16),
            staff,
            2,
            "Approved. The identity at Gannet Pier is older trouble and stays as it is tonight.",
            ct
        );
        await changes.ApproveAsync(Odile, days.At(-1, 10), logs, 2, null, ct);
        return logs;
    }

    /// <summary>The cold store: in review for Ashlow, still a draft for Pethermead.</summary>
    private async Task ColdStoreAsync(DemoDays days, CancellationToken ct)
    {
        var ashlow = await drafting.DraftAsync(
            Ines,
            days.At(-1, 15),
            new DraftSubnets
            {
                Tunnel = "BRI-ASHLOW",
                End = "A",
                Add = ["10.61.40.0/24"],
                Title = "Add the cold store to Ashlow",
                Reason = "The new cold store at Churn House is watched from the creamery.",
                WindowStart = days.At(2, 22),
                WindowMinutes = 45,
            },
            ct
        );
        await changes.SubmitAsync(Ines, days.At(-1, 15, 30), ashlow, ct);
        await drafting.DraftAsync(
            Ines,
            days.At(-1, 16),
            new DraftSubnets
            {
                Tunnel = "BRI-PETHER",
                End = "A",
                Add = ["10.61.40.0/24"],
                Title = "Add the cold store to Pethermead",
                Reason = "The new cold store at Churn House is watched from the curd hall.",
            },
            ct
        );
    }

    /// <summary>
    /// Thrumley's second endpoint is in review with its address still to come; Tidewrack's first gateway is planned
    /// onto the platform that follows the old one.
    /// </summary>
    private async Task SecondEndpointAndMainHallAsync(DemoDays days, CancellationToken ct)
    {
        var plates = await drafting.DraftAsync(
            Ines,
            days.At(-1, 16, 30),
            new DraftNewTunnel
            {
                Tunnel = "THR-PLATES-2",
                Reason = "The second endpoint takes over when the first falls.",
                WindowStart = days.At(6, 20),
                WindowMinutes = 120,
            },
            ct
        );
        await changes.SubmitAsync(Ines, days.At(-1, 16, 40), plates, ct);
        await drafting.DraftAsync(
            Tomas,
            days.At(-1, 17),
            new DraftPlatform
            {
                Reason = "The old boxes are past support; the main hall goes first.",
                WindowStart = days.At(9, 6),
                WindowMinutes = 240,
                Gateway = "tid-main-gw",
                Platform = "alderquay-major@1",
            },
            ct
        );
    }

    /// <summary>The log store: under way since this morning, standing at a failed step.</summary>
    private async Task LogStoreAtFailedStepAsync(string logs, DemoDays days, CancellationToken ct)
    {
        await WorkAsync(
            logs,
            Tomas,
            days.ThisMorning,
            (step, _) =>
                step.Part == Part.Prove
                    ? new("failed", "no answer from 10.61.0.20; counters at A rise, at B they do not", null, null, null)
                    : new("done", null, null, null, null),
            s => s.Part == Part.Prove,
            ct
        );
    }
}
