using Vellumkeep.Core.Changes.Lifecycle;

namespace Vellumkeep.Service.Changes;

/// <summary>What is answered when something cannot be planned, or cannot be done to a change.</summary>
internal static class ChangeProblems
{
    /// <summary>A request for which there is no plan: 422, with the field and the codes of the findings.</summary>
    public static ProblemException Unplanned(ImmutableArray<Refusal> refused, Scope scope) =>
        new ProblemException(
            422,
            "cannot-be-planned",
            "Cannot be planned",
            string.Join(" ", refused.Take(3).Select(r => Text(r.Wrong, r.Right, scope)))
        )
            .With("field", refused[0].Field)
            .With("findings", refused.Select(r => r.Code).OfType<string>().Distinct());

    /// <summary>An act that the change as it stands does not allow: 409, with the code of the finding.</summary>
    public static ProblemException Refuse(Refused refused, Scope scope) =>
        new ProblemException(409, "refused", "Refused", Text(refused.Wrong, refused.Right, scope)).With(
            "findings",
            refused.Code is { } code ? new[] { code } : []
        );

    private static string Text(Sentence wrong, Sentence right, Scope scope) =>
        $"{wrong.Show(scope.Sees).Text} {right.Show(scope.Sees).Text}";
}
