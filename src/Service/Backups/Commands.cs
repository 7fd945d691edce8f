using Vellumkeep.Service.Hosting;
using Vellumkeep.Storage.Backups;

namespace Vellumkeep.Service.Backups;

/// <summary>
/// What is done on the machine itself, without the service: backup, restore, the first person, an unlocked name, new
/// keys at rest.
/// </summary>
public static class Commands
{
    private const string OnTheMachine = "on the machine itself";

    /// <returns>The status to end with.</returns>
    public static async Task<int> RunAsync(
        Started started,
        Databases databases,
        IServiceProvider services,
        TimeProvider clock
    )
    {
        var argument = started.Argument ?? "";
        try
        {
            if (started.What != "restore")
                await databases.MigrateAsync(default);
            Console.Out.WriteLine(
                started.What switch
                {
                    "backup" => await BackupAsync(databases, argument),
                    "restore" => await RestoreAsync(databases, argument),
                    "add-lead" => await AddLeadAsync(services, clock, argument),
                    "unlock" => await UnlockAsync(databases, argument),
                    "give-up" => await GiveUpAsync(services, clock, argument),
                    "re-encrypt" => await ReEncryptAsync(services, clock),
                    _ => throw new BackupException(
                        $"{started.What} is not a command of the service. Expected: what --help lists."
                    ),
                }
            );
            return 0;
        }
        catch (Exception e) when (e is BackupException or NewerDatabaseException or ProblemException)
        {
            ServiceCommand.Refuse(e.Message);
            return 2;
        }
    }

    /// <summary>
    /// Whoever forgot to say which database is meant is told so: an empty one beside the right one helps nobody.
    /// </summary>
    public static void NeedDatabase(Started started)
    {
        var settings = started.Settings;
        var isNamed = settings.ContainsKey("Vellumkeep:Data") || settings.ContainsKey("Vellumkeep:Postgres");
        var standing = Path.Combine(new ServiceSettings().Data, "vellumkeep.db");
        if (!isNamed && started.What != "restore" && !File.Exists(standing))
            throw new BackupException(
                $"There is no database in {Path.GetFullPath(new ServiceSettings().Data)}. Expected: --data with the "
                    + $"folder of the service's database, or --postgres."
            );
    }

    private static async Task<string> GiveUpAsync(IServiceProvider services, TimeProvider clock, string name)
    {
        var reason = Console.In.ReadLine()?.Trim() ?? "";
        var given = await services
            .GetRequiredService<Keys.KeyWork>()
            .GiveUpAsync("vellumkeep", clock.GetUtcNow(), name, reason, default);
        await NoteAsync(services.GetRequiredService<Databases>(), AuditLog.GiveUp, name);
        return given.Count == 0
            ? $"{name} is given up. No pre-shared key was encrypted with it."
            : $"{name} is given up, and with it {string.Join("; ", given)}. New keys can be made.";
    }

    private static async Task<string> BackupAsync(Databases databases, string name)
    {
        // Written beside and renamed, so that a file of that name is always whole.
        var part = name + ".part";
        long rows;
        await using (var file = Private.Create(part))
            rows = await Backup.WriteAsync(databases, file, default);
        File.Move(part, name, true);
        await NoteAsync(databases, AuditLog.Backup, name);
        return $"{rows:N0} rows written to {name}.";
    }

    private static async Task<string> RestoreAsync(Databases databases, string name)
    {
        if (!File.Exists(name))
            throw new BackupException($"There is no file {name}.");
        await using var file = File.OpenRead(name);
        var restored = await Backup.RestoreAsync(databases, file, default);
        return $"{restored.Rows:N0} rows restored. The history of {restored.Commits:N0} commits is intact and "
            + $"matches the current records.";
    }

    private static async Task<string> AddLeadAsync(IServiceProvider services, TimeProvider clock, string name)
    {
        name = SignIns.Fold(name);
        await services
            .GetRequiredService<PeopleStore>()
            .AddAsync(
                new(name, clock.GetUtcNow(), "add", OnTheMachine),
                name,
                name,
                [new(Role.Lead, null)],
                Console.In.ReadLine() ?? "",
                null,
                default
            );
        return $"{name} is a lead and can sign in.";
    }

    private static async Task<string> UnlockAsync(Databases databases, string name)
    {
        name = SignIns.Fold(name);
        await using (var context = databases.Open())
        {
            if (!await context.People.AnyAsync(p => p.Name == name))
                throw new BackupException($"There is no person {Typed.Short(name)}.");
            // Wrong tries are counted by address too; whoever stands at the machine clears them all.
            await context.SignInTries.ExecuteDeleteAsync();
        }

        await NoteAsync(databases, AuditLog.Unlock, name);
        return $"{name} can sign in again.";
    }

    private static async Task<string> ReEncryptAsync(IServiceProvider services, TimeProvider clock)
    {
        var (count, under, left) = await services
            .GetRequiredService<Keys.KeyWork>()
            .ReEncryptAsync("vellumkeep", clock.GetUtcNow(), default);
        var lost =
            left.Count == 0
                ? ""
                : $"{Environment.NewLine}{Say.Count(left.Count, "key")} cannot be decrypted, not changed: "
                    + $"{string.Join("; ", left)}.";
        return $"{Say.Count(count, "key")} re-encrypted with {under}. The older keys in the key folder are needed "
            + $"only for older backups.{lost}";
    }

    private static async Task NoteAsync(Databases databases, string what, string about)
    {
        await using var context = databases.Open();
        context.Audit.Add(
            new()
            {
                At = DateTimeOffset.UtcNow.ToString("O", CultureInfo.InvariantCulture),
                Who = Environment.UserName,
                What = what,
                About = about,
                Outcome = AuditLog.Done,
                From = OnTheMachine,
            }
        );
        await context.SaveChangesAsync();
    }
}
