global using static Vellumkeep.EndToEnd.Cancelled;
using Xunit;

namespace Vellumkeep.EndToEnd;

/// <summary>The running test's own cancellation.</summary>
internal static class Cancelled
{
    public static CancellationToken Ct => TestContext.Current.CancellationToken;
}
