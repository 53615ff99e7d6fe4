namespace DuneCrate.Web.Operations;

/// <summary>What every answer carries that is not one of the application's own files.</summary>
internal static class AnswerHeaders
{
    /// <summary>
    /// Nothing that somebody had to sign in for is kept by a cache between, and by a browser only what it asks for again with its tag.
    /// Sources: RFC 9111, 5.2.2; OWASP ASVS 5.0, V14.3.2.
    /// </summary>
    public static Task KeepPrivate(HttpContext http, RequestDelegate next)
    {
        http.Response.OnStarting(() =>
        {
            IHeaderDictionary headers = http.Response.Headers;
            headers.CacheControl = headers.ETag.Count > 0 ? "private, no-cache" : "private, no-store";
            headers.Remove("Last-Modified");
            headers.Remove("Pragma");
            return Task.CompletedTask;
        });
        return next(http);
    }
}
