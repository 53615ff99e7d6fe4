using DuneCrate.Core.Images.Colour;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace DuneCrate.Browser.Tests;

/// <summary>The viewer of the Look station: its pixels are read back from the canvas.</summary>
public class ViewerTests(BrowserFixture browser) : IClassFixture<BrowserFixture>
{
    private const string Middle = """
        const c = document.getElementById('picture'), d = c.getContext('2d').getImageData(c.width / 2 | 0, c.height / 2 | 0, 1, 1).data;
        return [...d].join(' ');
        """;

    private void Open(string code, string query)
    {
        browser.Go($"/KELP/{code}/look?layer=sub&pass=beauty&frame=1001{query}");
        Shown();
    }

    private void Shown() =>
        browser.Until(
            d =>
                browser.Script<bool>(
                    "return !!document.getElementById('picture').dataset.shown && !document.querySelector('.shot').dataset.busy"
                )
                    ? d
                    : null,
            "the picture"
        );

    private int[] Pixel() => [.. browser.Script<string>(Middle).Split(' ').Select(int.Parse)];

    /// <summary>The pixel in the middle is the file's through sRGB; exposure, view and ground change it as they should.</summary>
    [Fact]
    public void Pixels_on_the_canvas_are_those_of_the_file()
    {
        browser.MakeShot("KV010");
        Open("KV010", "&zoom=24&cx=32.5&cy=18.5&x=32&y=18");
        browser.Until(d => browser.Text("#probe-at").Contains("pixel 32, 18 of frame 1001, held") ? d : null, "the probe");
        browser.Until(d => d.FindElements(By.CssSelector("#probe tr")).Count > 0 ? d : null, "samples");
        double red = double.Parse(browser.Text("#probe tr td.num").Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture);
        int Code(double linear) => (int)Math.Round(255 * Math.Clamp(SrgbCurve.Encode(linear), 0, 1), MidpointRounding.AwayFromZero);
        Assert.InRange(Pixel()[0], Code(red) - 1, Code(red) + 1);
        Assert.Equal(255, Pixel()[3]);
        browser.Keys("E", "E");
        browser.Until(d => Math.Abs(Pixel()[0] - Code(red / 2)) <= 1 ? d : null, "a stop darker");
        Assert.Contains("exposure=-1", browser.Comes(() => browser.Driver.Url.Contains("exposure=-1")) ? browser.Driver.Url : "");
        browser.Keys("0", "v", "v", "v", "v");
        browser.Until(d => Math.Abs(Pixel()[0] - Math.Round(255 * Math.Clamp(red, 0, 1))) <= 1 ? d : null, "no view");
    }

    /// <summary>Place, zoom and the held pixel stay over passes and a reload, and are in the address.</summary>
    [Fact]
    public void Place_and_held_pixel_go_along()
    {
        browser.MakeShot("KV020");
        Open("KV020", "");
        Assert.StartsWith("fit", browser.Text("#place"));
        browser.Keys("1");
        Assert.Equal("1 ×", browser.Text("#place"));
        browser.Keys("+", "+", "+");
        Assert.Equal("8 ×", browser.Text("#place"));
        browser.Click(By.Id("picture"));
        browser.Until(d => browser.Driver.Url.Contains("zoom=8") && browser.Driver.Url.Contains("x=") ? d : null, "the address");
        browser.Until(d => browser.Text("#probe-at").EndsWith("held", StringComparison.Ordinal) ? d : null, "the held pixel");
        string held = browser.Text("#probe-at");
        browser.Keys(Keys.ArrowDown);
        browser.Until(d => browser.Driver.Url.Contains("pass=direct_diffuse") ? d : null, "the next pass");
        Shown();
        Assert.Equal("8 ×", browser.Text("#place"));
        browser.Until(d => browser.Text("#probe-at") == held ? d : null, "the same pixel");
        browser.Until(d => browser.Text("#probe-light").Contains("%") ? d : null, "its light by term");
        browser.Keys("f");
        Assert.StartsWith("fit", browser.Text("#place"));
    }

    /// <summary>Samples stand in the pixels, a box has numbers, and the pointer drags the picture.</summary>
    [Fact]
    public void Boxes_are_measured_and_the_picture_is_dragged()
    {
        browser.MakeShot("KV030");
        Open("KV030", "&zoom=40&cx=32.5&cy=18.5");
        IWebElement canvas = browser.Find("#picture");
        new Actions(browser.Driver)
            .KeyDown(Keys.Shift)
            .MoveToElement(canvas)
            .ClickAndHold()
            .MoveByOffset(90, 50)
            .Release()
            .KeyUp(Keys.Shift)
            .Perform();
        browser.UntilText("Box 3 × 2");
        Assert.Contains("deviation", browser.Text("#probe-box"));
        new Actions(browser.Driver).MoveToElement(canvas).ClickAndHold().MoveByOffset(-80, 0).Release().Perform();
        browser.Until(d => browser.Driver.Url.Contains("cx=34") ? d : null, "two pixels to the right");
        Assert.DoesNotContain("held", browser.Text("#probe-at"));
    }

