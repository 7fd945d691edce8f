namespace Vellumkeep.Core.Findings.Path;

/// <summary>PATH-16.</summary>
public static class NameUnreliable
{
    /// <summary>Peer given by name, resolved unreliably (PATH-16).</summary>
    public static readonly Check Check = new("PATH-16", "peer entered by name, resolved unreliably", c =>
        c.View.Ends.Where(e =>
                e.PeerAddress.Value?.Name is not null && e.Uplinks.FirstOrDefault()?.NamesReliable == false
            )
            .Select(e => new Finding
            {
                Severity = Severity.Note,
                Subject = e.Name.ToString(),
                RowKey = RowKey.AddressOf(e.Name.Other()),
                What =
                    $"{e.Name} resolves {e.Name.Other()} by the name {e.PeerAddress.Value!.Name}, and name "
                    + $"resolution is unreliable over {e.Uplinks.First().Label}.",
                Why = $"After a failure it can keep sending to an old address.",
                Do = $"Give {e.Name.Other()} a fixed address, or set {e.Name} to 'responds only'.",
                Evidence = Checked.Of(c.Row(RowKey.AddressOf(e.Name.Other()))),
            })
    );
}
