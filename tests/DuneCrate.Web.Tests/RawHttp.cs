using System.Net;
using System.Net.Sockets;
using System.Text;

namespace DuneCrate.Web.Tests;

/// <summary>Requests as bytes: HttpClient writes methods in capitals and takes bodies off, whoever attacks does not.</summary>
internal static class RawHttp
{
    /// <summary>Sends one request on a connection of its own.</summary>
    /// <returns>Status, head and body of the answer.</returns>
    public static async Task<(HttpStatusCode Status, string Head, string Body)> SendAsync(
        Uri server,
        string method,
        string target,
        string headers = "",
        string body = ""
    )
    {
        using var client = new TcpClient { NoDelay = true };
        await client.ConnectAsync(server.Host, server.Port);
        await using NetworkStream stream = client.GetStream();
        string length = body.Length > 0 ? $"Content-Length: {Encoding.UTF8.GetByteCount(body)}\r\n" : "";
        await stream.WriteAsync(
            Encoding.UTF8.GetBytes(
                $"{method} {target} HTTP/1.1\r\nHost: {server.Authority}\r\nConnection: close\r\n{headers}{length}\r\n{body}"
            )
        );
        using var reader = new StreamReader(stream);
        string answer = await reader.ReadToEndAsync(),
            head = answer.Split("\r\n\r\n", 2)[0];
        return (
            (HttpStatusCode)int.Parse(head.Split(' ')[1], System.Globalization.CultureInfo.InvariantCulture),
            head,
            answer[head.Length..]
        );
    }
}
