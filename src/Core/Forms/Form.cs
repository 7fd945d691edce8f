using System.Linq.Expressions;
using System.Reflection;

namespace Vellumkeep.Core.Forms;

/// <summary>
/// The written form of a record or of a part of one: each field is declared once, with its key, what it is, and its
/// codec, and is read, written and described from that. Fields are written in the order in which they are declared.
/// </summary>
/// <param name="blank">Makes one with nothing said: what its fields are when their keys are left out.</param>
public sealed partial class Form<T>(Func<T> blank)
    where T : class
{
    private readonly List<Action<Fields, T>> readers = [];
    private readonly List<Action<T, MapWriter, INames>> writers = [];
    private readonly List<Action<Fields, T>> rules = [];
    private readonly List<(string Key, string Label, string? One)> names = [];
    private readonly Dictionary<string, Grain> grains = [];
    private readonly HashSet<string> describing = [];
    private readonly HashSet<string> notCopied = [];
    private Action<T, string>? identify;
    private string last = "";

    /// <summary>The member that holds the id, which is not written.</summary>
    public Form<T> Id(Expression<Func<T, string>> member)
    {
        identify = Member<string>.Of(member).Set;
        return this;
    }

    /// <summary>A code: 2 to 40 letters, digits, hyphens or dots. Required.</summary>
    public Form<T> Code(Expression<Func<T, string>> member, string key, string about)
    {
        last = key;
        var code = Member<string>.Of(member);
        readers.Add((f, into) => code.Set(into, f.Code(key, about)));
        writers.Add((from, to, _) => to.Add(key, code.Get(from)));
        return this;
    }

    /// <summary>A line of text of at most so many characters.</summary>
    /// <param name="member">The member of the record that holds it.</param>
    /// <param name="key">What it is written under.</param>
    /// <param name="about">What is expected there, for whoever fills it in.</param>
    /// <param name="most">The most characters that it may have.</param>
    /// <param name="required">Whether it may not be left out.</param>
    /// <param name="unsaid">What is not written, because it is understood when the key is left out.</param>
    public Form<T> Text(
        Expression<Func<T, string?>> member,
        string key,
        string about,
        int most = 200,
        bool required = false,
        string? unsaid = null
    )
    {
        last = key;
        var text = Member<string?>.Of(member);
        readers.Add((f, into) => Take(f.OptionalText(key, about, most, required), v => text.Set(into, v)));
        writers.Add((from, to, _) => to.Add(key, text.Get(from) is { } said && said != unsaid ? said : null));
        return this;
    }

    /// <summary>The code of another record, kept as its id.</summary>
    public Form<T> Reference(
        Expression<Func<T, string?>> member,
        string key,
        string about,
        RecordKind kind,
        bool required = false
    )
    {
        last = key;
        var id = Member<string?>.Of(member);
        readers.Add((f, into) => Take(f.Reference(key, about, kind, required), v => id.Set(into, v)));
        writers.Add((from, to, names) => to.Add(key, id.Get(from) is { } said ? names.TextOf(kind, said) : null));
        return this;
    }

    /// <summary>A value that may be left out.</summary>
    public Form<T> Value<TValue>(
        Expression<Func<T, TValue?>> member,
        string key,
        string about,
        Codec<TValue> codec,
        bool required = false
    )
        where TValue : class
    {
        last = key;
        var value = Member<TValue?>.Of(member);
        readers.Add(
            (f, into) =>
                Take(f.Value(key, about, codec.Read, required, codec.Words, codec.Holds), v => value.Set(into, v))
        );
        writers.Add((from, to, _) => to.Add(key, value.Get(from) is { } said ? codec.Write(said) : null));
        return this;
    }

    /// <summary>A value that may be left out.</summary>
    public Form<T> Value<TValue>(Expression<Func<T, TValue?>> member, string key, string about, Codec<TValue> codec)
        where TValue : struct
    {
        last = key;
        var value = Member<TValue?>.Of(member);
        readers.Add((f, into) => Take(Read(f, key, about, codec, false), v => value.Set(into, v)));
        writers.Add((from, to, _) => to.Add(key, value.Get(from) is { } said ? codec.Write(said) : null));
        return this;
    }

    /// <summary>A value that has to be there.</summary>
    public Form<T> Needs<TValue>(Expression<Func<T, TValue>> member, string key, string about, Codec<TValue> codec)
        where TValue : struct
    {
        last = key;
        var value = Member<TValue>.Of(member);
        readers.Add((f, into) => Take(Read(f, key, about, codec, true), v => value.Set(into, v)));
        writers.Add((from, to, _) => to.Add(key, codec.Write(value.Get(from))));
        return this;
    }

    /// <summary>A value that the blank has when its key is left out.</summary>
    /// <param name="member">The member of the record that holds it.</param>
    /// <param name="key">What it is written under.</param>
    /// <param name="about">What is expected there, for whoever fills it in.</param>
    /// <param name="codec">Reads and writes one value.</param>
    /// <param name="written">Whether it is written also when it is that of the blank.</param>
    public Form<T> Otherwise<TValue>(
        Expression<Func<T, TValue>> member,
        string key,
        string about,
        Codec<TValue> codec,
        bool written = false
    )
        where TValue : struct
    {
        last = key;
        var value = Member<TValue>.Of(member);
        var otherwise = value.Get(blank());
        readers.Add((f, into) => Take(Read(f, key, about, codec, false), v => value.Set(into, v)));
        writers.Add(
            (from, to, _) =>
                to.Add(key, written || !value.Get(from).Equals(otherwise) ? codec.Write(value.Get(from)) : null)
        );
        return this;
    }

    /// <summary>A list of values; an empty one is the same as none.</summary>
    public Form<T> Values<TValue>(
        Expression<Func<T, ImmutableArray<TValue>>> member,
        string key,
        string about,
        Codec<TValue> codec
    ) => Values(member, key, about, _ => codec, codec.Words);

    /// <summary>A list of values that name other records.</summary>
    /// <param name="member">The member of the record that holds it.</param>
    /// <param name="key">What it is written under.</param>
    /// <param name="about">What is expected there, for whoever fills it in.</param>
    /// <param name="codec">Reads and writes one value.</param>
    /// <param name="words">The words of the set, in the order in which they are shown.</param>
    /// <param name="atLeast">What the list has to have, when it has to be there.</param>
    public Form<T> Values<TValue>(
        Expression<Func<T, ImmutableArray<TValue>>> member,
        string key,
        string about,
        Func<INames, Codec<TValue>> codec,
        ImmutableArray<string> words,
        string? atLeast = null
    )
    {
        last = key;
        var values = Member<ImmutableArray<TValue>>.Of(member);
        readers.Add(
            (f, into) =>
            {
                values.Set(into, f.Values(key, about, codec(f.Names).Read, words));
                if (atLeast is not null)
                    f.Require(key, atLeast);
            }
        );
        writers.Add((from, to, names) => to.Texts(key, values.Get(from).Select(codec(names).Write)));
        return this;
    }

    /// <summary>A list of values; an empty one says that there are none, a missing one that nobody knows.</summary>
    public Form<T> KnownValues<TValue>(
        Expression<Func<T, ImmutableArray<TValue>?>> member,
        string key,
        string about,
        Codec<TValue> codec
    )
    {
        last = key;
        var values = Member<ImmutableArray<TValue>?>.Of(member);
        readers.Add(
            (f, into) =>
            {
                var read = f.Values(key, about, codec.Read, codec.Words);
                if (f.Has(key))
                    values.Set(into, read);
            }
        );
        writers.Add(
            (from, to, _) =>
                to.Always(key, values.Get(from) is { } said ? ListNode.OfTexts(said.Select(codec.Write)) : null)
        );
        return this;
    }

    /// <summary>What has to hold between the fields; asked when each of them was read.</summary>
    public Form<T> Rule(Action<Fields, T> rule)
    {
        rules.Add(rule);
        return this;
    }

    /// <summary>
    /// Reads what <see cref="Write"/> writes; null when anything was wrong, which the reading then has.
    /// </summary>
    public T? Read(Fields f)
    {
        var made = blank();
        foreach (var reader in readers)
            reader(f, made);
        if (f.Describing)
            foreach (var (key, label, one) in names)
                f.Name(key, label, one);
        if (f.Sound)
            foreach (var rule in rules)
                rule(f, made);
        return f.Build(() => made);
    }

    /// <summary>Reads a record with the id that it is known by.</summary>
    public T? Read(string id, Fields f)
    {
        if (Read(f) is not { } made)
            return null;
        identify!(made, id);
        return made;
    }

    /// <summary>Writes a record, its fields in the order of their declaration.</summary>
    public MapNode Write(T value, INames names)
    {
        var writer = new MapWriter();
        foreach (var one in writers)
            one(value, writer, names);
        return writer.Done();
    }

    private static TValue? Read<TValue>(Fields f, string key, string about, Codec<TValue> codec, bool required)
        where TValue : struct => f.Value(key, about, t => codec.Read(t).To(v => (TValue?)v), required, codec.Words);

    private static void Take<TValue>(TValue? read, Action<TValue> set)
        where TValue : class
    {
        if (read is not null)
            set(read);
    }

    private static void Take<TValue>(TValue? read, Action<TValue> set)
        where TValue : struct
    {
        if (read is { } value)
            set(value);
    }

    /// <summary>A member of the record, to get and, while it is being read, to set.</summary>
    private sealed record Member<TValue>(Func<T, TValue> Get, Action<T, TValue> Set)
    {
        public static Member<TValue> Of(Expression<Func<T, TValue>> member)
        {
            var property = (PropertyInfo)((MemberExpression)member.Body).Member;
            return new(
                property.GetMethod!.CreateDelegate<Func<T, TValue>>(),
                property.SetMethod!.CreateDelegate<Action<T, TValue>>()
            );
        }
    }
}
