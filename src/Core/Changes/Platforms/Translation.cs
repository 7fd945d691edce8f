using Vellumkeep.Core.Changes.Planning;
using Vellumkeep.Core.Resolution;

namespace Vellumkeep.Core.Changes.Platforms;

/// <summary>
/// What one end of a tunnel has on its platform, carried to another. What both ends must have alike is changed on both.
/// </summary>
internal sealed class Translation(EndView end, Platform to, Tunnel tunnel)
{
    private readonly List<Translated> told = [];
    private readonly Platform from = end.Platform;
    private Tunnel tunnel = tunnel;

    /// <summary>What becomes of each setting, in the order of the settings.</summary>
    public IReadOnlyList<Translated> Told => told;

    /// <summary>The tunnel as it will be.</summary>
    public Tunnel Carry()
    {
        if (Version() is not { } version)
        {
            Tell(
                "IKE version",
                Versions(end.Get(Settings.IkeVersions).Value?.Items ?? []),
                null,
                Carries.Impossible,
                $"{to.Title:w} and {end.Other.Platform.Title:w} at {end.Other.Name} have no IKE version in common."
            );
            return tunnel;
        }

        foreach (var setting in Settings.All)
            if (setting.On(end) is { Any: not null } resolved)
                CarrySetting(setting, resolved, version);
        CarryForm();
        CarryManual(ManualWork.Rules, "firewall rules", end.End.Rules is not null, e => e with { Rules = null });
        CarryManual(ManualWork.NoNat, "no-NAT rules", end.End.NoNat is not null, e => e with { NoNat = null });
        CarryManual(ManualWork.Route, "routes", tunnel.End(end.Name).Routes is not null, e => e with { Routes = null });
        CarryIdentity();
        CarryKey();
        CarryPairs();
        return tunnel;
    }

    private void Tell(string what, string? before, string? after, Carries carries, Sentence why) =>
        told.Add(new(tunnel.Id, tunnel.Code, end.Name, what, before, after, carries, why));

    private static string Versions(IEnumerable<IkeVersion> versions) =>
        string.Join(", ", versions.Select(WordsOf.IkeVersions.Of));

    /// <summary>
    /// The newest version of those in use that the platform speaks; else the newest that both ends could.
    /// </summary>
    private IkeVersion? Version()
    {
        var inUse = (end.Get(Settings.IkeVersions).Value?.Items ?? []).Where(to.IkeVersions.Contains).ToArray();
        var possible = inUse.Length > 0 ? inUse : to.IkeVersions.Intersect(end.Other.Platform.IkeVersions);
        return possible.Select(v => (IkeVersion?)v).Max();
    }

    private void CarrySetting(Setting setting, IResolved resolved, IkeVersion version)
    {
        var value = resolved.Any!;
        // Main or aggressive is a word of IKEv1.
        if (setting == Settings.ExchangeMode && version == IkeVersion.IKEv2)
            return;
        var text = value is Several<IkeVersion> versions ? Versions(versions.Items) : value.ToString()!;
        var carried = SettingCarry.Of(setting, value, end, to, version);
        if (carried.Then is not { } then)
        {
            Tell(setting.Label, text, null, Carries.Impossible, carried.Why!);
            return;
        }

        var typed = Typed(then);
        if (!then.Equals(value))
        {
            Tell(setting.Label, text, typed, Carries.Changed, carried.Why!);
            tunnel = carried.Alike ? tunnel.WithAgreed(setting, then) : With(e => e.WithSetting(setting, then));
        }
        // What the old platform did automatically the new one may not: it is entered now.
        else if (resolved.Source == Source.Default && to.Defaults.TextOf(setting) != value.ToString())
        {
            Tell(
                setting.Label,
                $"{text}, by default",
                typed,
                Carries.Kept,
                to.Defaults.TextOf(setting) is { } byDefault
                    ? Sentence.Of(
                        $"It was the default of {from.Title:w}. Enter it now: the default of {to.Title:w} is '{byDefault}'."
                    )
                    : Sentence.Of($"It was the default of {from.Title:w}. Enter it now: {to.Title:w} has no default.")
            );
            tunnel = With(e => e.WithSetting(setting, value));
        }
        else
            Tell(
                setting.Label,
                text,
                typed,
                Carries.Kept,
                typed == text
                    ? Sentence.Of($"{to.Title:w} supports it as it is.")
                    : Sentence.Of($"The same time, entered in {to.LifetimeUnit!.ToString()!.ToLowerInvariant():w}.")
            );
    }

