using System.Collections.Immutable;
using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Store;

namespace DuneCrate.Web.Tests;

/// <summary>
/// Addresses that somebody shortened, edited or made up: every page answers with a page or says that it is not there; none breaks.
/// </summary>
public partial class NastyQueryTests(AppFixture app) : IClassFixture<AppFixture>
{
    /// <summary>
    /// Values by what is wrong with them; every parameter that any page takes gets each, all together and the usual ones alone.
    /// </summary>
    public static TheoryData<string> Values() =>
        ["", "0", "-1", "99999999999999999999", "NaN", "../../etc/passwd", "<script>alert(1)</script>", "%00", "ä∅"];

    private static readonly string[] Alone = ["layer", "pass", "frame", "order", "chunk", "width", "handler"];

    [Theory]
    [MemberData(nameof(Values))]
    public async Task No_address_breaks_a_page(string value)
    {
        if (await app.Service<ShowStore>().ShotAsync("KELP", "NQ010") is null)
        {
            await app.AddShotAsync("NQ010", "nonfinite:sub:1002", "missing:kelp:1003", "truncated:seabed:1001");
            await app.CheckAsync("NQ010");
        }

        var broken = new List<string>();
        string all = string.Join(
            '&',
            AppAddresses.Parameters(app.Services).Where(n => n != "handler").Order().Select(n => $"{n}={Escaped(value)}")
        );
        foreach (string page in AppAddresses.Gets(app.Services, "KELP", "NQ010"))
        {
            string mark = page.Contains('?') ? "&" : "?";
            foreach (
                string query in Alone.Where(n => n != "handler" || !page.Contains('?')).Select(n => $"{n}={Escaped(value)}").Append(all)
            )
            {
                using HttpResponseMessage answer = await app.Client.GetAsync(page + mark + query);
                if (
                    answer.StatusCode
                    is not (
                        HttpStatusCode.OK
                        or HttpStatusCode.NotFound
                        or HttpStatusCode.BadRequest
                        or HttpStatusCode.UnprocessableEntity
                        or HttpStatusCode.NoContent
                    )
                )
                {
                    broken.Add($"{page + mark + query}: {(int)answer.StatusCode}");
                }
                else if ((await answer.Content.ReadAsStringAsync()).Contains("<script>alert", StringComparison.Ordinal))
                {
                    broken.Add($"{page + mark + query}: said back as it came");
                }
            }
        }

        Assert.Empty(broken);
    }

    /// <summary>Tests that spell addresses wrongly on purpose.</summary>
    private static readonly string[] Misspelling = ["AccessMatrixTests.cs", "SignInTests.cs"];

    /// <summary>An address that a test makes up must name what the application takes: otherwise the test would say nothing.</summary>
    [Fact]
    public void Tests_ask_only_for_handlers_and_parameters_that_there_are()
    {
        ImmutableHashSet<string> parameters = AppAddresses.Parameters(app.Services);
        string[] unknown =
        [
            .. Directory
                .EnumerateFiles(Path.Combine(Repository.Root, "tests"), "*Tests*.cs", SearchOption.AllDirectories)
                .Where(f => !Misspelling.Contains(Path.GetFileName(f)))
                .SelectMany(f => InAddress().Matches(File.ReadAllText(f)).Select(m => (File: Path.GetFileName(f), Match: m)))
                .Where(a =>
                    a.Match.Groups["name"].Value == "handler"
                        ? !AppAddresses.Handlers.Contains(a.Match.Groups["value"].Value)
                        : !parameters.Contains(a.Match.Groups["name"].Value)
                )
                .Select(a => $"{a.File}: {a.Match.Value}"),
        ];
        Assert.Empty(unknown);
    }

    [GeneratedRegex("[?&](amp;)?(?<name>[a-z][A-Za-z-]*)=(?<value>[A-Za-z]+)")]
    private static partial Regex InAddress();

    private static string Escaped(string value) => value.StartsWith('%') ? value : Uri.EscapeDataString(value);
}
