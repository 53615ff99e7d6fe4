using DuneCrate.Foundation.Frames;
using DuneCrate.StandIns.Renderer;
using OpenQA.Selenium;

namespace DuneCrate.Browser.Tests;

/// <summary>The Check station as a person uses it: narrowing, stepping, zooming, evidence, and every way out of a finding.</summary>
public class CheckStationTests(BrowserFixture browser) : IClassFixture<BrowserFixture>
{
    [Fact]
    public void Map_and_list_are_narrowed_together_and_the_address_keeps_it()
    {
        browser.MakeShot("KP700", "nonfinite:sub:1002", "missing:kelp:1003", "wrong-rate:seabed:1001");
        browser.Go("/KELP/KP700/check");
        long lanes = Count(".lane"),
            findings = Count("[data-find]");
        Assert.True(lanes > 3 && findings > 2);

        Choose("select[name='of-layer']", "kelp");
        browser.Until(d => Count(".lane") < lanes && Count("[data-find]") == 1 ? d : null, "one finding of kelp");
        Assert.Contains("of-layer=kelp", browser.Driver.Url);
        Assert.DoesNotContain("severity=", browser.Driver.Url); // What asks for nothing is left out.
        Assert.All(Texts(".lane a b"), layer => Assert.Equal("kelp", layer));

        Choose("select[name='of-layer']", "");
        Choose("select[name='severity']", "blocker");
        browser.Fill("#find-filter", "1002");
        browser.Until(
            d => Count("[data-find]") == 1 && browser.Text("#find-count").StartsWith("1 of", StringComparison.Ordinal) ? d : null,
            "one finding of frame 1002"
        );
        browser.Until(d => browser.Driver.Url.Contains("words=1002", StringComparison.Ordinal) ? d : null, "words in the address");
        Assert.Equal("find-filter", browser.Script<string>("return document.activeElement.id")); // One types on.
        browser.Driver.Navigate().Refresh();
        Assert.Equal(1, Count("[data-find]"));
        Assert.Equal("1002", browser.Find("#find-filter").GetAttribute("value"));

        // Another layer, another station: what is looked at stays.
        browser.Station("look");
        browser.Until(
            d =>
                browser.Driver.Url.Contains("/look?", StringComparison.Ordinal)
                && browser.Driver.Url.Contains("severity=blocker", StringComparison.Ordinal)
                    ? d
                    : null,
            "Look, narrowed"
        );
        Assert.Equal(1, Count("[data-find]"));
        browser.Press("show all");
        browser.Until(d => Count("[data-find]") == findings ? d : null, "every finding");
    }

    [Fact]
    public void Keys_step_through_what_is_left()
    {
        browser.MakeShot("KP710", "nonfinite:sub:1002", "missing:kelp:1003", "missing:seabed:1004", "wrong-rate:seabed:1001");
        browser.Go("/KELP/KP710/check?rule=frames.missing");
        long left = Count("[data-find]");
        browser.Keys("n");
        browser.Until(d => browser.Driver.Url.Contains("frame=1003", StringComparison.Ordinal) ? d : null, "the first finding");
        Assert.Contains("rule=frames.missing", browser.Driver.Url);
        Assert.Equal(left, Count("[data-find]"));
        browser.Keys("n");
        browser.Until(d => browser.Driver.Url.Contains("frame=1004", StringComparison.Ordinal) ? d : null, "the second");
        browser.Keys("p");
        browser.Until(d => browser.Driver.Url.Contains("frame=1003", StringComparison.Ordinal) ? d : null, "the first again");
    }

    [Fact]
    public void Zooming_shows_fewer_frames_and_moves_nothing_else()
    {
        browser.PlanShot(StandInPlan.Create("KP790", FrameSet.Parse("1001-1400"), 64, 36));
        browser.Go("/KELP/KP790/check?frame=1100");
        string Range() => browser.Script<string>("return document.querySelector('[data-range]').textContent");
        string Places() =>
            browser.Script<string>(
                "return ['.lanes', '.legend', '#lane-cells', '.lane-says', 'footer'].map(s => { const b = "
                    + "document.querySelector(s)?.getBoundingClientRect(); return b && [b.left, b.top, b.width, b.height].join(); "
                    + "}).join(' ')"
            );
        double Flag() =>
            Convert.ToDouble(
                browser.Script<object>(
                    "const f = document.querySelector('#lanes [data-flag]').getBoundingClientRect(), m = "
                        + "document.getElementById('lane-cells').getBoundingClientRect(); return (f.left - m.left) / m.width"
                )
            );
        void Painted(Action act)
        {
            long before = long.Parse(browser.Script<string>("return document.getElementById('lanes').dataset.painted"));
            act();
            browser.Until(
                d => long.Parse(browser.Script<string>("return document.getElementById('lanes').dataset.painted")) > before ? d : null,
                "the map to be painted again"
            );
        }

        Assert.Equal("", Range());
        Assert.Equal(99.5 / 400, Flag(), 0.01);
        string places = Places();
        Painted(() => browser.Keys("+"));
        Assert.Equal("frames 1051 to 1250; = shows all", Range());
        Assert.Equal(49.75 / 200, Flag(), 0.01);
        Painted(() => browser.Keys("."));
        Assert.Equal("frames 1101 to 1300; = shows all", Range());
        Painted(() =>
            browser.Script<object>(
                """
                const cells = document.querySelector('.lane .cells'), box = cells.getBoundingClientRect();
                cells.dispatchEvent(new WheelEvent('wheel', { 
                  bubbles: true, cancelable: true, clientX: box.left + box.width / 2, 
                  clientY: box.top + 5, deltaY: -400 }));
                return null;
                """
            )
        );
        Assert.NotEqual("frames 1101 to 1300; = shows all", Range());
        Assert.Equal(places, Places());
        Painted(() => browser.Keys("="));
        Assert.Equal("", Range());
        Assert.Equal(places, Places());
    }

