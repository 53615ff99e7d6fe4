using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Demo;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace DuneCrate.Browser.Tests;

/// <summary>The pass sheet with the keyboard, the clipboard and a second person.</summary>
public class PassSheetTests(BrowserFixture browser) : IClassFixture<BrowserFixture>
{
    private void Open(string code)
    {
        browser.PlanShot(DemoPlan.Create(code, FrameSet.Parse("1001-1004")));
        browser.Find("td[aria-label^='beauty of sub']");
    }

    private void Focus(string pass, string layer) =>
        browser.Script<object>(
            "document.querySelector(`td[aria-label^='${arguments[0]} of ${arguments[1]}:']`).focus(); return null;",
            pass,
            layer
        );

    private void UntilCell(string pass, string layer, string shown) =>
        browser.Until(
            d =>
                browser.Script<string>(
                    "return document.querySelector(`td[aria-label^='${arguments[0]} of ${arguments[1]}:']`)?.textContent ?? ''",
                    pass,
                    layer
                ) == shown
                    ? d
                    : null,
            $"{pass} of {layer} to be '{shown}'"
        );

    private void Saved() =>
        browser.Until(
            d => browser.Script<bool>("return document.querySelectorAll('#undo:not([disabled])').length === 1") ? d : null,
            "the change to be saved"
        );

    private Plan Exported(string code) =>
        PlanDocument
            .Read(
                browser.Script<string>(
                    "const x = new XMLHttpRequest(); x.open('GET', `/KELP/${arguments[0]}/plan?handler=Export`, false); x.send(); "
                        + "return x.responseText;",
                    code
                )
            )
            .Plan!;

    [Fact]
    public void Cells_are_typed_filled_copied_cut_and_undone()
    {
        Open("KS010");
        Focus("volume", "sub");
        browser.Keys(Keys.Enter, "off half own", Keys.Enter);
        UntilCell("volume", "sub", "off half own");
        Focus("volume", "sub");
        browser.Driver.ExecuteScript("document.querySelector(\"td[aria-label^='volume of sub']\").focus()");
        new OpenQA.Selenium.Interactions.Actions(browser.Driver)
            .KeyDown(Keys.Shift)
            .SendKeys(Keys.ArrowDown)
            .KeyUp(Keys.Shift)
            .KeyDown(Keys.Control)
            .SendKeys("d")
            .KeyUp(Keys.Control)
            .Perform();
        UntilCell("coat", "sub", "off half own");

        Focus("volume", "sub");
        new OpenQA.Selenium.Interactions.Actions(browser.Driver).KeyDown(Keys.Shift).SendKeys(Keys.ArrowDown).KeyUp(Keys.Shift).Perform();
        Assert.Equal("off half own\noff half own", browser.Clipboard("copy"));
        Focus("volume", "kelp");
        browser.Clipboard("paste", "half\tfloat\r\noff half\t\r\n");
        UntilCell("volume", "kelp", "half");
        UntilCell("volume", "seabed", "float");
        UntilCell("coat", "kelp", "off half");

        browser.Driver.ExecuteScript("document.activeElement.blur()");
        new OpenQA.Selenium.Interactions.Actions(browser.Driver).KeyDown(Keys.Control).SendKeys("z").KeyUp(Keys.Control).Perform();
        UntilCell("volume", "kelp", "");
        UntilCell("coat", "kelp", "");
        new OpenQA.Selenium.Interactions.Actions(browser.Driver).KeyDown(Keys.Control).SendKeys("y").KeyUp(Keys.Control).Perform();
        UntilCell("volume", "seabed", "float");
        Focus("volume", "seabed");
        browser.Keys(Keys.Delete);
        UntilCell("volume", "seabed", "");
        browser.Driver.Navigate().Refresh();
        UntilCell("coat", "kelp", "off half");
        UntilCell("volume", "seabed", "");
    }

    [Fact]
    public void A_mistake_is_said_where_it_is_and_the_cell_stays_as_it_was()
    {
        Open("KS020");
        Focus("depth", "sub");
        browser.Keys(Keys.Enter, "soggy", Keys.Enter);
        browser.UntilText("'soggy' means nothing in a cell");
        UntilCell("depth", "sub", "float data");
        Focus("depth", "sub");
        browser.Keys(Keys.Enter, "half data", Keys.Enter);
        browser.UntilText("Findings 1");
        browser.Press("Findings");
        browser.UntilText("it needs float");
        browser.Press("Mend");
        UntilCell("depth", "sub", "float data");
        browser.UntilText("No findings: the plan is ready");
    }

    [Fact]
    public void A_second_persons_changes_appear_and_a_clash_is_told()
    {
        Open("KS030");
        using ChromeDriver other = browser.Another();
        try
        {
            other.Navigate().GoToUrl($"{browser.Address}/KELP/KS030/plan");
            new OpenQA.Selenium.Support.UI.WebDriverWait(other, TimeSpan.FromSeconds(30)).Until(d =>
                d.FindElements(By.CssSelector("td[aria-label^='beauty of sub']")).Count > 0
            );
            Focus("volume", "sub");
            browser.Keys(Keys.Space);
            UntilCell("volume", "sub", "half");
            new OpenQA.Selenium.Support.UI.WebDriverWait(other, TimeSpan.FromSeconds(30)).Until(d =>
                (string)
                    ((IJavaScriptExecutor)d).ExecuteScript(
                        "return document.querySelector(\"td[aria-label^='volume of sub:']\").textContent"
                    )! == "half"
            );
            Assert.Contains(
                "volume of sub set to x",
                (string)other.ExecuteScript("return document.getElementById('plan-says').textContent")!
            );
        }
        finally
        {
            other.Quit();
        }
    }

