using System.Net;
using System.Reflection;
using DuneCrate.Web.Access;
using DuneCrate.Web.Operations;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Every handler is posted nothing, everything twice, a million characters, and values of other types: it answers in words, and the server
/// goes on. Sources: OWASP ASVS 5.0, V2.2.1; OWASP Web Security Testing Guide, WSTG-INPV-04.
/// </summary>
public sealed class FieldTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
    private sealed record Handler(string Path, ParameterInfo[] Fields);

    /// <summary>Every handler that takes fields, with what it takes.</summary>
    private static IEnumerable<Handler> Handlers(IServiceProvider services)
    {
        foreach (
            (string method, string pattern, _) in AccessMatrix.Lines.Where(l =>
                l.Method == "POST" && l.Pattern.Contains("?handler=", StringComparison.Ordinal)
            )
        )
        {
            string name = pattern.Split("?handler=")[1],
                route = pattern.Split('?')[0];
            Type[] models =
            [
                .. services
                    .GetRequiredService<EndpointDataSource>()
                    .Endpoints.OfType<RouteEndpoint>()
                    .Where(e => "/" + e.RoutePattern.RawText!.TrimStart('/').Split("/{grid")[0] == route)
                    .Select(e => e.Metadata.GetMetadata<PageActionDescriptor>())
                    .OfType<PageActionDescriptor>()
                    .Select(p =>
                        typeof(DuneCrateApp)
                            .Assembly.GetTypes()
                            .First(t =>
                                t.Name == $"{System.IO.Path.GetFileNameWithoutExtension(p.RelativePath)}Model"
                                || t.Name == $"{System.IO.Path.GetFileNameWithoutExtension(p.RelativePath)}PageModel"
                            )
                    ),
            ];
            MethodInfo? handler = models
                .SelectMany(m => m.GetMethods())
                .FirstOrDefault(m => m.Name == $"OnPost{name}" || m.Name == $"OnPost{name}Async");
            ParameterInfo[] fields =
            [
                .. (handler?.GetParameters() ?? []).Where(p =>
                    p.ParameterType != typeof(CancellationToken) && p.ParameterType != typeof(IFormFile)
                ),
            ];
            if (fields.Length > 0)
            {
                yield return new Handler(AccessMatrix.Fill(pattern), fields);
            }
        }
    }

    private static bool IsList(ParameterInfo field) =>
        field.ParameterType != typeof(string) && field.ParameterType.IsAssignableTo(typeof(System.Collections.IEnumerable));

    /// <summary>A number, a choice or a yes; a record is filled field by field and its handler looks at it itself.</summary>
    private static bool IsTyped(ParameterInfo field) =>
        (Nullable.GetUnderlyingType(field.ParameterType) ?? field.ParameterType) is { } type && (type.IsPrimitive || type.IsEnum);

    private static string Usual(ParameterInfo field) =>
        (Nullable.GetUnderlyingType(field.ParameterType) ?? field.ParameterType) switch
        {
            { } t when t == typeof(bool) => "false",
            { IsEnum: true } t => Enum.GetNames(t)[0],
            { } t when t == typeof(string) => "x",
            _ => "999999",
        };

    public static TheoryData<string> Ways() => ["nothing", "twice", "a million characters", "other types"];

    [Theory]
    [MemberData(nameof(Ways))]
    public async Task Every_handler_checks_its_fields(string way)
    {
        using HttpClient client = await app.AsAsync("confirmed");
        string token = await PeopleFixture.TokenAsync(client, "/KELP/settings");
        Handler[] handlers = [.. Handlers(app.Services)];
        Assert.True(handlers.Length > 40, $"{handlers.Length}");
        List<string> wrong = [];
        int refused = 0;
        foreach ((string path, ParameterInfo[] fields) in handlers)
        {
            List<KeyValuePair<string, string>> form = [new("__RequestVerificationToken", token)];
            bool mustBeRefused = false;
            foreach (ParameterInfo field in fields.Where(f => f.Name != SignedNames.Parameter))
            {
                switch (way)
                {
                    case "nothing":
                        mustBeRefused |=
                            IsTyped(field)
                            && field.ParameterType != typeof(bool)
                            && !field.HasDefaultValue
                            && Nullable.GetUnderlyingType(field.ParameterType) is null;
                        break;
                    case "twice":
                        mustBeRefused |= !IsList(field);
                        form.AddRange([new(field.Name!, Usual(field)), new(field.Name!, Usual(field))]);
                        break;
                    case "other types":
                        mustBeRefused |= IsTyped(field);
                        form.Add(new(field.Name!, IsTyped(field) ? "neither <this> nor that" : Usual(field)));
                        break;
                    default:
                        form.Add(new(field.Name!, IsTyped(field) ? Usual(field) : new string('x', 1_000_000)));
                        break;
                }
            }

            using var content = new FormUrlEncodedContent(form);
            using HttpResponseMessage answer = await client.PostAsync(path, content);
            string text = await answer.Content.ReadAsStringAsync();
            refused += answer.StatusCode == HttpStatusCode.BadRequest ? 1 : 0;
            if (
                (int)answer.StatusCode >= 500
                || (mustBeRefused && answer.StatusCode != HttpStatusCode.BadRequest)
                || (
                    answer.StatusCode == HttpStatusCode.BadRequest
                    && !text.Contains("Nothing was changed", StringComparison.OrdinalIgnoreCase)
                )
                || text.Contains("   at ", StringComparison.Ordinal)
            )
            {
                wrong.Add($"{path}: {(int)answer.StatusCode}");
            }
        }

        Assert.Empty(wrong);
        Assert.True(refused > (way == "a million characters" ? -1 : 20), $"{refused} were refused");
        Assert.All(await app.HistoryAsync(), e => Assert.InRange(e.Subject.Length, 0, 2100));
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/")).StatusCode);
    }

    /// <summary>What failed is said by what it is: a handler that fails is no want of rights, and a full disk is one.</summary>
    [Theory]
    [InlineData(28, 507)]
    [InlineData(5, 500)]
    public void A_failure_has_the_status_of_its_kind(int error, int status)
    {
        Assert.Equal(status, ProblemPage.StatusOf(new IOException("disk", error)));
        Assert.Equal(status, ProblemPage.StatusOf(new InvalidOperationException("while saving", new IOException("disk", error))));
        Assert.Equal(507, ProblemPage.StatusOf(new InvalidOperationException("", new Microsoft.Data.Sqlite.SqliteException("full", 13))));
        Assert.Equal(500, ProblemPage.StatusOf(new Microsoft.Data.Sqlite.SqliteException("locked", 5)));
    }
}
