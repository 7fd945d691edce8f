using Vellumkeep.Core.Changes;

namespace Vellumkeep.Core.Tests;

/// <summary>Values that tests need and do not care about.</summary>
internal static class TestValues
{
    /// <summary>No version of any key.</summary>
    public static IReadOnlySet<VersionOfKey> NoKeys { get; } = new HashSet<VersionOfKey>();

    /// <summary>Every version that a change brings into use.</summary>
    public static IReadOnlySet<VersionOfKey> KeysOf(Change c) =>
        c.Plan.Keys.Select(k => new VersionOfKey(k.TunnelId, k.Version)).ToHashSet();

    /// <summary>Done, with proof.</summary>
    public static readonly StepTold Proven = new(AttemptOutcome.Done) { Proof = "5 sent, 5 replies" };

    /// <summary>A path as it is written.</summary>
    public static FieldPath Path(string text) => FieldPath.Parse(text).Value!;

    /// <summary>The same tunnel with its ends exchanged: what was A is B.</summary>
    public static Tunnel Swapped(Tunnel t) =>
        t with
        {
            A = t.B,
            B = t.A,
            Agreed = t.Agreed with
            {
                OnlyA = t.Agreed.OnlyB,
                OnlyB = t.Agreed.OnlyA,
                IdentityA = t.Agreed.IdentityB,
                IdentityB = t.Agreed.IdentityA,
                Pairs = [.. t.Agreed.Pairs.Select(p => new SubnetPair(p.B, p.A))],
            },
        };

    /// <summary>The row that a text names.</summary>
    public static RowKey Row(string text) => RowKey.Find(text)!;

    /// <summary>A change of ines, which nobody has worked on yet.</summary>
    public static Change Change(
        ChangeRequest request,
        Plan plan,
        ChangeState state = ChangeState.Draft,
        string id = "c"
    ) =>
        new()
        {
            Id = id,
            Code = id.ToUpperInvariant(),
            Title = "t",
            Reason = "w",
            CustomerId = DemoInventory.All.Get<Tunnel>(request.Tunnels[0]).CustomerId,
            Request = request,
            Plan = plan,
            State = state,
            Author = "ines",
            StatusHistory = [new(ChangeState.Draft, "ines", default, null)],
        };

    /// <summary>The same, with the plan that the demo's records give.</summary>
    public static Change Change(ChangeRequest request, ChangeState state = ChangeState.Draft, string id = "c") =>
        Change(request, Planner.Plan(DemoInventory.All, request, DemoInventory.Today).Plan!, state, id);
}
