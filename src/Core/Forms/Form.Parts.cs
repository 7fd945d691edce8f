using System.Linq.Expressions;

namespace Vellumkeep.Core.Forms;

/// <summary>Fields that hold parts of their own.</summary>
public sealed partial class Form<T>
{
    /// <summary>A part with fields of its own.</summary>
    public Form<T> Map<TPart>(
        Expression<Func<T, TPart?>> member,
        string key,
        string about,
        Form<TPart> form,
        bool required = false
    )
        where TPart : class => Map(member, key, about, form.Read, form.Write, required);

    /// <summary>A part that is read and written by its own code, because its keys depend on one another.</summary>
    public Form<T> Map<TPart>(
        Expression<Func<T, TPart?>> member,
        string key,
        string about,
        Func<Fields, TPart?> read,
        Func<TPart, INames, MapNode> write,
        bool required = false
    )
        where TPart : class
    {
        last = key;
        var part = Member<TPart?>.Of(member);
        readers.Add((f, into) => Take(f.Map(key, about, read, required), v => part.Set(into, v)));
        writers.Add(
            (from, to, names) =>
            {
                var node = part.Get(from) is { } said ? write(said, names) : null;
                if (required)
                    to.Always(key, node);
                else
                    to.Add(key, node);
            }
        );
        return this;
    }

    /// <summary>A list of parts with fields of their own.</summary>
    /// <param name="member">The member of the record that holds it.</param>
    /// <param name="key">What it is written under.</param>
    /// <param name="about">What is expected there, for whoever fills it in.</param>
    /// <param name="form">Reads and writes one part.</param>
    /// <param name="atLeast">What the list has to have, when it has to be there.</param>
    /// <param name="askedFirst">Whether a new record is asked for it, although it can be left out.</param>
    public Form<T> Maps<TPart>(
        Expression<Func<T, ImmutableArray<TPart>>> member,
        string key,
        string about,
        Form<TPart> form,
        string? atLeast = null,
        bool askedFirst = false
    )
        where TPart : class
    {
        last = key;
        var parts = Member<ImmutableArray<TPart>>.Of(member);
        readers.Add(
            (f, into) =>
            {
                parts.Set(into, f.Maps(key, about, form.Read, askedFirst));
                if (atLeast is not null)
                    f.Require(key, atLeast);
            }
        );
        writers.Add((from, to, names) => to.List(key, parts.Get(from), p => form.Write(p, names)));
        return this;
    }

    // The list is read as a field of its own, so that its items are named by the path of the list.
    private static Several<TPart>? Items<TPart>(
        Node node,
        string path,
        List<Problem> problems,
        string about,
        Form<TPart> form
    )
        where TPart : class
    {
        var reading = new Reading(IdNames.Instance);
        var items = new Fields(new MapNode([new(path, node)]), "", reading).Maps(path, about, form.Read);
        problems.AddRange(reading.Problems);
        return reading.Problems.Count == 0 ? new Several<TPart>(items) : null;
    }
}
