namespace Vellumkeep.Storage.Rows;

/// <summary>What stands in the place of an owner where a record has no single one.</summary>
public static class OwnerKeys
{
    /// <summary>The owner of people's records: nobody who sees some customers only sees them.</summary>
    public const string People = "people";

    /// <summary>The owner of what is about several customers: nobody who sees some customers only sees it.</summary>
    public const string Several = "several";
}
