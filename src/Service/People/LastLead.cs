namespace Vellumkeep.Service.People;

/// <summary>There is always somebody who looks after people: the last lead neither leaves nor becomes less.</summary>
public static class LastLead
{
    /// <summary>Refuses a person's new form when no lead would be left.</summary>
    public static async Task NeedAnotherAsync(RecordReader reader, Person after, CancellationToken ct)
    {
        var people = await reader.AllAsync<Person>(Scope.Everything, RecordKind.Person, ct);
        if (
            people.Any(p => p.Id == after.Id && IsLead(p))
            && !IsLead(after)
            && !people.Any(p => p.Id != after.Id && IsLead(p))
        )
            throw new ProblemException(
                409,
                "refused",
                "Refused",
                $"{after.Code} is the last lead. First make somebody else a lead."
            );
    }

    private static bool IsLead(Person person) => person.Left is null && person.Grants.Any(g => g.Role == Role.Lead);
}
