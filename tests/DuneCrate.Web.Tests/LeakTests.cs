using System.Net;
using System.Text.RegularExpressions;

namespace DuneCrate.Web.Tests;

/// <summary>No page shows a piece of code where a date, a number or a name should be.</summary>
public sealed partial class LeakTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task No_page_of_a_shot_that_went_all_the_way_shows_code()
    {
        await app.AddShotAsync("LK010");
        await app.CheckAsync("LK010");
        await app.PostAsync("/KELP/LK010/crate", "?handler=Seal", ("layout", "layers"), ("by", "Wren"));
        await app.UntilAsync("/KELP/LK010/crate?handler=Crates", page => page.Contains("Download zip", StringComparison.Ordinal));
        await app.AddShotAsync("LK020", "missing:kelp:1003", "wrong-camera:sub:1001", "truncated:seabed:1001");
        await app.CheckAsync("LK020");
        var leaks = new List<string>();
        foreach (string page in new[] { "LK010", "LK020" }.SelectMany(s => AppAddresses.Gets(app.Services, "KELP", s)))
        {
            using HttpResponseMessage answer = await app.Client.GetAsync(page);
            if (answer.StatusCode == HttpStatusCode.OK && answer.Content.Headers.ContentType?.MediaType == "text/html")
            {
                string text = WebUtility.HtmlDecode(Scripts().Replace(await answer.Content.ReadAsStringAsync(), ""));
                leaks.AddRange(
                    Code().Matches(text).Select(m => $"{page}: {text[Math.Max(0, m.Index - 40)..Math.Min(text.Length, m.Index + 60)]}")
                );
            }
        }

        Assert.Empty(leaks);
    }

    [GeneratedRegex("(?s)<script.*?</script>")]
    private static partial Regex Scripts();

    /// <summary>Calls, types of the platform and of ours, places of a format that nothing filled, numbers that are none.</summary>
    [GeneratedRegex(@"\.ToString\(|System\.|DuneCrate\.Core|CultureInfo|\{0\}|@\(|@Model|>\s*NaN\s*<|Infinity|\bnull\b")]
    private static partial Regex Code();
}