    [Fact]
    public void A_cell_that_somebody_changed_while_it_is_typed_is_never_written_over()
    {
        Open("KS035");
        using ChromeDriver other = browser.Another();
        try
        {
            other.Navigate().GoToUrl($"{browser.Address}/KELP/KS035/plan");
            var wait = new OpenQA.Selenium.Support.UI.WebDriverWait(other, TimeSpan.FromSeconds(30));
            IWebElement theirs = wait.Until(d => d.FindElement(By.CssSelector("td[aria-label^='volume of sub:']")));
            Focus("volume", "sub");
            browser.Keys(Keys.Enter, "float");
            theirs.SendKeys(Keys.Space);
            browser.UntilText("The cell you are typing into says");
            Assert.Equal("float", browser.Script<string>("return document.querySelector('.cell-field').value"));
            browser.Keys(Keys.Enter);
            browser.UntilText("your change was not made");
            UntilCell("volume", "sub", "half");
            Assert.Contains("volume", Exported("KS035").Layers.Single(l => l.Name == "sub").AllPasses.Select(p => p.Pass));

            browser.Press("Write mine all the same");
            UntilCell("volume", "sub", "float");

            // A layer that appears in between moves the cell and takes nothing from it.
            Focus("coat", "seabed");
            browser.Keys(Keys.Enter, "fl");
            other.FindElement(By.CssSelector("[data-opens='add-layer']")).Click();
            other.FindElement(By.Id("al-name")).SendKeys("bubbles" + Keys.Enter);
            browser.Find("th[data-column='bubbles']");
            browser.Keys("oat", Keys.Enter);
            UntilCell("coat", "seabed", "float");
        }
        finally
        {
            other.Quit();
        }
    }

    [Fact]
    public void Layers_are_added_one_after_the_other_and_have_the_focus()
    {
        Open("KS045");
        foreach (string layer in (string[])["bubbles", "plankton", "rays"])
        {
            browser.Click(By.CssSelector("[data-opens='add-layer']"));
            browser.Keys(layer, Keys.Enter, Keys.Enter);
            browser.Until(
                d =>
                    browser.Script<string>("return document.activeElement.getAttribute('aria-label') ?? ''").Contains($"of {layer}:")
                        ? d
                        : null,
                $"{layer} to have the focus"
            );
        }

        Assert.Equal(["bubbles", "plankton", "rays"], Exported("KS045").Layers.Select(l => l.Name).TakeLast(3));
    }

    [Fact]
    public void Layers_are_renamed_duplicated_and_switched_off()
    {
        Open("KS040");
        browser.Click(By.CssSelector("th[data-column='kelp']"));
        browser.Fill("#l-name", "weed");
        browser.UntilText("weed/KS040_weed.####.exr");
        browser.Press("Rename");
        browser.Find("td[aria-label^='beauty of weed']");
        browser.Press("Switch off");
        browser.Find("th.off[data-column='weed']");
        browser.Press("Duplicate");
        browser.Fill("#d-name", "weed_far");
        browser.Press("Duplicate layer");
        browser.Find("th[data-column='weed_far']");
        Plan plan = Exported("KS040");
        Assert.Equal(["sub", "sub_occlusion", "weed", "weed_far", "seabed"], plan.Layers.Select(l => l.Name));
        Assert.Equal((true, 3), (plan.FindLayer("weed")!.Off, PlannedOutput.From(plan).Select(o => o.Layer.Name).Distinct().Count()));
    }

    [Fact]
    public void Roles_change_with_a_key_and_the_masks_that_break_are_told()
    {
        Open("KS050");
        browser.Go("/KELP/KS050/plan/roles");
        browser.Find("td[aria-label^='hull of kelp']");
        Focus("hull", "kelp");
        browser.Keys(Keys.Enter, "hidden", Keys.Enter);
        UntilCell("hull", "kelp", "hidden");
        browser.UntilText("no holdout in it");
        browser.Press("Mend");
        UntilCell("hull", "kelp", "holdout");
        Saved();
    }

    [Fact]
    public void Items_are_added_and_edited_in_the_roster()
    {
        Open("KS060");
        browser.Go("/KELP/KS060/plan/scene");
        browser.Press("Add item");
        browser.Fill("#ai-name", "anchor");
        browser.Click(By.CssSelector("#add-item input[value='scattering']"));
        browser.Click(By.CssSelector("#add-item button.go"));
        UntilCell("anchor", "traits", "scattering");
        browser.UntilText("plans no scattering");
        Focus("anchor", "name");
        browser.Keys(Keys.Enter, "buoy", Keys.Enter);
        UntilCell("buoy", "traits", "scattering");
        Assert.Contains(Exported("KS060").Items, i => i.Name == "buoy");
    }
}
