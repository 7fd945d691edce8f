using Vellumkeep.Contract;

namespace Vellumkeep.Client;

/// <summary>What waits, and what falls due.</summary>
public sealed partial class KeepClient
{
    public Task<TodayPage> TodayAsync(CancellationToken ct) => GetAsync<TodayPage>("today", ct);

    /// <summary>What falls due in so many days from today, 1 to 366.</summary>
    public Task<DuePage> DueAsync(int days, CancellationToken ct) => GetAsync<DuePage>($"due?days={days}", ct);
}
