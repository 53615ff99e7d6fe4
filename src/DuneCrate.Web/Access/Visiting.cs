namespace DuneCrate.Web.Access;

/// <summary>Who makes a request.</summary>
public static class Visiting
{
    /// <summary>Finds out who makes a request, before anything asks.</summary>
    public static async Task Read(HttpContext http, RequestDelegate next)
    {
        http.Features.Set(await VisitorReader.ReadAsync(http));
        await next(http);
    }

    /// <summary>Who makes a request.</summary>
    public static Visitor Visitor(this HttpContext http) => http.Features.Get<Visitor>() ?? Access.Visitor.Nobody;
}
