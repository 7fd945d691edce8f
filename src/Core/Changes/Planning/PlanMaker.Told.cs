using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Planning;

/// <summary>What differs on an end, in lines of before and after.</summary>
internal sealed partial class PlanMaker
{
    /// <summary>
    /// Lines of before and after. Of an end that is empty at first the steps say everything; there it is one line.
    /// </summary>
    private void TellDifferences(EndWork work)
    {
        var (t, end, difference) = (work.Tunnel, work.End, work.Difference);
        var everything = Many ? $"{t.Then.Tunnel.Code} on {end.Gateway.Code}" : $"everything on {end.Gateway.Code}";
        string Named(string label) => Many ? $"{t.Then.Tunnel.Code} {label}" : label;
        string Some(int count) => Say.Count(count, "entry", "entries");
        var empty =
            !OnlySubnets
            && difference.Remove.IsEmpty
            && difference.Enter.All(d => d.IsNew)
            && difference.Enter.Length > 3;
        if (empty)
            differs.Add(new(end.Name, everything, "nothing", $"{Some(difference.Enter.Length)}, see the steps", []));
        var counted = OnlySubnets ? difference.Enter.Where(IsCounted).ToArray() : [];
        foreach (var entered in counted.GroupBy(d => d.After.Work))
            differs.Add(Counted(work, entered.Key, [.. entered], Named));
        // The steps name the list that it stands in; here it is what the list holds.
        string Text(Entry entry) => OnlySubnets && entry.SharedList is not null ? entry.PrefixText : entry.Text;
        foreach (var (was, then) in empty ? [] : difference.Enter.Except(counted))
            differs.Add(
                new(
                    end.Name,
                    Named(then.Label),
                    was is null ? "nothing" : Text(was),
                    Text(then),
                    was is null ? [then.Text] : []
                )
            );
        if (t.Goes(end.Name))
            differs.Add(new(end.Name, everything, Some(difference.Remove.Length), "nothing", []));
        else
            foreach (var gone in difference.Remove)
                differs.Add(new(end.Name, Named(gone.Label), gone.Text, "nothing", []));
    }

    private static bool IsCounted(Entered entered) =>
        entered.IsNew && entered.After.Work is Work.Rules or Work.NoNat or Work.Discard or Work.Routes;

    /// <summary>How many of a kind an end has, and what comes to them.</summary>
    private static BeforeAfter Counted(EndWork work, Work kind, Entered[] entered, Func<string, string> named)
    {
        var (what, one) = kind switch
        {
            Work.Rules => ("firewall rules", "rule"),
            Work.NoNat => ("no-NAT rules", "rule"),
            Work.Discard => ("discard routes", "route"),
            _ => ("routes", "route"),
        };
        var before = Entries.Of(work.Tunnel.Was.End(work.End.Name)).Count(e => e.Work == kind);
        return new(
            work.End.Name,
            named(what),
            Say.Count(before, one),
            Say.Count(before + entered.Length, one),
            [.. entered.Select(e => Called(work, e.After)).Distinct()]
        );
    }

    /// <summary>What an entry lets pass, as its pair is called, or what it leads to.</summary>
    private static string Called(EndWork work, Entry entry)
    {
        var pair = entry.Rule is { } rule ? new LocalRemote(rule.Local, rule.Remote, rule.Only) : entry.Pair;
        if (pair is null)
            return entry.Text;
        var name = work.Tunnel.Then.NameOf(SubnetPair.Of(work.End.Name, pair.Local, pair.Remote, pair.Traffic));
        return entry.Rule is null ? name : $"{name}, both directions";
    }
}
