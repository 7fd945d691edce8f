using System.Net;
using System.Net.Sockets;

namespace Vellumkeep.Service.Edge;

/// <summary>Where a call comes from, as far as it counts as one place.</summary>
public static class CallOrigin
{
    /// <summary>
    /// An IPv4 address, or the /64 that one IPv6 host can choose its addresses from (RFC 4291, section 2.5.4).
    /// </summary>
    public static string Of(HttpContext http)
    {
        if (http.Connection.RemoteIpAddress is not { } address)
            return "unknown";
        if (address.IsIPv4MappedToIPv6)
            return address.MapToIPv4().ToString();
        return address.AddressFamily == AddressFamily.InterNetworkV6
            ? new IPAddress([.. address.GetAddressBytes().Take(8), .. new byte[8]]).ToString()
            : address.ToString();
    }
}
