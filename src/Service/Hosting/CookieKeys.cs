using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.Repositories;

namespace Vellumkeep.Service.Hosting;

/// <summary>Keeps the keys that protect cookies in the database, so that every service on it reads the cookies of the others.</summary>
public sealed class CookieKeys(Databases databases) : IXmlRepository
{
    public IReadOnlyCollection<XElement> GetAllElements()
    {
        using var context = databases.Open();
        return [.. context.CookieKeys.AsNoTracking().OrderBy(k => k.Id).Select(k => k.Xml).ToList().Select(XElement.Parse)];
    }

    public void StoreElement(XElement element, string friendlyName)
    {
        using var context = databases.Open();
        context.CookieKeys.Add(new() { Name = friendlyName, Xml = element.ToString(SaveOptions.DisableFormatting) });
        context.SaveChanges();
    }
}
