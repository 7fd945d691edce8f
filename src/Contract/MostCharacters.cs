namespace Vellumkeep.Contract;

/// <summary>The most characters that a text of a request may have, where it is not the usual 4,000.</summary>
[AttributeUsage(AttributeTargets.Property | AttributeTargets.Parameter)]
public sealed class MostCharactersAttribute(int most) : Attribute
{
    public int Most { get; } = most;
}
