using System.Security.Cryptography;
using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.Repositories;

namespace Vellumkeep.Service.Hosting;

/// <summary>
/// Keeps the keys that protect cookies in the database, encrypted under the key folder, so that every service on it
/// reads the cookies of the others and nobody who has the database alone makes one.
/// </summary>
public sealed class CookieKeys(Databases databases, AtRest atRest) : IXmlRepository
{
    public IReadOnlyCollection<XElement> GetAllElements()
    {
        using var context = databases.Open();
        return [.. context.CookieKeys.AsNoTracking().OrderBy(k => k.Id).ToList().Select(Opened).OfType<XElement>()];
    }

    public void StoreElement(XElement element, string friendlyName)
    {
        using var context = databases.Open();
        var (under, closed) = atRest.Encrypt(element.ToString(SaveOptions.DisableFormatting), friendlyName);
        context.CookieKeys.Add(
            new()
            {
                Name = friendlyName,
                Under = under,
                Ciphertext = closed,
            }
        );
        context.SaveChanges();
    }

    /// <summary>A key whose folder is lost lets nobody in: people sign in again.</summary>
    private XElement? Opened(CookieKeyRow row)
    {
        try
        {
            return XElement.Parse(atRest.Decrypt(row.Under, row.Ciphertext, row.Name));
        }
        catch (Exception e) when (e is EncryptionKeyMissingException or CryptographicException)
        {
            return null;
        }
    }
}
