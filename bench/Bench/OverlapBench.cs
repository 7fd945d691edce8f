namespace Vellumkeep.Bench;

/// <summary>Overlap search in the index beside the plain scan and beside PostgreSQL, with the same answers.</summary>
internal static class OverlapBench
{
    public static async Task MeasureAsync(Workplace at, Inventory warm, List<Ratio> lines)
    {
        // Overlap search over the fleet's prefixes against the plain pairwise scan.
        var prefixes = warm
            .Tunnels.SelectMany(t => t.Agreed.Pairs.Select((p, i) => (Prefix: p.B, Value: i)))
            .Take(400_000)
            .ToArray();
        var random = new Random(at.Seed);
        var asked = Enumerable
            .Range(0, 200)
            .Select(_ => prefixes[random.Next(prefixes.Length)].Prefix)
            .Select(p => random.Next(3) == 0 ? Prefix.Around(p.Network, Math.Max(8, p.Length - 2)) : p)
            .Distinct()
            .ToArray();
        var (index, building) = await Timing.TimedAsync(() => Task.FromResult(new PrefixIndex<int>(prefixes)));
        int ByIndex() => asked.Sum(a => index.Overlapping(a).Count());
        int ByScan() => asked.Sum(a => prefixes.Count(p => p.Prefix.Overlaps(a)));
        ByIndex();
        var (found, indexed) = await Timing.TimedAsync(() => Task.FromResult(ByIndex()));
        var (again, scanned) = await Timing.TimedAsync(() => Task.FromResult(ByScan()));
        if (found != again)
            throw new InvalidOperationException($"The index found {found}, the scan {again}.");
        lines.Add(
            new(
                $"pairwise scan over {prefixes.Length:N0} prefixes / overlap search in the index, {asked.Length} "
                    + $"questions, {found:N0} answers alike",
                $"{scanned / indexed:0}",
                $"{scanned * 1000:0.0} ms / {indexed * 1000:0.00} ms; built once in {building * 1000:0} ms"
            )
        );

        // The same questions to PostgreSQL's own index on inet, side by side.
        await using (var postgres = await Vellumkeep.Running.ShortPostgres.StartAsync())
        await using (var connection = new Npgsql.NpgsqlConnection(postgres.Connection))
        {
            await connection.OpenAsync();
            async Task Sql(string text)
            {
                await using var command = new Npgsql.NpgsqlCommand(text, connection);
                await command.ExecuteNonQueryAsync();
            }

            await Sql("create table p (n inet not null)");
            await using (var copy = await connection.BeginTextImportAsync("copy p from stdin"))
                foreach (var p in prefixes)
                    await copy.WriteAsync($"{p.Prefix}\n");
            await Sql("create index on p using gist (n inet_ops)");
            await Sql("vacuum analyze p");
            await using var ask = new Npgsql.NpgsqlCommand("select count(*) from p where n && $1::inet", connection)
            {
                Parameters = { new() { NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Text } },
            };
            await ask.PrepareAsync();
            async Task<long> ByGistAsync()
            {
                var total = 0L;
                foreach (var a in asked)
                {
                    ask.Parameters[0].Value = a.ToString();
                    total += (long)(await ask.ExecuteScalarAsync())!;
                }

                return total;
            }

            await ByGistAsync();
            var (third, gist) = await Timing.TimedAsync(ByGistAsync);
            if (third != found)
                throw new InvalidOperationException($"The index found {found}, PostgreSQL {third}.");
            lines.Add(
                new(
                    "PostgreSQL's GiST index on inet, prepared, over a socket of this machine / overlap search in "
                        + "the index, the same questions and answers",
                    $"{gist / indexed:0}",
                    $"{gist * 1000:0.0} ms / {indexed * 1000:0.00} ms"
                )
            );
        }
    }
}
