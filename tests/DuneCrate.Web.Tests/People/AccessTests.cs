using System.Collections.Immutable;
using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Every route and every handler is called by each role and by nobody. Source: OWASP Application Security Verification Standard 5.0, V8.2.1
/// and V8.3.1 (access to functions is held on the server).
/// </summary>
public sealed partial class AccessTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
    /// <summary>What stands in the table for an address: how it is called, and what it needs.</summary>
    private sealed record Call(string Method, string Path, Need Need, bool IsPage);

    private static readonly ImmutableDictionary<string, ShowRole> InKelp = ImmutableDictionary<string, ShowRole>.Empty;

    private static Visitor As(ShowRole role) => Visitor.Nobody with { PersonId = 1, Name = "x", Roles = InKelp.Add("KELP", role) };

    private IEnumerable<Call> Calls()
    {
        foreach (RouteEndpoint endpoint in app.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>())
        {
            string raw = endpoint.RoutePattern.RawText!,
                path =
                    "/"
                    + Parameter()
                        .Replace(
                            raw.TrimStart('/'),
                            m =>
                                m.Value.StartsWith("{show", StringComparison.Ordinal) ? "KELP"
                                : m.Value.StartsWith("{shot", StringComparison.Ordinal) ? "KP010"
                                : m.Value.StartsWith("{id", StringComparison.Ordinal) ? "1"
                                : m.Value.StartsWith("{word", StringComparison.Ordinal) ? "none"
                                : ""
                        );
            path = path.TrimEnd('/').Length == 0 ? "/" : path.TrimEnd('/');
            if (endpoint.Metadata.GetMetadata<PageActionDescriptor>() is { } page)
            {
                yield return new Call("GET", path, AccessTable.OfPage("GET", page.ViewEnginePath, "") ?? (Need)(-1), true);
                foreach (string handler in AppAddresses.PostHandlersOf(endpoint))
                {
                    string query = handler.Length > 0 ? $"?handler={handler}" : "";
                    yield return new Call(
                        "POST",
                        path + query,
                        AccessTable.OfPage("POST", page.ViewEnginePath, handler) ?? (Need)(-1),
                        true
                    );
                }
            }
            else
            {
                string method = endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods[0] ?? "GET";
                yield return new Call(method, path, AccessTable.OfRoute(method, raw) ?? (Need)(-1), false);
            }
        }
    }

    [Fact]
    public void Every_address_says_what_it_needs() =>
        Assert.Empty(Calls().Where(c => !Enum.IsDefined(c.Need)).Select(c => $"{c.Method} {c.Path}"));

    [Fact]
    public void Most_addresses_ask_for_something()
    {
        Call[] calls = [.. Calls()];
        Assert.True(calls.Length > 90, $"{calls.Length}");
        Assert.Equal(
            [
                "GET /first",
                "GET /guest/none",
                "GET /health",
                "GET /problem",
                "GET /ready",
                "GET /sign-in",
                "GET /welcome",
                "POST /first",
                "POST /sign-in",
                "POST /sign-in?handler=Passkey",
                "POST /sign-in?handler=PasskeyOptions",
                "POST /welcome",
            ],
            calls.Where(c => c.Need == Need.Nothing).Select(c => $"{c.Method} {c.Path}").Distinct().Order(StringComparer.Ordinal)
        );
    }

    [Theory]
    [InlineData(null)]
    [InlineData("stranger")]
    [InlineData("cosima")]
    [InlineData("lior")]
    [InlineData("mara")]
    [InlineData("keeper")]
    public async Task Each_role_gets_what_is_its_own_and_nothing_else(string? account)
    {
        Visitor visitor = account switch
        {
            "cosima" => As(ShowRole.Compositor),
            "lior" => As(ShowRole.Lighter),
            "mara" => As(ShowRole.Wrangler),
            "keeper" => Visitor.Nobody with { PersonId = 1, Name = "x", IsKeeper = true },
            "stranger" => Visitor.Nobody with { PersonId = 1, Name = "x" },
            _ => Visitor.Nobody,
        };
        using HttpClient browser = account is null ? app.Browser() : await app.SignInAsync(account);
        List<string> wrong = [];
        foreach (Call call in Calls().Where(c => !c.Path.EndsWith("/events", StringComparison.Ordinal)))
        {
            // Without a token of its own, what is let through is refused as 400 by antiforgery, and nothing is changed.
            using var request = new HttpRequestMessage(new HttpMethod(call.Method), call.Path)
            {
                Content = call.Method == "POST" ? new FormUrlEncodedContent([]) : null,
            };
            using HttpResponseMessage answer = await browser.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
            string to = answer.Headers.Location?.ToString() ?? "";
            bool isIn =
                answer.StatusCode is not (HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden)
                && !to.StartsWith("/sign-in?to=", StringComparison.Ordinal)
                && !to.StartsWith("/confirm?to=", StringComparison.Ordinal)
                && (answer.StatusCode != HttpStatusCode.NotFound || visitor.May(call.Need, "KELP"));
            if (isIn != visitor.May(call.Need, call.Path.Contains("KELP", StringComparison.Ordinal) ? "KELP" : null))
            {
                wrong.Add($"{call.Method} {call.Path} needs {call.Need}: {(int)answer.StatusCode} {to}");
            }
        }

        Assert.Empty(wrong);
    }

    /// <summary>Nobody learns of a show that they are not in: its addresses look like those of one that is not there (V8.2.2).</summary>
    [Fact]
    public async Task A_show_of_others_looks_like_one_that_is_not_there()
    {
        using HttpClient browser = await app.SignInAsync("mara");
        foreach (string path in (string[])["settings", "summary", "KP010/check", "history", "tokens"])
        {
            Assert.Equal(HttpStatusCode.NotFound, (await browser.GetAsync($"/REEF/{path}")).StatusCode);
            Assert.Equal(HttpStatusCode.NotFound, (await browser.GetAsync($"/NONE/{path}")).StatusCode);
        }

        string yard = await browser.GetStringAsync("/");
        Assert.Contains("The Kelp Post", yard);
        Assert.DoesNotContain("Reef Letters", yard);
    }

    /// <summary>The sheet and the strips are to be seen only by those who may not change them.</summary>
    [Theory]
    [InlineData("cosima", true)]
    [InlineData("lior", false)]
    [InlineData("mara", false)]
    public async Task Only_who_may_plan_changes_the_sheet(string account, bool isSeenOnly)
    {
        using HttpClient browser = await app.SignInAsync(account);
        foreach (string page in (string[])["plan", "stack/composite"])
        {
            Assert.Equal(isSeenOnly, (await browser.GetStringAsync($"/KELP/KP010/{page}")).Contains("seen-only", StringComparison.Ordinal));
        }
    }

    /// <summary>What a role may not do is not on its pages: every form that is shown may be sent.</summary>
    [Theory]
    [InlineData("cosima", ShowRole.Compositor)]
    [InlineData("lior", ShowRole.Lighter)]
    [InlineData("mara", ShowRole.Wrangler)]
    [InlineData(null, null)]
    public async Task No_form_is_shown_that_would_be_refused(string? account, ShowRole? role)
    {
        using HttpClient browser = account is null ? app.Browser() : await app.SignInAsync(account);
        Visitor visitor = role is { } given ? As(given) : Visitor.Nobody;
        RouteEndpoint[] pages =
        [
            .. app
                .Services.GetRequiredService<EndpointDataSource>()
                .Endpoints.OfType<RouteEndpoint>()
                .Where(e => e.Metadata.GetMetadata<PageActionDescriptor>() is not null),
        ];
        List<string> wrong = [];
        int forms = 0;
        foreach (Call call in Calls().Where(c => c is { Method: "GET", IsPage: true } && visitor.May(c.Need, "KELP")))
        {
            using HttpResponseMessage answer = await browser.GetAsync(call.Path);
            string text = answer.IsSuccessStatusCode ? await answer.Content.ReadAsStringAsync() : "";
            foreach (Match form in Form().Matches(text))
            {
                string tag = WebUtility.HtmlDecode(form.Groups["tag"].Value);
                if (!form.Groups["inside"].Value.Contains("__RequestVerificationToken", StringComparison.Ordinal))
                {
                    wrong.Add($"{call.Path}: {tag} has no token");
                }

                string address = Regex.Match(tag, "(?:^|\\s)action=\"([^\"]*)\"").Groups[1].Value;
                address = address.Length > 0 ? address : call.Path;
                string path = address.Split('?')[0],
                    handler = Regex.Match(address, "handler=(\\w+)").Groups[1].Value;
                Call? asked = Calls()
                    .FirstOrDefault(c => c.Method == "POST" && c.Path == path + (handler.Length > 0 ? $"?handler={handler}" : ""));
                forms++;
                if (asked is null || !visitor.May(asked.Need, "KELP"))
                {
                    wrong.Add($"{call.Path}: {address} {asked?.Need}");
                }
            }
        }

        Assert.True(forms > (account is null ? 1 : 10), $"{forms} forms on {pages.Length} pages");
        Assert.Empty(wrong.Distinct());
    }

    [GeneratedRegex(@"\{[^}]*(\{[^}]*\}[^}]*)*\}")]
    private static partial Regex Parameter();

    [GeneratedRegex("(?<tag><form\\b[^>]*method=\"post\"[^>]*>)(?<inside>.*?)</form>", RegexOptions.Singleline)]
    private static partial Regex Form();
}
