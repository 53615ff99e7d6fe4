using System.Collections.Immutable;
using System.Reflection;
using System.Text.RegularExpressions;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Looking;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests;

/// <summary>
/// What the running application answers to: read from its endpoints and page models, so that tests cannot ask for what is gone.
/// </summary>
internal static partial class AppAddresses
{
    private static readonly ImmutableArray<Type> Models =
    [
        .. typeof(DuneCrateApp).Assembly.GetTypes().Where(t => t.IsAssignableTo(typeof(PageModel)) && !t.IsAbstract),
    ];

    /// <summary>The named handlers of all page models: "Details" for OnGetDetails.</summary>
    public static ImmutableHashSet<string> Handlers { get; } =
    [.. Models.SelectMany(Methods).Select(m => HandlerName().Match(m.Name).Groups["name"].Value).Where(n => n.Length > 0)];

    /// <summary>Every name that an address may carry after its question mark.</summary>
    public static ImmutableHashSet<string> Parameters(IServiceProvider services) =>
        [
            .. Models
                .SelectMany(t => t.GetProperties())
                .Where(p => p.GetCustomAttribute<BindPropertyAttribute>() is not null)
                .Select(Bound),
            .. Models.SelectMany(Methods).Concat(Endpoints(services).SelectMany(e => e.Metadata.OfType<MethodInfo>())).SelectMany(Taken),
            .. FindingQuery.Names,
            .. PictureQuery.Names,
            "handler",
            "arrivals",
        ];

    /// <summary>Every page, part of a page, picture and document that is asked for with GET, of one shot.</summary>
    public static ImmutableArray<string> Gets(IServiceProvider services, string show, string shot) =>
        [
            .. Endpoints(services)
                .Where(e => e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Contains("GET") ?? true)
                .SelectMany(e =>
                    HandlersOf(e).Select(h => $"?handler={h}").Prepend("").Select(h => Address(e.RoutePattern.RawText!, show, shot) + h)
                )
                .Where(a => !a.Contains('{') && !a.StartsWith("/api/", StringComparison.Ordinal))
                .Where(a => !a.EndsWith("/events", StringComparison.Ordinal))
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];

    private static string Address(string pattern, string show, string shot) =>
        "/" + Regex.Replace(Regex.Replace(pattern.TrimStart('/'), "{show[^}]*}", show), "{shot[^}]*}", shot);

    /// <summary>What can be posted to a page, by handler; "" for the plain one.</summary>
    public static IEnumerable<string> PostHandlersOf(RouteEndpoint endpoint) =>
        HandlersOf(endpoint, "OnPost").Distinct(StringComparer.Ordinal);

    /// <summary>The named GET handlers of a page's model, which is called as the page is.</summary>
    private static IEnumerable<string> HandlersOf(RouteEndpoint endpoint) => HandlersOf(endpoint, "OnGet").Where(n => n.Length > 0);

    private static IEnumerable<string> HandlersOf(RouteEndpoint endpoint, string kind) =>
        endpoint.Metadata.GetMetadata<PageActionDescriptor>() is { } page
        && Path.GetFileNameWithoutExtension(page.RelativePath) is var name
        && Models.FirstOrDefault(t => t.Name == $"{name}Model" || t.Name == $"{name}PageModel") is { } model
            ? Methods(model).Where(m => m.Name.StartsWith(kind, StringComparison.Ordinal)).Select(NameOf)
            : [];

    private static string NameOf(MethodInfo method) => HandlerName().Match(method.Name).Groups["name"].Value;

    private static IEnumerable<RouteEndpoint> Endpoints(IServiceProvider services) =>
        services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>();

    private static IEnumerable<MethodInfo> Methods(Type model) => model.GetMethods().Where(m => HandlerName().IsMatch(m.Name));

    private static IEnumerable<string> Taken(MethodInfo method) =>
        method
            .GetParameters()
            .SelectMany(p =>
                p.GetCustomAttribute<AsParametersAttribute>() is null
                    ? [p.Name!]
                    : p.ParameterType.GetProperties().Select(i => char.ToLowerInvariant(i.Name[0]) + i.Name[1..])
            );

    private static string Bound(PropertyInfo property) =>
        property.GetCustomAttribute<BindPropertyAttribute>()!.Name is { Length: > 0 } name
            ? name
            : char.ToLowerInvariant(property.Name[0]) + property.Name[1..];

    [GeneratedRegex("^On(Get|Post)(?<name>[A-Z][A-Za-z]*?)??(Async)?$")]
    private static partial Regex HandlerName();
}
