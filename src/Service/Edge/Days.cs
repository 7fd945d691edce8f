namespace Vellumkeep.Service.Edge;

/// <summary>Days in a query, and moments as they are kept.</summary>
public static class Days
{
    public static DateOnly? Day(string field, string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        var read = Scalars.Date(text.Trim());
        return read.Ok ? read.Value : throw ProblemException.Field(field, read.Wrong!, read.Right!);
    }

    public static DateTimeOffset Moment(string text) => DateTimeOffset.Parse(text, CultureInfo.InvariantCulture);
}
