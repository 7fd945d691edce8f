using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>People, tokens and sessions.</summary>
public sealed partial class KeepClient
{
    public Task<IReadOnlyList<PersonLine>> PeopleAsync(CancellationToken ct) =>
        GetAsync<IReadOnlyList<PersonLine>>("people", ct);

    public Task<PersonPage> PersonAsync(string name, CancellationToken ct) =>
        GetAsync<PersonPage>($"people/{Uri.EscapeDataString(name)}", ct);

    public Task<GivenPassword> GivePasswordAsync(string name, CancellationToken ct) =>
        SendAsync<GivenPassword>(HttpMethod.Post, $"people/{Uri.EscapeDataString(name)}/password", new { }, null, ct);

    public Task<PasswordReplaced> ReplacePasswordAsync(ReplacePassword given, CancellationToken ct) =>
        SendAsync<PasswordReplaced>(HttpMethod.Post, "session/password", given, null, ct);

    public Task<AccessPage> AccessAsync(CancellationToken ct) => GetAsync<AccessPage>("access", ct);

    public Task<MadeToken> MakeTokenAsync(NewToken given, CancellationToken ct) =>
        SendAsync<MadeToken>(HttpMethod.Post, "tokens", given, null, ct);

    /// <summary>Ends a token or session: one's own, or with <paramref name="person"/> somebody else's.</summary>
    public Task EndAccessAsync(string? person, bool token, string id, CancellationToken ct) =>
        SendAsync(
            HttpMethod.Delete,
            $"{(person is null ? "" : $"people/{Uri.EscapeDataString(person)}/")}{(token ? "tokens" : "sessions")}"
                + $"/{Uri.EscapeDataString(id)}",
            new { },
            null,
            ct
        );
}
