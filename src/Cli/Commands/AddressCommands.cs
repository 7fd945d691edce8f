using System.CommandLine;
using Vellumkeep.Cli.Terminal;
using Vellumkeep.Contract;

namespace Vellumkeep.Cli.Commands;

/// <summary>Addresses: what is where, and what is free.</summary>
internal static class AddressCommands
{
    public static Command Make(Frame f)
    {
        var s = f.Screen;
        var customer = Frame.Text("--customer", "code");
        var what = new Argument<string>("address")
        {
            Description = "an address (what contains it) or a prefix (what overlaps it)",
        };
        var space = new Argument<string>("prefix") { Description = "where to look" };
        var length = new Option<int>("--length") { Description = "length wanted", Required = true };
        return Frame.Thing(
            "address",
            "where addresses are used",
            f.Verb(
                "find",
                "what contains an address, what overlaps a prefix",
                async (p, c, ct) =>
                {
                    var x = await c.AddressesAsync(p.GetValue(what)!, null, null, p.GetValue(customer), ct);
                    f.Shows(p, x, () =>
                    {
                        if (x.Containing.Count + x.Within.Count == 0)
                            s.Line($"Nothing uses {x.Asked}.");
                        Places(s, $"contains {x.Asked}", x.Containing);
                        if (x.Containing.Count > 0 && x.Within.Count > 0)
                            s.Line();
                        Places(s, $"within {x.Asked}", x.Within);
                    });
                    return 0;
                },
                what,
                customer
            ),
            f.Verb(
                "free",
                "free prefixes of a length within a prefix",
                async (p, c, ct) =>
                {
                    var x = await c.AddressesAsync(
                        null,
                        p.GetValue(space),
                        p.GetValue(length),
                        p.GetValue(customer),
                        ct
                    );
                    f.Shows(p, x, () =>
                    {
                        foreach (var free in x.Free)
                            s.Line(free);
                        if (x.Free.Count == 0)
                            s.Line($"No /{p.GetValue(length)} is free in {x.Asked}.");
                    });
                    return x.Free.Count == 0 ? 1 : 0;
                },
                space,
                length,
                customer
            )
        );
    }

    private static void Places(Screen s, string head, IReadOnlyList<PlaceLine> places) =>
        s.Table(
            [head, "as", "customer", "code", "name"],
            places.Select(x => (IReadOnlyList<string>)[x.Prefix, x.Kind, x.Owner, x.Code, x.Name])
        );
}
