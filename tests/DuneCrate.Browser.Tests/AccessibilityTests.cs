namespace DuneCrate.Browser.Tests;

/// <summary>Every page in both themes against axe-core's rules for WCAG 2.2 A and AA.</summary>
public class AccessibilityTests(BrowserFixture browser) : IClassFixture<BrowserFixture>
{
    [Fact]
    public void Pages_have_no_violations_in_either_theme()
    {
        browser.Go("/");
        Assert.Empty(Violations("the empty yard"));
        browser.MakeShot("KP500", "missing:sub:1002", "nonfinite:sub:1003", "copy:kelp:1003", "empty:kelp:1004", "unlit:sub:1004");
        var found = new List<string>();
        foreach ((int width, int height, double zoom) in Windows)
        {
            See(width, height, zoom);
            foreach (
                string page in new[]
                {
                    "/",
                    "/rules",
                    "/new-show",
                    "/KELP/new-shot",
                    "/nowhere",
                    "/KELP/KP500/plan",
                    "/KELP/KP500/plan/scene",
                    "/KELP/KP500/plan/roles",
                    "/KELP/KP500/plan/ids",
                    "/KELP/KP500/plan/files",
                    "/KELP/KP500/plan/settings",
                    "/KELP/KP500/plan/estimate",
                    "/KELP/KP500/plan/preflight",
                    "/KELP/KP500/plan/versions",
                    "/KELP/KP500/plan/print",
                    "/upkeep",
                    "/machines",
                    "/people",
                    "/history",
                    "/KELP/history",
                    "/KELP/tokens",
                    "/KELP/settings",
                    "/KELP/summary",
                    "/KELP/archive",
                    "/KELP/KP500/archive",
                    "/KELP/KP500/receive",
                    "/KELP/KP500/check",
                    "/KELP/KP500/check?rule=frames.missing",
                    "/KELP/KP500/check?words=nothing-like-it",
                    "/KELP/KP500/look",
                    "/KELP/KP500/look/sheet",
                    "/KELP/KP500/stack?frame=1004",
                    "/KELP/KP500/stack/composite",
                    "/KELP/KP500/stack/bits",
                    "/KELP/KP500/crate",
                    "/KELP/receivers?open=0",
                }
            )
            {
                browser.Go(page);
                foreach (string theme in new[] { "light", "dusk" })
                {
                    browser.Script<object>("document.documentElement.dataset.theme = arguments[0]; return null;", theme);
                    found.AddRange(Violations($"{page} in {theme}, {width} pixels wide"));
                }
            }
        }

        See(1280, 800, 1);

        Assert.True(found.Count == 0, string.Join('\n', found));
    }

    /// <summary>
    /// What one comes for is in sight without scrolling, also in a narrow window and at half as large again (1280 × 800 at 150 %).
    /// </summary>
    [Fact]
    public void Rows_are_in_sight_in_narrow_windows_and_large_print()
    {
        browser.MakeShot("KP540", "missing:sub:1002");
        foreach ((int width, int height, double zoom) in Windows)
        {
            See(width, height, zoom);
            foreach (
                (string page, string rows) in new[]
                {
                    ("plan", "#grid tr[data-r]"),
                    ("plan/files", "#grid tr[data-r]"),
                    ("receive", "tbody tr"),
                    ("check", "#lanes .lane"),
                }
            )
            {
                browser.Go($"/KELP/KP540/{page}");
                browser.Find(rows);
                long seen = browser.Script<long>(
                    "return [...document.querySelectorAll(arguments[0])].filter(row => { "
                        + "const b = row.getBoundingClientRect(), at = document.elementFromPoint(b.left + 30, (b.top + b.bottom) / 2); "
                        + "return b.height && row.contains(at); }).length",
                    rows
                );
                Assert.True(seen >= 4, $"{seen} rows of {page} are seen at {width} × {height}.");
                Assert.True(
                    browser.Script<bool>("const d = document.scrollingElement; return d.scrollWidth <= d.clientWidth"),
                    $"{page} is wider than {width} pixels."
                );
            }
        }

        See(1280, 800, 1);
    }

    private static readonly (int Width, int Height, double Zoom)[] Windows = [(1280, 800, 1), (1024, 768, 1), (853, 533, 1.5)];

    private void See(int width, int height, double zoom) =>
        browser.Driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new Dictionary<string, object?>
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = zoom,
                ["mobile"] = false,
            }
        );

    [Theory]
    [InlineData("/")]
    [InlineData("/KELP/KP510/check")]
    public void Themes_switch_and_stay(string page)
    {
        browser.MakeShot($"KP5{(page == "/" ? 2 : 1)}0");
        browser.Go(page);
        string before = browser.Script<string>("return document.documentElement.dataset.theme");
        browser.Press("Switch theme");
        browser.Driver.Navigate().Refresh();
        Assert.NotEqual(before, browser.Script<string>("return document.documentElement.dataset.theme"));
    }

    [Fact]
    public void A_whole_shot_fits_1280_by_800_without_a_page_scroll()
    {
        browser.MakeShot("KP530", "missing:sub:1002");
        See(1280, 800, 1);
        foreach (
            string station in new[]
            {
                "plan",
                "plan/scene",
                "plan/roles",
                "plan/files",
                "plan/settings",
                "receive",
                "check",
                "look",
                "stack",
                "crate",
            }
        )
        {
            browser.Go($"/KELP/KP530/{station}");
            Assert.True(
                browser.Script<bool>(
                    "const d = document.scrollingElement; return d.scrollHeight <= d.clientHeight && d.scrollWidth <= d.clientWidth;"
                ),
                station
            );
        }
    }

    private IEnumerable<string> Violations(string where) => Axe.Violations(browser, where);
}
