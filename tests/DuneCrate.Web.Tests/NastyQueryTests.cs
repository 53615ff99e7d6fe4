using System.Net;
using DuneCrate.Store;

namespace DuneCrate.Web.Tests;

/// <summary>
/// Addresses that somebody shortened, edited or made up: every page answers with a page or says that it is not there; none breaks.
/// </summary>
public class NastyQueryTests(AppFixture app) : IClassFixture<AppFixture>
{
    private static readonly string[] Pages =
    [
        "/",
        "/rules",
        "/new-show",
        "/KELP/new-shot",
        "/KELP/settings",
        "/KELP/summary",
        "/KELP/NQ010/plan",
        "/KELP/NQ010/plan?handler=Export",
        "/KELP/NQ010/receive",
        "/KELP/NQ010/receive?handler=Progress",
        "/KELP/NQ010/receive?handler=Arrivals",
        "/KELP/NQ010/receive?handler=Farm",
        "/KELP/NQ010/check",
        "/KELP/NQ010/check?handler=Report",
        "/KELP/NQ010/check?handler=Csv",
        "/KELP/NQ010/check?handler=Page",
        "/KELP/NQ010/check?handler=Rerun",
        "/KELP/NQ010/check?handler=Findings",
        "/KELP/NQ010/check?handler=Remedy",
        "/KELP/NQ010/look",
        "/KELP/NQ010/stack",
        "/KELP/NQ010/crate",
        "/KELP/NQ010/crate?handler=Crates",
        "/KELP/NQ010/picture.png",
        "/KELP/NQ010/rebuild.png",
        "/KELP/NQ010/evidence.png",
        "/KELP/NQ010/probe",
    ];

    /// <summary>
    /// Values by what is wrong with them; every parameter that any page takes gets each, all together and the usual ones alone.
    /// </summary>
    public static TheoryData<string> Values() =>
        ["", "0", "-1", "99999999999999999999", "NaN", "../../etc/passwd", "<script>alert(1)</script>", "%00", "ä∅"];

    private static readonly string[] Alone = ["layer", "pass", "frame", "sort", "key", "chunk", "width", "handler"];

    private static readonly string[] Together =
    [
        "layer",
        "pass",
        "frame",
        "key",
        "rule",
        "severity",
        "state",
        "words",
        "find",
        "sort",
        "by",
        "down",
        "page",
        "from",
        "to",
        "x",
        "y",
        "width",
        "exposure",
        "solo",
        "near",
        "far",
        "what",
        "chunk",
        "form",
        "view",
        "grid",
        "with",
        "run",
        "against",
        "revision",
        "root",
        "folder",
        "filter",
        "more",
        "after",
        "id",
        "job",
    ];

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
        string all = string.Join('&', Together.Select(n => $"{n}={Escaped(value)}"));
        foreach (string page in Pages)
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

    private static string Escaped(string value) => value.StartsWith('%') ? value : Uri.EscapeDataString(value);
}
