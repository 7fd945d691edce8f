using System.Text.Json;
using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Records;

/// <summary>From what was given to a record, or to what is wrong with it.</summary>
public sealed partial class RecordWork
{
    private sealed record ReadRecord(IRecord Record, ImmutableArray<Derived> Derived);

    /// <summary>
    /// The record that is meant, from a whole form, a text, or values put into the one that is there; or every problem
    /// with its field.
    /// </summary>
    private static ReadRecord Make(
        KeepContext context,
        RecordKind kind,
        IRecord? existing,
        WriteRecord given,
        Asker asker
    )
    {
        // Only what the asker may see can be referred to; what the record refers to already stays as it is.
        var names = new StoredNames(context, asker.Scope);
        var form = given switch
        {
            { Text: { } text } => OfText(text),
            { Form: { ValueKind: JsonValueKind.Object } json } => (MapNode)json.Deserialize<Node>(Json)!,
            { Set.Count: > 0 } => existing is null
                ? MapNode.Empty
                : WrittenRecord.Write(existing, new StoredNames(context, Scope.Everything)),
            _ => throw ProblemException.Field(
                "form",
                "nothing to write was given",
                "form with fields, text in keepfile form, or set with paths and values"
            ),
        };
        foreach (var set in given.Set ?? [])
        {
            var path = PathOf(set.Path);
            if (set.Value is { } text && string.IsNullOrWhiteSpace(text))
                throw ProblemException.Field(set.Path, "it is empty", "a value; without one it is removed");
            var (value, unreadable) = set.Value is null ? (null, null) : YamlText.ReadPart(set.Value);
            if (unreadable is not null)
                throw ProblemException.Field(set.Path, unreadable.Wrong, unreadable.Right);
            form = Edits.Put(form, path, value);
        }

        var reader = new RecordReader(context);
        var derived = ImmutableArray<Derived>.Empty;
        if (existing is null)
            (form, derived) = Derive.Fill(kind, form, names, id =>
                reader.ByIdAsync<IRecord>(Scope.Everything, id, default).GetAwaiter().GetResult()?.Record
            );
        var kept = existing is null ? [] : RecordReader.Names(existing).ToHashSet();
        var (record, problems) = WrittenRecord.Read(
            kind,
            existing?.Id ?? "new",
            form,
            kept.Count == 0 ? names : new Also(names, context, kept)
        );
        var all = problems.ToList();
        Gateway? GatewayOf(string id) =>
            reader.ByIdAsync<Gateway>(Scope.Everything, id, default).GetAwaiter().GetResult()?.Record;
        if (record is Tunnel tunnel)
            all.AddRange(
                Keepfile.EndProblems(
                    tunnel,
                    GatewayOf,
                    "",
                    _ => 0,
                    g => names.IdOf(RecordKind.Gateway, g.Code) is not null
                )
            );
        if (record is Gateway gateway && existing is Gateway before)
            all.AddRange(Unheld(before, gateway, reader, asker.Scope));
        if (record is Person && existing is not null && record.Code != existing.Code)
            all.Add(new("code", 0, "a sign-in name cannot change, because the history contains it", existing.Code));
        if (all.Count > 0)
            throw new ProblemException(
                422,
                "wrong-value",
                "A value is wrong",
                $"{Say.Capital(all[0].Field)}: {all[0].Wrong}. Expected: "
                    + $"{all[0].Right}.{(all.Count > 1 ? $" {all.Count - 1} more." : "")} Nothing was changed."
            )
                .With("field", all[0].Field)
                .With("right", all[0].Right)
                .With("problems", all.Take(200).Select(p => new FieldProblem(p.Field, p.Line, p.Wrong, p.Right)));
        return new(record!, derived);
    }

    /// <summary>Uplinks and shared entries that go although a tunnel names them.</summary>
    private static IEnumerable<Problem> Unheld(Gateway before, Gateway after, RecordReader reader, Scope scope)
    {
        var gone = before
            .Uplinks.Select(u => u.Label)
            .Except(after.Uplinks.Select(u => u.Label))
            .Concat(before.SharedEntries.Select(h => h.Name).Except(after.SharedEntries.Select(h => h.Name)))
            .ToArray();
        if (gone.Length == 0)
            yield break;
        foreach (var tunnel in reader.OnGatewayAsync(before.Id, default).GetAwaiter().GetResult())
        foreach (var problem in Keepfile.EndProblems(tunnel, id => id == after.Id ? after : null, tunnel.Code, _ => 0))
        {
            var named = scope.Sees(tunnel.CustomerId) ? tunnel.Code : "another customer's tunnel";
            yield return problem with
            {
                Field = problem.Field.EndsWith("uplinks", StringComparison.Ordinal) ? "uplinks" : "sharedEntries",
                Wrong = $"{named} still uses it: {problem.Wrong}",
                Right = $"no change here, or correct {named} first",
            };
        }
    }

    private static MapNode OfText(string text)
    {
        var (root, problem) = YamlText.ReadPart(text);
        return problem is not null
            ? throw ProblemException.Field($"line {problem.Line}", problem.Wrong, problem.Right)
            : root as MapNode
                ?? throw ProblemException.Field("text", "it has no fields", "key: value lines, as the record is shown");
    }

    /// <summary>The findings that come and go on tunnels that the asker may see.</summary>
    private static (IReadOnlyList<ImportFinding> Added, IReadOnlyList<ImportFinding> Removed) ChangesOf(
        IReadOnlyList<FindingChange> changes,
        Asker asker,
        IReadOnlySet<string> visible,
        INames names,
        IRecord written
    )
    {
        var shown = changes
            .Where(m => m.TunnelId == written.Id || visible.Contains(m.TunnelId))
            .OrderBy(m => m.Severity)
            .Take(200)
            .Select(m =>
                (
                    m.Added,
                    Shown: new ImportFinding(
                        m.TunnelId == written.Id ? written.Code : names.TextOf(RecordKind.Tunnel, m.TunnelId),
                        m.Code,
                        Severities.Words.Of(m.Severity),
                        m.What.Show(asker.Scope.Sees)
                    )
                )
            )
            .ToArray();
        return (
            [.. shown.Where(s => s.Added).Select(s => s.Shown)],
            [.. shown.Where(s => !s.Added).Select(s => s.Shown)]
        );
    }

    /// <summary>A path is looked at before anything walks along it.</summary>
    private static FieldPath PathOf(string path)
    {
        if (
            string.IsNullOrWhiteSpace(path)
            || path.Length > Bounds.PathLength
            || path.Count(c => c is '.' or '[') >= Bounds.PathDepth
        )
            throw ProblemException.Field(
                "set.path",
                $"'{Typed.Short(path ?? "")}' is not a path in the form",
                $"at most {Bounds.PathDepth} keys separated by dots, items of lists in brackets: networks[cold store].purpose"
            );
        var read = FieldPath.Parse(path);
        return read.Ok ? read.Value : throw ProblemException.Field(path, "this is not a path in the form", read.Right!);
    }

    /// <summary>Names that also know what the record refers to already, whoever may see it.</summary>
    private sealed class Also(INames names, KeepContext context, IReadOnlySet<string> kept) : INames
    {
        private readonly StoredNames everything = new(context, Scope.Everything);

        public string? IdOf(RecordKind kind, string text) =>
            names.IdOf(kind, text) ?? (everything.IdOf(kind, text) is { } id && kept.Contains(id) ? id : null);

        public string TextOf(RecordKind kind, string id) => names.TextOf(kind, id);

        public IEnumerable<string> Known(RecordKind kind) => names.Known(kind);
    }
}