    [Fact]
    public void The_map_zooms_and_pans_by_keys_and_wheel_and_tells_why()
    {
        browser.MakeShot("KP720", "nonfinite:sub:1002", "missing:kelp:1003");
        browser.Go("/KELP/KP720/check");
        Assert.Equal("", browser.Script<string>("return document.querySelector('[data-range]').textContent"));

        // Four frames are too few to come nearer; the map does not go below eight.
        browser.Keys("+");
        Assert.Equal("", browser.Script<string>("return document.querySelector('[data-range]').textContent"));
        Assert.True(
            browser.Script<bool>(
                "const c = document.getElementById('lane-cells'); return c.getContext('2d').getImageData(0, 0, c.width, "
                    + "c.height).data.some(v => v > 0)"
            ),
            "nothing is drawn"
        );

        // Pointing at the damaged cell of sub says what it is and why.
        browser.Script<object>(
            """
            const cells = document.querySelector(".lane[data-layer='sub'] .cells"), box = cells.getBoundingClientRect();
            cells.dispatchEvent(new PointerEvent('pointermove', { 
              bubbles: true, clientX: box.left + box.width * 1.5 / 4, 
              clientY: box.top + 12 }));
            return null;
            """
        );
        browser.Until(
            d => browser.Text("#lane-says").Contains("1002: damaged. ", StringComparison.Ordinal) ? d : null,
            "why it is damaged"
        );
        Assert.Contains("NaN", browser.Text("#lane-says"));

        // A click opens the frame.
        browser.Script<object>(
            """
            const cells = document.querySelector(".lane[data-layer='sub'] .cells"), box = cells.getBoundingClientRect();
            cells.dispatchEvent(new MouseEvent('click', { bubbles: true, clientX: box.left + box.width * 1.5 / 4, clientY: box.top + 12 }));
            return null;
            """
        );
        browser.Until(
            d =>
                browser.Driver.Url.Contains("/look?", StringComparison.Ordinal)
                && browser.Driver.Url.Contains("frame=1002", StringComparison.Ordinal)
                    ? d
                    : null,
            "Look at 1002"
        );
    }

    [Fact]
    public void Evidence_and_every_way_out_stand_with_the_finding()
    {
        browser.MakeShot("KP730", "nonfinite:sub:1002");
        browser.Go("/KELP/KP730/check?rule=pixels.nonfinite");
        browser.Press("What to do");
        browser.Until(
            d => browser.Script<bool>("return document.querySelector('.evidence img')?.naturalWidth === 256") ? d : null,
            "the pixels in question"
        );
        Assert.Contains("finite numbers", browser.Text(".twofold"));

        browser.Fill("input[name=to]", "Lighting");
        browser.Fill("form[action*='Hand'] input[name=by]", "Ada Reed");
        browser.Fill("input[name=note]", "the lamp again");
        browser.Press("Hand it to them");
        browser.UntilText("With Lighting");

        // The name that was given last signs the next form.
        browser.Press("What to do");
        browser.Until(
            d => browser.Find("form[action*='Waive'] input[name=by]").GetAttribute("value") == "Ada Reed" ? d : null,
            "the signature"
        );
        browser.Fill("input[name=reason]", "behind the title");
        browser.Press("Waive this finding");
        browser.UntilText("by Ada Reed: behind the title");
        browser.UntilText("ready to seal");
        browser.Press("What to do");
        browser.Press("Withdraw the waiver");
        browser.UntilText("1 blocker");
    }

    [Fact]
    public void What_came_is_taken_into_the_plan()
    {
        browser.MakeShot("KP740", "wrong-camera:sub:1001-1004", "wrong-camera:kelp:1001-1004", "wrong-camera:seabed:1001-1004");
        browser.Go("/KELP/KP740/check?rule=format.camera");
        Assert.True(Count("[data-find]") >= 1);
        browser.Press("What to do");
        browser.UntilText("the camera is cam_witness");
        browser.Press("Change the plan to match");
        browser.Until(
            d =>
                Count("[data-find]") == 0 || !browser.Driver.PageSource.Contains("cam_main is planned", StringComparison.Ordinal)
                    ? d
                    : null,
            "no finding left"
        );
        browser.Go("/KELP/KP740/plan/versions");
        browser.UntilText("the camera is cam_witness");
    }

    private void Choose(string css, string value) =>
        browser.Script<object>(
            "const s = document.querySelector(arguments[0]); s.value = arguments[1]; s.dispatchEvent(new Event('change', { bubbles: "
                + "true })); return null;",
            css,
            value
        );

    private long Count(string css) => browser.Script<long>("return document.querySelectorAll(arguments[0]).length", css);

    private IEnumerable<string> Texts(string css) =>
        browser.Driver.FindElements(By.CssSelector(css)).Select(e => e.Text).Where(t => t.Length > 0);
}
