using DuneCrate.Foundation.Frames;
using DuneCrate.Imaging.Colour;
using DuneCrate.StandIns.Renderer;
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

    /// <summary>A box is drawn, words are kept with it, and it lies on the picture where it was drawn, after a reload too.</summary>
    [Fact]
    public void A_note_is_drawn_kept_and_seen()
    {
        browser.MakeShot("KV090");
        Open("KV090", "&zoom=8&cx=32&cy=18");
        browser.Keys("d");
        Assert.Equal("true", browser.Driver.FindElement(By.CssSelector("[data-draw=box]")).GetAttribute("aria-pressed"));
        new Actions(browser.Driver)
            .MoveToElement(browser.Driver.FindElement(By.Id("picture")), -80, -40)
            .ClickAndHold()
            .MoveByOffset(60, 40)
            .Release()
            .Perform();
        browser.Until(d => browser.Text("#note-place").StartsWith("box at", StringComparison.Ordinal) ? d : null, "the words' field");
        new Actions(browser.Driver).SendKeys("Is this weed?").Perform();
        browser.Driver.FindElement(By.CssSelector("#note-form [name=by]")).SendKeys("Ada");
        browser.Click(By.CssSelector("#note-form button.go"));
        browser.Until(d => browser.Text("#notes").Contains("Is this weed?") ? d : null, "the note in the list");
        Assert.Equal("1 open", browser.Text("#notes-chip"));
        browser.Driver.Navigate().Refresh();
        Shown();
        browser.Until(d => d.FindElements(By.CssSelector("#drawn path")).Count == 2 ? d : null, "the box on the picture");

        // 80 and 40 pixels of the screen from the middle are 10 and 5 of the picture.
        string points = browser.Driver.FindElement(By.CssSelector("[data-note]")).GetAttribute("data-points")!;
        int[] at = [.. points.Split(' ').Select(int.Parse)];
        Assert.InRange(at[0], 21, 23);
        Assert.InRange(at[1], 12, 14);
        Assert.InRange(at[2] - at[0], 7, 8);
        Assert.InRange(at[3] - at[1], 4, 6);

        browser.Script<object>(
            "window.saved = ''; HTMLAnchorElement.prototype.click = function () { window.saved = this.download; }; return null;"
        );
        browser.Script<object>("document.getElementById('notes-more').open = true; return null;");
        browser.Click(By.Id("notes-save"));
        browser.Until(
            d => browser.Script<string>("return window.saved") == "KV090_beauty_notes_1001.png" ? d : null,
            "the drawing as a file"
        );

        browser.Click(By.CssSelector(".notes li summary"));
        browser.Driver.FindElement(By.CssSelector(".notes li [name=words]")).SendKeys("Weed.");
        browser.Click(By.CssSelector(".notes li [name=settle]"));
        browser.Until(d => browser.Text("#notes").Contains("Settled by Ada") ? d : null, "the note settled");
        Assert.Contains("Weed.", browser.Text("#notes"));
        Assert.Equal("0 open", browser.Text("#notes-chip"));
    }

    /// <summary>The frames that differ from an earlier version are listed, and gone to.</summary>
    [Fact]
    public void Frames_that_differ_are_gone_to()
    {
        browser.MakeShot("KV100");
        Disk.Render(
            StandInPlan.Create("KV100", FrameSet.Parse("1001-1004"), 64, 36),
            Path.Combine(browser.Renders, "KV100_v001"),
            null,
            [Fault.Read("copy:sub:1003")]
        );
        Open("KV100", "&beside=sub%7Cbeauty&besidefrom=folder/KV100_v001&together=signed&zoom=24&cx=1.5&cy=1.5");
        browser.Until(d => browser.Text("#beside-chip").Contains("folder KV100_v001") ? d : null, "the source");
        browser.Until(d => Pixel() is [128, 128, 128, 255] ? d : null, "grey where both are equal");
        browser.Click(By.CssSelector("#beside-more summary"));
        browser.Click(By.Id("beside-ranked"));
        browser.Until(d => d.FindElements(By.CssSelector("#probe-box button")).Count > 0 ? d : null, "the frames that differ");
        Assert.Contains("1 differ", browser.Text("#probe-box"));
        browser.Click(By.CssSelector("#probe-box button"));
        browser.Until(d => browser.Text("#frame-now") == "1003" ? d : null, "the frame");
    }

    /// <summary>What opens over the picture is whole in the window, wherever its name stands after the line wrapped.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(1024, 800)]
    [InlineData(853, 533)]
    public void What_opens_is_whole_in_the_window(int width, int height)
    {
        browser.MakeShot($"KV{width}");
        browser.Driver.Manage().Window.Size = new System.Drawing.Size(width, height);
        try
        {
            Open($"KV{width}", "");
            Assert.Equal(
                "",
                browser.Script<string>(
                    """
                    const cut = [], well = document.getElementById('well').parentElement.getBoundingClientRect();
                    for (const more of document.querySelectorAll('details.more')) {
                      more.open = true;
                      const card = more.querySelector('.card').getBoundingClientRect();
                      if (card.left < well.left || card.right > well.right) cut.push(more.querySelector('summary').textContent);
                      more.open = false;
                    }
                    return cut.join(', ');
                    """
                )
            );
        }
        finally
        {
            browser.Driver.Manage().Window.Size = new System.Drawing.Size(1280, 800);
        }
    }
}
