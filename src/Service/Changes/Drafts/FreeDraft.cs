using Vellumkeep.Core.Changes.Manual;

namespace Vellumkeep.Service.Changes.Drafts;

/// <summary>Steps that the author wrote.</summary>
internal static class FreeDraft
{
    /// <summary>Minutes of a step for which nobody said how long it takes.</summary>
    private const int UsualMinutes = 5;

    public static async Task<Drafted> ReadAsync(Draft draft, DraftFree given)
    {
        var tunnel = await draft.TunnelAsync("tunnel", given.Tunnel);
        var steps = (given.Steps ?? []).Select((s, i) => StepOf(s, i + 1)).ToImmutableArray();
        return Drafted.Of(new FreeRequest(tunnel.Id, steps), $"Work on {tunnel.Code}");
    }

    private static FreeStep StepOf(FreeStepGiven given, int number) =>
        new(
            Enum.TryParse<Part>(given.Part, true, out var part)
                ? part
                : throw Wrong(
                    number,
                    "part",
                    $"'{Typed.Short(given.Part ?? "")}' is not a part of a run sheet",
                    "prepare, safeguard, build, switch, prove or record"
                ),
            Enum.TryParse<Where>(given.Where, true, out var where)
                ? where
                : throw Wrong(number, "where", $"'{Typed.Short(given.Where ?? "")}' is not a place", "A, B or us"),
            string.IsNullOrWhiteSpace(given.Do) || given.Do.Length > 400
                ? throw Wrong(number, "do", "the step is empty", "one sentence of at most 400 characters")
                : given.Do.Trim().Replace('{', '(').Replace('}', ')'),
            (given.Minutes ?? UsualMinutes) is > 0 and <= 600 and var minutes
                ? minutes
                : throw Wrong(number, "minutes", "a step takes 1 to 600 minutes", "a whole number"),
            given.Stops,
            given.Undo
        );

    private static ProblemException Wrong(int number, string field, string wrong, string right) =>
        ProblemException.Field($"steps[{number}].{field}", wrong, right, $"Step {number}, {field}");
}