    /// <summary>A value as it is typed on the platform.</summary>
    private string Typed(object value) =>
        value switch
        {
            Several<IkeVersion> versions => Versions(versions.Items),
            Life life => Entries.InUnit(life, to),
            _ => value.ToString()!,
        };

    private Tunnel With(Func<TunnelEnd, TunnelEnd> alter) => tunnel.WithEnd(end.Name, alter);

    private void CarryForm()
    {
        var was = WordsOf.Forms.Of(tunnel.Form);
        if (to.Forms.IsEmpty || to.Forms.Contains(tunnel.Form))
        {
            Tell("form", was, was, Carries.Kept, $"{to.Title:w} supports it as it is.");
            return;
        }

        Tell(
            "form",
            was,
            WordsOf.Forms.Of(to.Forms[0]),
            Carries.Changed,
            to.Forms[0] == TunnelForm.RouteBased
                ? Sentence.Of(
                    $"{to.Title:w} is route-based: it needs routes into the tunnel, and exactly the selectors of "
                        + $"{end.Other.Name}."
                )
                : Sentence.Of($"{to.Title:w} is policy-based: it uses selectors, and no routes.")
        );
        tunnel = With(e => e with { Routes = null }) with { Form = to.Forms[0] };
    }

    /// <summary>What stands beside the tunnel: manual there too, or done by the platform.</summary>
    private void CarryManual(ManualWork work, string what, bool recorded, Func<TunnelEnd, TunnelEnd> leaveOut)
    {
        if (!recorded && from.IsManual(work) != true)
            return;
        if (to.IsManual(work) == false)
        {
            Tell(what, "manual", "automatic", Carries.Changed, $"{to.Title:w} does it automatically; enter nothing.");
            tunnel = With(leaveOut);
        }
        else if (to.IsManual(work) == true)
            Tell(what, "manual", "manual", Carries.Kept, $"It is manual there too.");
        else
            Tell(
                what,
                "manual",
                "unknown",
                Carries.Kept,
                $"The profile of {to.Title:w} does not say. Enter them and check."
            );
    }

    private void CarryIdentity()
    {
        if (end.IdentitySent is { Source: Source.Default, Value: { } identity } && to.SendsAddressByDefault != true)
        {
            Tell(
                "local identity",
                $"{identity}, by default",
                identity.ToString(),
                Carries.Kept,
                $"{to.Title:w} has no default identity. Enter it now."
            );
            tunnel = With(e => e with { IdentitySent = Recorded<Identity>.Known(identity) });
        }

        if (end.IdentitySent.Value is { } sends && to.IdentityKinds is { } kinds && !kinds.Contains(sends.Type))
            Tell(
                "local identity",
                sends.ToString(),
                null,
                Carries.Impossible,
                $"{to.Title:w} cannot send an identity of that type; it can send {Say.And(kinds.Select(Identity.Kinds.Of)):w}."
            );
    }

    private void CarryKey()
    {
        if (end.Get(Settings.Authentication).Value?.Value == Authentication.Certificate || to.Keys is not { } limits)
            return;
        var held = end.End.KeyHeld?.ToString() ?? "not recorded";
        Tell(
            "pre-shared key",
            held,
            held,
            Carries.Kept,
            limits.Shortest > (from.Keys?.Shortest ?? 1)
                ? Sentence.Of(
                    $"{to.Title:w} needs a PSK of at least {limits.Shortest!.Value} characters. If the one in use "
                        + $"is shorter, rekey both ends first."
                )
                : Sentence.Of($"{to.Title:w} accepts {limits.Shortest ?? 1} to {limits.Longest ?? 4096} characters.")
        );
    }

    private void CarryPairs()
    {
        if (to.MostPairs is { } most && tunnel.Agreed.Pairs.Length > most)
            Tell(
                "subnet pairs",
                $"{tunnel.Agreed.Pairs.Length}",
                null,
                Carries.Impossible,
                $"{to.Title:w} supports at most {most} pairs in one tunnel."
            );
    }
}
