namespace Vellumkeep.Contract;

/// <summary>
/// Something that happened at the door or around a secret. Outcome: done or refused. From: the address that asked.
/// </summary>
public sealed record AuditLine(DateTimeOffset At, string Who, string What, string About, string Outcome, string From);
