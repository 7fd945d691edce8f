using Vellumkeep.Exchange.Keepfiles;

namespace Vellumkeep.Service.Imports;

/// <summary>
/// A file to import. It is not held while it is worked on, because its lines take as much room as the records that are
/// made of them; when it is worked out anew, because somebody was faster, it is read again.
/// </summary>
public sealed class RereadableFile(Node root, Func<Node> again)
{
    private Node? first = root;

    /// <summary>How many records it has.</summary>
    public int Records { get; } = Keepfile.CountOf(root);

    /// <summary>The file, which is not held here any longer.</summary>
    public Node Take()
    {
        var taken = first ?? again();
        first = null;
        return taken;
    }
}
