namespace Vellumkeep.Service.Reference;

/// <summary>The glossary, for who reads a word that is ours.</summary>
public static class GlossaryEndpoints
{
    public static void MapGlossary(this RouteGroupBuilder api) =>
        api.MapGet("/glossary", () => new GlossaryPage(Glossary.Words, Glossary.Codes))
            .For(Role.Reader)
            .WithName("showGlossary")
            .WithSummary("Our own words and every finding code, with their meaning");
}
