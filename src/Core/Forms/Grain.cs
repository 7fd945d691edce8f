namespace Vellumkeep.Core.Forms;

/// <summary>Which part of a field is one value: what one step enters, and what a deviation alters.</summary>
public enum Grain
{
    /// <summary>What differs, as deep as it differs.</summary>
    AsItDiffers,

    /// <summary>The field as a whole, with how it was confirmed and whether it is there for now.</summary>
    Whole,

    /// <summary>Each of its parts, and within a part what differs.</summary>
    Parts,

    /// <summary>Each of its parts as a whole, such as each setting.</summary>
    WholeParts,

    /// <summary>Each item of its list.</summary>
    Items,
}
