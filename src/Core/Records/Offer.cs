namespace Vellumkeep.Core.Records;

/// <summary>
/// What another party (a cloud, a supplier) always asks of everyone: kept once, so that the next tunnel with it begins
/// there.
/// </summary>
/// <param name="Identity">The identity it sends; null when it is another one for each customer.</param>
/// <param name="Subnets">What it lets others reach.</param>
/// <param name="Settings">What it asks for: any setting of a tunnel.</param>
public sealed record Offer(
    string Id,
    string Code,
    string CustomerId,
    string Name,
    Identity? Identity,
    ImmutableArray<Prefix> Subnets,
    SettingSet Settings,
    string? Notes
) : IRecord
{
    public RecordKind Kind => RecordKind.Offer;

    public DateOnly? Retired { get; init; }

    public static Offer? Read(string id, Fields f)
    {
        var code = f.Code("code", "code, such as VELL-EVERYONE");
        var party = f.Reference("party", "code of the other party whose offer it is", RecordKind.Customer, true);
        var name = f.Text("name", "name");
        var identity = f.Value(
            "identity",
            "identity it sends to everyone, such as: fqdn peer.cloud.example",
            Records.Identity.Parse
        );
        var subnets = f.Values("subnets", "prefixes it lets others reach", Prefix.Parse);
        var settings = f.Map("asks", "settings it asks for", s =>
        {
            var read = SettingSet.Read(s);
            return s.Build(() => read);
        });
        var notes = f.OptionalText("notes", "anything else", 4000);
        var retired = f.Value("retired", "date on which it was taken out of use", t =>
            Scalars.Date(t).To(d => (DateOnly?)d)
        );
        return f.Build(() =>
            new Offer(id, code, party!, name, identity, subnets, settings ?? SettingSet.Empty, notes)
            {
                Retired = retired,
            }
        );
    }

    public MapNode Write(INames names) =>
        new MapWriter()
            .Add("code", Code)
            .Add("party", names.TextOf(RecordKind.Customer, CustomerId))
            .Add("name", Name)
            .Add("identity", Identity?.ToString())
            .Texts("subnets", Subnets)
            .Add("asks", Settings.Write())
            .Add("notes", Notes)
            .Add("retired", Retired is { } day ? Scalars.Write(day) : null)
            .Done();
}
