namespace Vellumkeep.Core.Forms;

/// <summary>
/// The written form of every kind of record, read and written in one place. Changes have none: their plan is no form.
/// </summary>
public static class WrittenRecord
{
    /// <summary>The kinds that have a written form, in the order in which they refer to each other.</summary>
    public static readonly ImmutableArray<RecordKind> Kinds =
    [
        RecordKind.Customer,
        RecordKind.Platform,
        RecordKind.Suite,
        RecordKind.Offer,
        RecordKind.Site,
        RecordKind.Gateway,
        RecordKind.Tunnel,
        RecordKind.Person,
    ];

    /// <summary>Reads a record of a kind; null when anything is wrong, with the problems in the reading.</summary>
    public static IRecord? Read(RecordKind kind, string id, Fields f) =>
        kind switch
        {
            RecordKind.Customer => WrittenCustomer.Form.Read(id, f),
            RecordKind.Platform => WrittenPlatform.Form.Read(id, f),
            RecordKind.Suite => WrittenSuite.Form.Read(id, f),
            RecordKind.Offer => WrittenOffer.Form.Read(id, f),
            RecordKind.Site => WrittenSite.Form.Read(id, f),
            RecordKind.Gateway => WrittenGateway.Form.Read(id, f),
            RecordKind.Tunnel => WrittenTunnel.Form.Read(id, f),
            RecordKind.Person => WrittenPerson.Form.Read(id, f),
            _ => throw new ArgumentException($"A {kind.Word()} has no written form.", nameof(kind)),
        };

    /// <summary>Reads a record on its own, or says what is wrong with which field.</summary>
    public static (IRecord? Record, IReadOnlyList<Problem> Problems) Read(
        RecordKind kind,
        string id,
        MapNode form,
        INames names
    )
    {
        var reading = new Reading(names);
        var record = Read(kind, id, new Fields(form, "", reading));
        return reading.Problems.Count == 0 ? (record, reading.Problems) : (null, reading.Problems);
    }

    /// <summary>Writes a record of any kind.</summary>
    public static MapNode Write(IRecord record, INames names) =>
        record switch
        {
            Customer c => WrittenCustomer.Form.Write(c, names),
            Platform p => WrittenPlatform.Form.Write(p, names),
            Suite s => WrittenSuite.Form.Write(s, names),
            Offer o => WrittenOffer.Form.Write(o, names),
            Site s => WrittenSite.Form.Write(s, names),
            Gateway g => WrittenGateway.Form.Write(g, names),
            Tunnel t => WrittenTunnel.Form.Write(t, names),
            Person p => WrittenPerson.Form.Write(p, names),
            _ => throw new ArgumentException($"A {record.Kind.Word()} has no written form.", nameof(record)),
        };

    /// <summary>What the form of a kind asks for.</summary>
    public static ImmutableArray<FieldNote> Describe(RecordKind kind)
    {
        var fields = new Fields(null, "", new Reading(IdNames.Instance, describing: true));
        Read(kind, "", fields);
        return fields.Notes;
    }

    /// <summary>The whole code of a form: with the version for suites and platform profiles, which carry one.</summary>
    public static string CodeOf(RecordKind kind, MapNode form)
    {
        var code = Typed.Trim(form.Text("code") ?? "");
        return kind is RecordKind.Suite or RecordKind.Platform
            ? $"{code}@{Typed.Trim(form.Text("version") ?? "")}"
            : code;
    }
}
