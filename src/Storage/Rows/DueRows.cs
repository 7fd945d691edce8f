namespace Vellumkeep.Storage.Rows;

/// <summary>What is projected of the days on which something falls due.</summary>
internal static class DueRows
{
    /// <summary>The word of a window of a change that may still begin.</summary>
    public const string Window = "window";

    /// <summary>The word of the review that urgent work owes.</summary>
    public const string Review = "review";

    public static IEnumerable<DueRow> Of(IRecord record) =>
        record is Change change ? OfChange(change)
        : record.Retired is not null || record is Tunnel { State: TunnelState.Retired } ? []
        : DueDates
            .Of(RecordBody.Form(record))
            .DistinctBy(d => (d.Kind, d.Path))
            .Select(d => Row(record, DueDates.Kinds.Of(d.Kind), d.On, d.Path));

    private static IEnumerable<DueRow> OfChange(Change change)
    {
        if (change.Open && change.Window is { } window)
            yield return Row(change, Window, DateOnly.FromDateTime(window.Start.UtcDateTime), "window");
        if (change.Urgent is { ReviewedBy: null } urgent)
            yield return Row(change, Review, DateOnly.FromDateTime(urgent.ReviewBy.UtcDateTime), "urgent");
    }

    private static DueRow Row(IRecord record, string kind, DateOnly on, string path) =>
        new()
        {
            RecordId = record.Id,
            Kind = kind,
            On = Scalars.Write(on),
            Path = path,
        };
}
