using System.Text.RegularExpressions;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using OpenQA.Selenium;

namespace DuneCrate.Browser.Tests;

/// <summary>Ways through the real interface, from one station to the next.</summary>
public class WholeWayTests(BrowserFixture browser) : IClassFixture<BrowserFixture>
{
    [Fact]
    public void Inside_overscan_the_edge_of_the_picture_is_drawn_and_pixels_keep_their_numbers()
    {
        Plan plan = StandInPlan.Create("KP160", FrameSet.Parse("1001-1002"), 64, 36);
        browser.MakeShot(plan with { Shot = plan.Shot with { Overscan = 8 } });
        browser.Go("/KELP/KP160/look?layer=sub&pass=beauty&frame=1001&x=-8&y=43");
        browser.UntilPicture("#picture");
        browser.Until(d => browser.Text("#probe-at").Contains("pixel -8, 43 of frame 1001") ? d : null, "the held pixel");
        browser.Until(d => d.FindElements(By.CssSelector("#probe tr")).Count > 0 ? d : null, "its samples");
        (double Left, double Top, double Width, double Height) Box(string css)
        {
            double[] box =
            [
                .. browser
                    .Script<IEnumerable<object>>(
                        "const b = document.querySelector(arguments[0]).getBoundingClientRect(); return [b.left, b.top, b.width, "
                            + "b.height];",
                        css
                    )
                    .Select(Convert.ToDouble),
            ];
            return (box[0], box[1], box[2], box[3]);
        }

        (double Left, double Top, double Width, double Height) edge = Box("#frameline"),
            picture = Box("#picture"),
            ring = Box("#ring");
        double scale = Math.Min(picture.Width / 80, picture.Height / 52);
        Assert.Equal(64 * scale, edge.Width, 1.0);
        Assert.Equal(36 * scale, edge.Height, 1.0);
        Assert.Equal(picture.Left + picture.Width / 2, edge.Left + edge.Width / 2, 1.0);
        Assert.Equal(edge.Left - 7.5 * scale, ring.Left + ring.Width / 2, 1.5);
        Assert.Equal(edge.Top + 43.5 * scale, ring.Top + ring.Height / 2, 1.5);
        browser.Click(By.CssSelector("#picture"));
        browser.Click(By.CssSelector("#picture"));
        browser.Until(d => Regex.IsMatch(browser.Text("#probe-at"), "^pixel 3[12], 1[78] of") ? d : null, "the pixel in the middle");

        browser.MakeShot("KP170");
        browser.Go("/KELP/KP170/look?layer=sub&pass=beauty&frame=1001");
        browser.UntilPicture("#picture");
        Assert.False(browser.Driver.FindElement(By.Id("frameline")).Displayed);
    }

    /// <summary>
    /// News from the server loads the page anew, but neither a link that was just followed nor half-typed words are lost to it.
    /// </summary>
    [Fact]
    public void News_waits_for_a_link_that_was_followed_and_for_words_half_typed()
    {
        browser.MakeShot("KP150");
        browser.Go("/KELP/KP150/receive");
        browser.Find("#folder");
        browser.Script<object>(
            "window.isSame = true; dispatchEvent(new Event('beforeunload')); document.dispatchEvent(new Event('renew'));"
        );
        Assert.False(browser.Comes(() => !IsSame()));
        browser.Script<object>("dispatchEvent(new Event('pageshow')); document.getElementById('folder').focus();");
        browser.Keys("/half");
        browser.Script<object>("document.dispatchEvent(new Event('renew'));");
        Assert.False(browser.Comes(() => !IsSame()));
        Assert.Contains("/half", browser.Find("#folder").GetAttribute("value"));
        browser.Script<object>("document.activeElement.blur();");
        browser.Until(d => IsSame() ? null : d, "the page anew");

        bool IsSame() => browser.Script<bool>("return window.isSame === true;");
    }

    [Fact]
    public void A_finding_is_one_press_from_its_pixels_and_can_be_waived()
    {
        browser.MakeShot("KP200", "nonfinite:sub:1002", "missing:kelp:1003", "unlit:sub:1004");
        browser.Go("/KELP/KP200/check");
        browser.UntilText("Not a number");
        browser.Fill("#find-filter", "nonfinite");
        browser.UntilText("1 of 3");
        browser.Click(By.CssSelector(".finds li:not([hidden]) .acts a"));
        browser.UntilPicture("#picture");
        Assert.Contains("frame=1002", browser.Driver.Url);
        browser.UntilText("held");
        Assert.Contains("NaN", browser.Text("#probe"));

        browser.Go("/KELP/KP200/check?layer=sub&frame=1001");
        browser.Keys("n");
        browser.Find(".finds li.on");
        browser.Press("Open sum");
        browser.UntilText("most likely at fault");

        browser.Go("/KELP/KP200/check");
        browser.Press("What to do · frames.missing");
        browser.Fill("details[open] form[action*='Waive'] input[name=by]", "Ada Reed");
        browser.Fill("details[open] input[name=reason]", "cut before this frame");
        browser.Press("Waive this finding");
        browser.UntilText("Waived by Ada Reed: cut before this frame");
        browser.UntilText("2 blockers");
    }

    [Fact]
    public void The_keyboard_reaches_every_station_and_frame()
    {
        browser.MakeShot("KP300", "missing:sub:1002");
        browser.Go("/KELP/KP300/check");
        browser.Find("#ruler");
        foreach (
            (string key, string station) in new[]
            {
                ("p", "plan"),
                ("r", "receive"),
                ("c", "check"),
                ("l", "look"),
                ("s", "stack"),
                ("k", "crate"),
            }
        )
        {
            browser.Keys("g", key);
            browser.Until(d => d.Url.Contains($"/KP300/{station}?", StringComparison.Ordinal) ? d : null, station);
            browser.Find("#ruler");
        }

        browser.Keys(Keys.End);
        Assert.Equal("1004", browser.Text("#frame-now"));
        browser.Keys(Keys.Home);
        Assert.Equal("1001", browser.Text("#frame-now"));
        browser.Keys("g", "c");
        browser.Until(d => d.Url.Contains("/check?", StringComparison.Ordinal) ? d : null, "check");
        browser.Find("#lanes");
        browser.Keys(Keys.ArrowDown);
        browser.Until(d => d.Url.Contains("pass=direct_diffuse", StringComparison.Ordinal) ? d : null, "the rung below");
        browser.Keys("?");
        browser.UntilText("previous frame, next frame");
        browser.Keys(Keys.Escape);
        browser.Keys("/");
        Assert.Equal("find-filter", browser.Script<string>("return document.activeElement.id"));
    }

    [Fact]
    public void Clicking_a_frame_of_the_map_looks_at_it()
    {
        browser.MakeShot("KP400");
        browser.Go("/KELP/KP400/check");
        IWebElement lane = browser.Find(".lane:nth-child(6) .cells");
        new OpenQA.Selenium.Interactions.Actions(browser.Driver)
            .MoveToElement(lane, lane.Size.Width / 4 + lane.Size.Width / 8, 0)
            .Click()
            .Perform();
        browser.Until(d => d.Url.Contains("/look?", StringComparison.Ordinal) ? d : null, "the viewer");
        Assert.Contains("layer=kelp", browser.Driver.Url);
        Assert.Contains("frame=1004", browser.Driver.Url);
        browser.UntilPicture("#picture");
    }
}