    /// <summary>Of the file everything can be seen, planned or not; a broken file gives a sentence.</summary>
    [Fact]
    public void Other_channels_and_broken_files_are_shown_or_told()
    {
        browser.MakeShot("KV040");
        Open("KV040", "");
        browser.Click(By.CssSelector(".more summary"));
        browser.Script<object>(
            "const s = document.getElementById('show'); s.value = [...s.options].at(-1).value; s.dispatchEvent(new Event('change', "
                + "{ bubbles: true })); return null;"
        );
        browser.Until(d => browser.Driver.Url.Contains("channels=") ? d : null, "the choice in the address");
        Shown();
        File.WriteAllText(Path.Combine(browser.Renders, "KV040", "sub", "KV040_sub.1002.exr"), "no picture");
        browser.Go("/KELP/KV040/look?layer=sub&pass=beauty&frame=1002");
        browser.UntilText("Frame 1002 cannot be shown");
    }

    /// <summary>A second picture: split, flipped, and as a difference that is black where both are the same.</summary>
    [Fact]
    public void A_second_picture_stands_beside()
    {
        browser.MakeShot("KV050");
        Open("KV050", "&beside=sub%7Cbeauty&besideframe=1002");
        browser.Until(
            d => browser.Script<bool>("return !!document.getElementById('picture-beside').dataset.shown") ? d : null,
            "the other"
        );
        Assert.Equal("sub · beauty, 1002", browser.Text("#beside-chip"));
        Assert.True(browser.Find("#split").Displayed);
        browser.Script<object>("document.getElementById('beside-numbers').click(); return null;");
        browser.UntilText("channels differ");
        browser.Keys("c");
        Assert.False(browser.Driver.FindElement(By.Id("split")).Displayed);
        browser.Until(d => browser.Driver.Url.Contains("together=flip") ? d : null, "how they are held, in the address");

        Open("KV050", "&beside=sub%7Cbeauty&together=difference&zoom=24&cx=32.5&cy=18.5");
        browser.Until(d => Pixel() is [0, 0, 0, 255] ? d : null, "no difference");
        Open("KV050", "&beside=sub%7Cbeauty&besideframe=%2B1&together=difference&gain=1000&zoom=4&cx=32.5&cy=18.5");
        browser.Until(
            d =>
                browser.Script<bool>(
                    "const c = document.getElementById('picture'); return c.getContext('2d').getImageData(0, 0, c.width, c.height).data"
                        + ".some((v, i) => i % 4 === 0 && v > 100)"
                )
                    ? d
                    : null,
            "what moved"
        );
    }

    /// <summary>Sheets: all passes at a frame, a pass along the range; a click goes in, and it is saved as a picture.</summary>
    [Fact]
    public void Sheets_show_passes_and_frames()
    {
        browser.MakeShot("KV060", "nonfinite:sub:1002");
        browser.Go("/KELP/KV060/look/sheet?layer=sub&pass=beauty&frame=1001");
        long Pictures() =>
            browser.Script<long>("return [...document.querySelectorAll('.sheet-pictures img')].filter(i => i.naturalWidth).length");
        browser.Until(d => Pictures() > 8 ? d : null, "pictures of passes");
        browser.Click(By.LinkText("Along the range"));
        browser.Until(d => Pictures() == 4 ? d : null, "four frames");
        browser.UntilText("Not a number");
        browser.Script<object>(
            "window.saved = ''; HTMLAnchorElement.prototype.click = function () { "
                + "window.saved = `${this.download} ${this.href.slice(0, 5)}`; };"
                + " return null;"
        );
        browser.Script<object>("document.getElementById('sheet-save').click = HTMLElement.prototype.click; return null;");
        browser.Script<object>(
            "document.getElementById('sheet-save').dispatchEvent(new MouseEvent('click', { bubbles: true })); return null;"
        );
        browser.Until(d => browser.Script<string>("return window.saved") == "KV060_sub_beauty.png blob:" ? d : null, "the sheet as a file");
        browser.Click(By.CssSelector(".sheet-pictures li:nth-child(3) a"));
        Shown();
        Assert.Contains("frame=1003", browser.Driver.Url);
    }

    /// <summary>Space plays the range around and stops at a frame, which the ruler then has.</summary>
    [Fact]
    public void The_range_is_played()
    {
        browser.MakeShot("KV070");
        Open("KV070", "");
        browser.Keys(" ");
        Assert.Equal("Pause", browser.Text("#play"));
        var seen = new HashSet<string>();
        browser.Until(d => seen.Add(browser.Text("#frame-now")) | seen.Count >= 3 && seen.Count >= 3 ? d : null, "three frames");
        browser.Keys(" ");
        Assert.Equal("Play", browser.Text("#play"));
        Shown();
        browser.Until(d => browser.Driver.Url.Contains($"frame={browser.Text("#frame-now")}") ? d : null, "the frame in the address");
    }

    /// <summary>A Cryptomatte's names are listed, and one of them is shown as a mask.</summary>
    [Fact]
    public void Mattes_are_taken_out_by_name()
    {
        browser.MakeShot("KV080");
        browser.Go("/KELP/KV080/look?layer=sub&pass=cryptomatte.object&frame=1001&zoom=24&cx=32.5&cy=18.5");
        Shown();
        browser.Until(d => browser.Script<long>("return document.getElementById('named').length") > 2 ? d : null, "names");
        browser.Click(By.Id("picture"));
        browser.Until(d => browser.Driver.Url.Contains("named=") ? d : null, "the name under the pixel");
        browser.Until(d => Pixel() is [255, 255, 255, 255] ? d : null, "its mask");
    }
}
