using System.Text.Json;
using DuneCrate.Web.Api;
using Microsoft.Extensions.Primitives;

namespace DuneCrate.Web.Access;

/// <summary>
/// What a request must look like before anything answers it: a method as it is written in the standard, no body with a read, and show and
/// shot in the address alone. Sources: RFC 9110, 9.1 (methods are case-sensitive) and 9.3.1 (a body of GET means nothing and may be
/// refused); OWASP Web Security Testing Guide, WSTG-INPV-03 (verb tampering) and WSTG-INPV-04 (parameter pollution).
/// </summary>
internal static class RequestForm
{
    private const string Allowed = "GET, HEAD, POST";

    private static readonly string[] Places = ["show", "shot"];

    /// <summary>Refuses every method but GET, HEAD and POST, written exactly so, and reads with a body.</summary>
    public static Task Canonical(HttpContext http, RequestDelegate next)
    {
        HttpRequest request = http.Request;
        if (request.Method is not ("GET" or "HEAD" or "POST"))
        {
            http.Response.Headers.Allow = Allowed;
            return SayAsync(http, StatusCodes.Status405MethodNotAllowed, $"This application answers {Allowed}, written in capitals.");
        }

        // Kestrel gives HTTP/1.1 a body only where a length or chunks announce one.
        return
            request.Method != "POST"
            && (request.ContentLength > 0 || request.Headers.TransferEncoding.Count > 0 || request.HasFormContentType)
            ? SayAsync(http, StatusCodes.Status400BadRequest, $"A {request.Method} has no body here; send what it asks for in its address.")
            : next(http);
    }

    /// <summary>Refuses a request whose query, form or JSON names another show or shot than its address: what is meant would be a
    /// guess.</summary>
    public static async Task OnePlace(HttpContext http, RequestDelegate next)
    {
        if (http.GetRouteValue("show") is null)
        {
            await next(http);
            return;
        }

        string? problem;
        try
        {
            problem = await NamesAnotherAsync(http)
                ? "The request names another show or shot than its address; nothing was changed."
                : null;
        }
        catch (InvalidDataException)
        {
            problem = "The form cannot be read. Reload the page and try once more; nothing was changed.";
        }

        await (problem is null ? next(http) : SayAsync(http, StatusCodes.Status400BadRequest, problem));
    }

    private static async Task<bool> NamesAnotherAsync(HttpContext http)
    {
        HttpRequest request = http.Request;
        return Contradicts(http, request.Query)
            || (request.HasFormContentType && Contradicts(http, await request.ReadFormAsync(http.RequestAborted)))
            || (request.HasJsonContentType() && await JsonNamesAnotherAsync(http));
    }

    private static bool Contradicts(HttpContext http, IEnumerable<KeyValuePair<string, StringValues>> fields) =>
        fields.Any(f => f.Value.Any(v => Contradicts(http, f.Key, v)));

    /// <summary>Fields of the outermost object; what cannot be read is left to whoever takes it.</summary>
    private static async Task<bool> JsonNamesAnotherAsync(HttpContext http)
    {
        http.Request.EnableBuffering();
        try
        {
            using JsonDocument body = await JsonDocument.ParseAsync(http.Request.Body, cancellationToken: http.RequestAborted);
            return body.RootElement.ValueKind == JsonValueKind.Object
                && body.RootElement.EnumerateObject()
                    .Any(p =>
                        Contradicts(http, p.Name, p.Value.ValueKind == JsonValueKind.String ? p.Value.GetString() : p.Value.GetRawText())
                    );
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return false;
        }
        finally
        {
            http.Request.Body.Position = 0;
        }
    }

    private static bool Contradicts(HttpContext http, string field, string? value) =>
        Places.FirstOrDefault(p => p.Equals(field, StringComparison.OrdinalIgnoreCase)) is { } place
        && value != http.GetRouteValue(place) as string;

    private static Task SayAsync(HttpContext http, int status, string problem) => ApiEndpoints.Problem(status, problem).ExecuteAsync(http);
}
