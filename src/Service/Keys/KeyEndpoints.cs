namespace Vellumkeep.Service.Keys;

/// <summary>Keys over HTTP: nothing that holds a key is kept by anything on the way.</summary>
public static class KeyEndpoints
{
    public static void MapKeys(this RouteGroupBuilder api)
    {
        api.MapGet("/tunnels/{code}/keys", (string code, KeyWork work, HttpContext http, CancellationToken ct) =>
                work.ListAsync(http.Asker(), code, ct)
            )
            .For(Role.Reader)
            .WithName("listKeys")
            .WithSummary("The versions of a tunnel's pre-shared key and who has viewed them; not the keys")
            .Refuses(404);
        api.MapPost(
                "/tunnels/{code}/keys",
                (
                    string code,
                    MakeKeyGiven given,
                    KeyWork work,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) => work.MakeAsync(http.Asker(), clock.GetUtcNow(), code, given, ct)
            )
            .For(Role.Engineer)
            .WithName("makeKey")
            .WithSummary("Make a key within the limits of both platforms; it is encrypted at rest")
            .Refuses(404, 409);
        api.MapPost(
                "/tunnels/{code}/keys/{version:int}/show",
                (
                    string code,
                    int version,
                    ShowKeyGiven given,
                    KeyWork work,
                    TimeProvider clock,
                    HttpContext http,
                    CancellationToken ct
                ) => work.ShowAsync(http.Asker(), clock.GetUtcNow(), code, version, given, ct)
            )
            .For(Role.Engineer)
            .WithMetadata(new TellsSecret())
            .WithName("showKey")
            .WithSummary("Show a key, with a reason; who, when, why and from where is recorded")
            .Refuses(404, 409, 422);
    }
}
