using System.Linq.Expressions;
using System.Reflection;

namespace Vellumkeep.Core.Forms;

public sealed partial class Form<T>
{
    /// <summary>Whether the field of a key only describes the record, and alters nothing of how tunnels behave.</summary>
    public bool Describes(string key) => describing.Contains(key);

    /// <summary>Whether the field of a key belongs to the one record, so that no copy of it has it.</summary>
    public bool IsNotCopied(string key) => notCopied.Contains(key);

    /// <summary>The field declared last only describes the record.</summary>
    public Form<T> Describing()
    {
        describing.Add(last);
        return this;
    }

    /// <summary>What the field declared last is called where it is filled in, when its key as words is not it.</summary>
    /// <param name="label">Its name.</param>
    /// <param name="one">The name of one item, when it is a list.</param>
    public Form<T> Named(string label, string? one = null)
    {
        names.Add((last, label, one));
        return this;
    }

    /// <summary>The field declared last belongs to the one record, and goes when it is copied.</summary>
    public Form<T> NotCopied()
    {
        notCopied.Add(last);
        return this;
    }

    /// <summary>Which part of the field declared last is one value.</summary>
    public Form<T> Grained(Grain grain)
    {
        grains[last] = grain;
        return this;
    }

    /// <summary>Which part of the field of a key is one value.</summary>
    public Grain GrainOf(string key) => grains.GetValueOrDefault(key);
}
