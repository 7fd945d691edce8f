namespace Vellumkeep.Core.Parsing;

/// <summary>A way of writing a value wrong that something else is told by.</summary>
public enum Slip
{
    /// <summary>A prefix has bits set behind its length.</summary>
    HostBits,

    /// <summary>A proposal names no DH group, as one for ESP does.</summary>
    NoDhGroup,
}
