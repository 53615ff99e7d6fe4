using DuneCrate.Shots.Jobs;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Operations;

/// <summary>The page that says what could not be done: what was asked and failed, or was refused, is not asked of it again.</summary>
internal static class ProblemPage
{
    /// <summary>Where it is.</summary>
    public const string Address = "/problem";

    /// <summary>The status that tells a failure: 507 for a full disk (RFC 4918, 11.5), else 500.</summary>
    public static int StatusOf(Exception e) =>
        e is TooBusyException ? StatusCodes.Status429TooManyRequests
        : Failures.IsFullDisk(e) ? StatusCodes.Status507InsufficientStorage
        : StatusCodes.Status500InternalServerError;

    /// <summary>How failures become that page; of each application its own, since the framework keeps its pipeline in it.</summary>
    public static ExceptionHandlerOptions OfFailures() => new() { ExceptionHandlingPath = Address, StatusCodeSelector = StatusOf };

    private static readonly object Words = new();

    /// <summary>Refuses with words of its own, which the problem page shows.</summary>
    public static StatusCodeResult Say(HttpContext http, int status, string words)
    {
        http.Items[Words] = words;
        return new StatusCodeResult(status);
    }

    /// <summary>The words that a refusal came with, or null.</summary>
    public static string? WordsOf(HttpContext http) => http.Items[Words] as string;

    /// <summary>
    /// Makes a read of the problem page out of the request that failed: neither its method nor its handler nor its fields are meant for
    /// that page, whose rights would be asked for them.
    /// </summary>
    public static Task AsRead(HttpContext http, RequestDelegate next)
    {
        bool hasFailed = http.Features.Get<IExceptionHandlerFeature>() is not null;
        if (http.Request.Path == Address && (hasFailed || http.Features.Get<IStatusCodeReExecuteFeature>() is not null))
        {
            http.Request.Method = HttpMethods.IsHead(http.Request.Method) ? http.Request.Method : HttpMethods.Get;
            http.Request.ContentType = null;
            http.Request.QueryString = hasFailed ? QueryString.Create("code", $"{http.Response.StatusCode}") : http.Request.QueryString;
        }

        return next(http);
    }
}
