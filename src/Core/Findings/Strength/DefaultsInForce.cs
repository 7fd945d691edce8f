using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Findings.Strength;

/// <summary>STR-10: platform defaults in force where nothing was agreed.</summary>
public static class DefaultsInForce
{
    private static readonly RowKey[] Keys =
    [
        Settings.IkeProposals,
        Settings.EspProposals,
        Settings.Pfs,
        Settings.IkeLifetime,
        Settings.EspLifetime,
        Settings.IkeVersions,
    ];

    /// <summary>Platform defaults in force where nothing was agreed (STR-10).</summary>
    public static readonly Check Check = new("STR-10", "platform defaults in force where nothing was agreed", c =>
        Enum.GetValues<EndName>()
            .SelectMany(end =>
            {
                var rows = c.Rows.Where(r => Keys.Contains(r.Key) && r.Cell(end).Source == Source.Default).ToArray();
                return rows.Length == 0
                    ? Enumerable.Empty<Finding>()
                    :
                    [
                        new Finding
                        {
                            Severity = Severity.Note,
                            Subject = end.ToString(),
                            RowKey = rows.Length == 1 ? rows[0].Key : null,
                            What =
                                $"{end} uses the defaults of {c.View.End(end).Platform.Title:w} for: "
                                + $"{Say.And(rows.Select(r => r.Label)):w}.",
                            Why = $"Nobody chose these values, and another software version can have other defaults.",
                            Do = $"Agree the values, and set them at {end}.",
                            Evidence =
                            [
                                .. rows.Select(r => new Evidence(
                                    end,
                                    r.Label,
                                    r.Cell(end).Text!,
                                    Checked.From(r.Cell(end))
                                )),
                            ],
                        },
                    ];
            })
    );
}
