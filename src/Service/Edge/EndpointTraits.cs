namespace Vellumkeep.Service.Edge;

/// <summary>
/// That an endpoint answers with a secret, or is given one: a key, a token, a password. Nothing on the way keeps
/// either.
/// </summary>
public sealed record TellsSecret;

/// <summary>
/// That an endpoint keeps its answer open: it is bounded by how many there are, not by how long they last.
/// </summary>
public sealed record Streams;

/// <summary>That a call can take a core for seconds: one of each person is worked on at a time.</summary>
public sealed record Heavy;

/// <summary>That an endpoint tells how far it is, where <c>progress</c> is asked for.</summary>
public sealed record TellsProgress;

/// <summary>That a call tries a password.</summary>
public sealed record TriesPassword;

/// <summary>The names of the limits that endpoints ask for.</summary>
public static class Limits
{
    /// <summary>Calls that try a password.</summary>
    public const string SignIn = "sign-in";
}

/// <summary>Knows whether a text holds a kept key.</summary>
public interface ITextGuard
{
    bool IsIn(string text);
}
