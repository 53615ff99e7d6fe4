using System.Net;
using System.Reflection;
using DuneCrate.Foundation.Frames;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Every address and handler × everybody × spellings of methods × places of a parameter, against a literal table. Sources: OWASP ASVS
/// 5.0, V8.2.1 and V8.3.1; OWASP Web Security Testing Guide, WSTG-INPV-03 (verb tampering), WSTG-INPV-04 (parameter pollution),
/// WSTG-ATHZ-02 (bypassing authorization); RFC 9110, 9.1 (methods are case-sensitive).
/// </summary>
public sealed class AccessMatrixTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
    private static readonly Type[] Models = [.. typeof(DuneCrateApp).Assembly.GetTypes().Where(t => t.IsAssignableTo(typeof(PageModel)))];

    [Fact]
    public void The_table_names_every_address_and_every_handler()
    {
        string[] served =
        [
            .. app
                .Services.GetRequiredService<EndpointDataSource>()
                .Endpoints.OfType<RouteEndpoint>()
                .SelectMany(e =>
                    e.Metadata.GetMetadata<PageActionDescriptor>() is null
                        ? [$"{e.Metadata.GetRequiredMetadata<HttpMethodMetadata>().HttpMethods.Single()} {Pattern(e)}"]
                        : AppAddresses
                            .PostHandlersOf(e)
                            .Select(h => $"POST {Pattern(e)}{(h.Length > 0 ? "?handler=" + h : "")}")
                            .Prepend($"GET {Pattern(e)}")
                ),
        ];
        Assert.Equal(
            AccessMatrix.Lines.Select(l => $"{l.Method} {l.Pattern}").Order(StringComparer.Ordinal),
            served.Distinct().Order(StringComparer.Ordinal)
        );
    }

    [Theory]
    [InlineData("nobody")]
    [InlineData("stranger")]
    [InlineData("compositor")]
    [InlineData("lighter")]
    [InlineData("wrangler")]
    [InlineData("keeper")]
    [InlineData("confirmed")]
    [InlineData("token")]
    public async Task Everybody_gets_what_the_table_says_and_nothing_else(string who)
    {
        using HttpClient client = await app.AsAsync(who);
        List<string> wrong = [];
        foreach ((string method, string pattern, IReadOnlySet<string> allowed) in AccessMatrix.Lines)
        {
            if (await IsInAsync(client, method, AccessMatrix.Fill(pattern), allowed.Contains(who)) != allowed.Contains(who))
            {
                wrong.Add($"{method} {pattern}");
            }
        }

        Assert.Empty(wrong);
    }

    /// <summary>In a show where somebody has no role, whatever role they have in another one.</summary>
    [Theory]
    [InlineData("compositor")]
    [InlineData("lighter")]
    [InlineData("wrangler")]
    [InlineData("token")]
    public async Task A_role_in_one_show_is_none_in_another(string who)
    {
        using HttpClient client = await app.AsAsync(who);
        await AddReefShotAsync();
        List<string> wrong = [];
        foreach (
            (string method, string pattern, _) in AccessMatrix.Lines.Where(l => l.Pattern.Contains("{show}", StringComparison.Ordinal))
        )
        {
            if (await IsInAsync(client, method, AccessMatrix.Fill(pattern, "REEF", "RF010"), mayBeMissing: false))
            {
                wrong.Add($"{method} {pattern}");
            }
        }

        Assert.Empty(wrong);
    }

    /// <summary>Methods are case-sensitive, and what is neither read nor post is answered nowhere.</summary>
    [Theory]
    [InlineData("nobody")]
    [InlineData("compositor")]
    [InlineData("wrangler")]
    [InlineData("confirmed")]
    [InlineData("token")]
    public async Task A_method_in_other_letters_is_refused_everywhere(string who)
    {
        using HttpClient client = await app.AsAsync(who);
        string headers = PeopleFixture.HeadersOf(client);
        List<string> wrong = [];
        foreach ((string method, string pattern, _) in AccessMatrix.Lines)
        {
            foreach (
                string spelled in (string[])
                    [method.ToLowerInvariant(), method[..1] + method[1..].ToLowerInvariant(), method + "x", "PUT", "DELETE"]
            )
            {
                (HttpStatusCode status, string head, _) = await RawHttp.SendAsync(
                    client.BaseAddress!,
                    spelled,
                    AccessMatrix.Fill(pattern),
                    headers
                );
                if (status != HttpStatusCode.MethodNotAllowed || !head.Contains("Allow: GET, HEAD, POST", StringComparison.Ordinal))
                {
                    wrong.Add($"{spelled} {pattern}: {status}");
                }
            }
        }

        Assert.Empty(wrong);
    }

    /// <summary>A wrangler of one show, with the token of a form: the deed must not reach another show by any field.</summary>
    [Fact]
    public async Task No_field_names_another_show_or_shot_than_the_address()
    {
        using HttpClient client = await app.AsAsync("wrangler");
        await AddReefShotAsync();
        string token = await PeopleFixture.TokenAsync(client, "/KELP/settings"),
            headers = PeopleFixture.HeadersOf(client) + $"X-Form-Token: {token}\r\n";
        List<string> wrong = [];
        foreach (
            (string method, string pattern, IReadOnlySet<string> who) in AccessMatrix.Lines.Where(l =>
                l.Pattern.Contains("{show}", StringComparison.Ordinal) && l.Who.Contains("wrangler")
            )
        )
        {
            string path = AccessMatrix.Fill(pattern);
            foreach (string field in (string[])["show=REEF", "Show=REEF", "SHOW=KELP&show=REEF", "shot=RF010"])
            {
                string query = path + (path.Contains('?', StringComparison.Ordinal) ? "&" : "?") + field;
                (string Target, string Type, string Body)[] tries =
                [
                    (query, "", ""),
                    (path, "application/x-www-form-urlencoded", field),
                    (
                        path,
                        "application/json",
                        "{" + string.Join(',', field.Split('&').Select(f => $"\"{f.Split('=')[0]}\":\"{f.Split('=')[1]}\"")) + "}"
                    ),
                ];
                foreach ((string target, string type, string body) in tries)
                {
                    (HttpStatusCode status, _, _) = await RawHttp.SendAsync(
                        client.BaseAddress!,
                        method,
                        target,
                        headers + (type.Length > 0 ? $"Content-Type: {type}\r\n" : ""),
                        body
                    );
                    if (status != HttpStatusCode.BadRequest)
                    {
                        wrong.Add($"{method} {target} {body}: {status}");
                    }
                }
            }
        }

        Assert.Empty(wrong);
    }

    /// <summary>Whoever adds a page cannot take show or shot from anywhere but the address.</summary>
    [Fact]
    public void Show_and_shot_come_from_the_route_alone()
    {
        static bool IsPlace(string name) => name.ToLowerInvariant() is "show" or "shot";
        PropertyInfo[] bound =
        [
            .. Models
                .SelectMany(t => t.GetProperties())
                .Where(p =>
                    IsPlace(p.Name) && (p.SetMethod?.IsPublic == true || p.GetCustomAttributes().Any(a => a is BindPropertyAttribute))
                ),
        ];
        ParameterInfo[] taken =
        [
            .. Models
                .SelectMany(t => t.GetMethods(BindingFlags.Instance | BindingFlags.Public))
                .Where(m => m.Name.StartsWith("OnGet", StringComparison.Ordinal) || m.Name.StartsWith("OnPost", StringComparison.Ordinal))
                .SelectMany(m => m.GetParameters())
                .Where(p => IsPlace(p.Name!)),
        ];
        Assert.True(Models.Length > 30, $"{Models.Length}");
        Assert.Empty(bound.Select(p => $"{p.DeclaringType!.Name}.{p.Name}"));
        Assert.Empty(taken.Select(p => $"{p.Member.Name}({p.Name})"));
    }

    /// <summary>A handler runs under its own rights however its name is written.</summary>
    [Theory]
    [InlineData("/KELP/KP010/crate?handler=seal")]
    [InlineData("/KELP/KP010/crate?HANDLER=Seal")]
    [InlineData("/KELP/KP010/crate?handler=SEAL&handler=x")]
    [InlineData("/KELP/KP010/crate?handler=%53eal")]
    [InlineData("/KELP/KP010/crate/?handler=Seal")]
    [InlineData("/kelp/../KELP/KP010/crate?handler=Seal")]
    [InlineData("//KELP/KP010/crate?handler=Seal")]
    public async Task No_spelling_of_a_handler_goes_round_its_rights(string target)
    {
        using HttpClient client = await app.AsAsync("compositor");
        string token = await PeopleFixture.TokenAsync(client, "/KELP/KP010/look"),
            headers = PeopleFixture.HeadersOf(client) + $"X-Form-Token: {token}\r\nContent-Type: application/x-www-form-urlencoded\r\n";
        (HttpStatusCode status, _, _) = await RawHttp.SendAsync(client.BaseAddress!, "POST", target, headers, "by=x&layout=layers");
        Assert.True(status is HttpStatusCode.Forbidden or HttpStatusCode.NotFound, $"{status}");
        Assert.DoesNotContain(await app.HistoryAsync(), e => e.Who == "Cosima Vale" && e.Kind == Foundation.History.HistoryKinds.Sealed);
    }

    /// <summary>A keeper's sensitive deeds ask for the password, in whatever spelling.</summary>
    [Theory]
    [InlineData("POST", "/people?handler=add")]
    [InlineData("post", "/people?handler=Add")]
    [InlineData("POST", "/People?handler=ADD")]
    [InlineData("POST", "/people/?handler=Add")]
    public async Task Nobody_is_added_without_the_password_given_again(string method, string target)
    {
        using HttpClient client = await app.AsAsync("keeper");
        string token = await PeopleFixture.TokenAsync(client, "/people"),
            headers = PeopleFixture.HeadersOf(client) + "Content-Type: application/x-www-form-urlencoded\r\n";
        (HttpStatusCode status, string head, _) = await RawHttp.SendAsync(
            client.BaseAddress!,
            method,
            target,
            headers,
            $"Account=sneak&Name=Sneak&__RequestVerificationToken={Uri.EscapeDataString(token)}"
        );
        Assert.True(status == HttpStatusCode.MethodNotAllowed || head.Contains("Location: /confirm?to=", StringComparison.Ordinal), head);
        Assert.DoesNotContain("sneak", await client.GetStringAsync("/people"));
    }

    /// <summary>A body of a read means nothing (RFC 9110, 9.3.1), so that it cannot be where a field hides.</summary>
    [Theory]
    [InlineData("GET")]
    [InlineData("HEAD")]
    public async Task A_read_with_a_body_is_refused(string method)
    {
        using HttpClient client = await app.AsAsync("wrangler");
        (HttpStatusCode status, _, _) = await RawHttp.SendAsync(
            client.BaseAddress!,
            method,
            "/KELP/settings",
            PeopleFixture.HeadersOf(client) + "Content-Type: application/x-www-form-urlencoded\r\n",
            "x=1"
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
    }

    private async Task AddReefShotAsync()
    {
        ShowStore store = app.Services.GetRequiredService<ShowStore>();
        if (await store.ShotAsync("REEF", "RF010") is null)
        {
            await store.AddShotAsync("REEF", StandInPlan.Create("RF010", FrameSet.Parse("1001-1002"), 64, 36));
        }
    }

    private static string Pattern(RouteEndpoint endpoint)
    {
        string raw = "/" + endpoint.RoutePattern.RawText!.TrimStart('/');
        int grid = raw.IndexOf("/{grid", StringComparison.Ordinal);
        return grid < 0 ? raw : raw[..grid];
    }

    /// <summary>Whether somebody is let in. Without a token of its own a form is refused as 400, and nothing is changed.</summary>
    private static async Task<bool> IsInAsync(HttpClient client, string method, string path, bool mayBeMissing)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path)
        {
            Content = method == "POST" ? new FormUrlEncodedContent([]) : null,
        };
        using HttpResponseMessage answer = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
        string to = answer.Headers.Location?.ToString() ?? "";
        return answer.StatusCode is not (HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden)
            && !to.StartsWith("/sign-in?to=", StringComparison.Ordinal)
            && !to.StartsWith("/confirm?to=", StringComparison.Ordinal)
            && (answer.StatusCode != HttpStatusCode.NotFound || mayBeMissing);
    }
}
