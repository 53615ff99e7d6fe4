using DuneCrate.Crates;
using DuneCrate.Planning.Model;
using OpenQA.Selenium;

namespace DuneCrate.Browser.Tests;

/// <summary>The real interface from an empty yard to a verified crate, in an application of its own.</summary>
public class EmptyShowTests(BrowserFixture browser) : IClassFixture<BrowserFixture>
{
    [Fact]
    public void From_an_empty_show_to_a_verified_crate()
    {
        browser.Go("/");
        browser.UntilText("No show yet");
        browser.Press("Make the first show");
        browser.Fill("#code", "KELP");
        browser.Fill("#name", "The Kelp Post");
        browser.Fill("#width", "64");
        browser.Fill("input[name=Height]", "36");
        browser.Press("Make show");

        browser.Fill("#code", "KP100");
        browser.Fill("#frames", "1004-1001");
        browser.Press("Plan shot");
        browser.UntilText("runs backwards; write 1001-1004");
        browser.Fill("#frames", "1001-1004");
        browser.Press("Plan shot");

        // Plan: a layer, and its passes with the keyboard alone.
        browser.Press("Add layer");
        browser.Fill("#al-name", "kelp");
        browser.Keys(Keys.Enter);
        browser.Find("[data-r][aria-label^='beauty of kelp: half']");
        foreach (string pass in new[] { "direct_diffuse", "indirect_diffuse", "specular", "depth" })
        {
            browser.Script<object>("document.querySelector(arguments[0]).focus()", "td[aria-label^='beauty of kelp']");
            browser.Keys(pass, Keys.Enter);
            browser.Until(
                d =>
                    browser.Script<bool>(
                        "return document.activeElement.getAttribute('aria-label')?.startsWith(arguments[0] + ' of kelp') === true",
                        pass
                    )
                        ? d
                        : null,
                $"the cell of {pass}"
            );
            browser.Keys(Keys.Space);
            browser.Find($"td.on[aria-label^='{pass} of kelp']");
        }

        browser.UntilText("1 layer, 5 passes");
        browser.Driver.Navigate().Refresh();
        browser.UntilText("1 layer, 5 passes");
        browser.Press("Layer");
        Assert.Equal("direct_diffuse + indirect_diffuse + specular", browser.Find("#l-sum").GetAttribute("value"));

        // The renderer gets the plan that the pages export.
        string json = browser.Script<string>(
            "const x = new XMLHttpRequest(); x.open('GET', '/KELP/KP100/plan?handler=Export', false); x.send(); return x.responseText;"
        );
        Plan plan = PlanDocument.Read(json).Plan!;
        Disk.Render(plan, Path.Combine(browser.Renders, "KP100"), null, []);

        // Receive: outside the roots first.
        browser.Station("receive");
        browser.Fill("#folder", "../..");
        browser.Press("Take in and check");
        browser.UntilText("leads out of renders");
        browser.Fill("#folder", "KP100");
        browser.Press("Take in and check");
        browser.UntilText("all here");

        browser.Station("check");
        browser.UntilText("No findings");

        browser.Station("look");
        browser.UntilPicture("#picture");
        browser.Keys("e", "e");
        Assert.Equal("+1 stops", browser.Text("#exposure-says"));
        browser.Keys(Keys.ArrowRight);
        Assert.Equal("1002", browser.Text("#frame-now"));
        Assert.Contains("frame=1002", browser.Driver.Url);
        browser.UntilPicture("#picture");
        browser.Click(By.CssSelector("#picture"));
        browser.Until(d => d.FindElements(By.CssSelector("#probe tr")).Count == 5 ? d : null, "five passes in the probe");

        browser.Station("stack");
        browser.UntilText("The light passes sum to the beauty");

        browser.Station("crate");
        browser.UntilText("KP100_crate_v001");
        browser.Fill("#by", "Ada Reed");
        browser.Press("Seal crate v001");
        browser.UntilText("Whole, read back");
        browser.UntilText("v001 sealed");
        Assert.True(
            CrateVerifier.Verify(Disk.Folder(Path.Combine(browser.Crates, "KELP", "KP100", "KP100_crate_v001")), null, default).IsWhole
        );
        browser.Press("Verify");
        browser.UntilText("Whole, read back");

        File.Delete(Path.Combine(browser.Crates, "KELP", "KP100", "KP100_crate_v001", "kelp", "kelp", "kelp.1003.exr"));
        browser.Press("Verify");
        browser.UntilText("kelp/kelp/kelp.1003.exr is missing");
        Assert.Empty(browser.Driver.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level == LogLevel.Severe).Select(l => l.Message));
    }
}
