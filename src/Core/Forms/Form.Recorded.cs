using System.Linq.Expressions;

namespace Vellumkeep.Core.Forms;

/// <summary>Fields that say how a value was confirmed.</summary>
public sealed partial class Form<T>
{
    /// <summary>A value with how it was confirmed, or for now, or pending.</summary>
    public Form<T> Recorded<TValue>(
        Expression<Func<T, Recorded<TValue>?>> member,
        string key,
        string about,
        Codec<TValue> codec,
        bool required = false
    )
        where TValue : class
    {
        last = key;
        var value = Member<Recorded<TValue>?>.Of(member);
        readers.Add(
            (f, into) =>
                Take(
                    f.Raw(
                        key,
                        about,
                        (node, path, problems) =>
                            WrittenRecorded.Read(node, path, problems, (n, p, x) => Fields.OneOf(n, codec.Read, p, x)),
                        required
                    ),
                    v => value.Set(into, v)
                )
        );
        writers.Add(
            (from, to, _) =>
                to.Add(key, value.Get(from) is { } said ? WrittenRecorded.Write(said, v => codec.Write(v)) : null)
        );
        return Grained(Grain.Whole);
    }

    /// <summary>
    /// A list with how it was confirmed; an empty one says that there is none of it, a missing one that nobody knows.
    /// </summary>
    public Form<T> RecordedList<TPart>(
        Expression<Func<T, Recorded<Several<TPart>>?>> member,
        string key,
        string about,
        Form<TPart> form
    )
        where TPart : class
    {
        last = key;
        var list = Member<Recorded<Several<TPart>>?>.Of(member);
        readers.Add(
            (f, into) =>
                Take(
                    f.Raw(
                        key,
                        about,
                        (node, path, problems) =>
                            WrittenRecorded.Read(node, path, problems, (n, p, x) => Items(n, p, x, about, form)),
                        item: form.Read
                    ),
                    v => list.Set(into, v)
                )
        );
        writers.Add(
            (from, to, names) =>
                to.Always(
                    key,
                    list.Get(from) is { } said
                        ? WrittenRecorded.Write(said, l => ListNode.Of(l.Items.Select(p => form.Write(p, names))))
                        : null
                )
        );
        return Grained(Grain.Items);
    }

    /// <summary>Settings below a key of their own.</summary>
    public Form<T> Settings(Expression<Func<T, SettingSet>> member, string key, string about)
    {
        last = key;
        var set = Member<SettingSet>.Of(member);
        readers.Add((f, into) => Take(f.Map(key, about, s =>
                    {
                        var read = WrittenSettings.Read(s);
                        return s.Build(() => read);
                    }), v => set.Set(into, v)));
        writers.Add((from, to, _) => to.Add(key, WrittenSettings.Write(set.Get(from))));
        return Grained(Grain.WholeParts);
    }

    /// <summary>Settings among the fields themselves, those that are negotiated.</summary>
    public Form<T> NegotiatedSettings(Expression<Func<T, SettingSet>> member)
    {
        var set = Member<SettingSet>.Of(member);
        readers.Add((f, into) => set.Set(into, WrittenSettings.Read(f, s => s.Negotiated)));
        writers.Add((from, to, _) => WrittenSettings.Write(set.Get(from), to));
        return this;
    }
}
