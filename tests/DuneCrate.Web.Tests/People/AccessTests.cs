using System.Net;
using System.Text.RegularExpressions;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// What pages show of what a role may do. Source: OWASP Application Security Verification Standard 5.0, V8.2.1
/// and V8.3.1 (access to functions is held on the server).
/// </summary>
public sealed partial class AccessTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
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
    [InlineData("compositor")]
    [InlineData("lighter")]
    [InlineData("wrangler")]
    [InlineData("nobody")]
    public async Task No_form_is_shown_that_would_be_refused(string who)
    {
        using HttpClient browser = await app.AsAsync(who);
        List<string> wrong = [];
        int forms = 0;
        foreach (
            string call in AccessMatrix
                .Lines.Where(l => l.Method == "GET" && l.Who.Contains(who) && !l.Pattern.EndsWith("/events", StringComparison.Ordinal))
                .Select(l => AccessMatrix.Fill(l.Pattern))
        )
        {
            using HttpResponseMessage answer = await browser.GetAsync(call);
            string text = answer.IsSuccessStatusCode ? await answer.Content.ReadAsStringAsync() : "";
            foreach (Match form in Form().Matches(text))
            {
                string tag = WebUtility.HtmlDecode(form.Groups["tag"].Value);
                if (!form.Groups["inside"].Value.Contains("__RequestVerificationToken", StringComparison.Ordinal))
                {
                    wrong.Add($"{call}: {tag} has no token");
                }

                string address = Regex.Match(tag, "(?:^|\\s)action=\"([^\"]*)\"").Groups[1].Value;
                address = address.Length > 0 ? address : call;
                string path = address.Split('?')[0],
                    handler = Regex.Match(address, "handler=(\\w+)").Groups[1].Value;
                string asked = path + (handler.Length > 0 ? $"?handler={handler}" : "");
                forms++;
                if (!AccessMatrix.Lines.Any(l => l.Method == "POST" && AccessMatrix.Fill(l.Pattern) == asked && l.Who.Contains(who)))
                {
                    wrong.Add($"{call}: {address}");
                }
            }
        }

        Assert.True(forms > (who == "nobody" ? 1 : 10), $"{forms} forms");
        Assert.Empty(wrong.Distinct());
    }

    [GeneratedRegex("(?<tag><form\\b[^>]*method=\"post\"[^>]*>)(?<inside>.*?)</form>", RegexOptions.Singleline)]
    private static partial Regex Form();
}
