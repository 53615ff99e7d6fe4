using OpenQA.Selenium;

namespace DuneCrate.Browser.Tests;

/// <summary>The Stack station by keyboard: strips are chosen, moved, taken out and had back; terms are taken out of a sum.</summary>
public class StackStationTests(BrowserFixture browser) : IClassFixture<BrowserFixture>
{
    private string[] Names =>
        [
            .. browser
                .Script<IReadOnlyCollection<object>>("return [...document.querySelectorAll('#strata .says-name')].map(n => n.textContent)")
                .Cast<string>(),
        ];

    private void Strata(Func<string[], bool> isSo, string what) => browser.Until(d => isSo(Names) ? d : null, what);

    [Fact]
    public void Strips_are_moved_and_undone_by_keys()
    {
        browser.MakeShot("KP760");
        browser.Go("/KELP/KP760/stack/composite");
        browser.Press("Propose a stack");
        Strata(n => n.Length > 3, "strata");
        string[] first = Names;
        browser.Until(
            d => browser.Script<bool>("return document.getElementById('composite-image').naturalWidth > 0") ? d : null,
            "a picture"
        );
        browser.Script<object>("document.querySelector('#strata li').focus(); return null;");
        browser.Keys(Keys.ArrowDown);
        browser.Until(
            d => browser.Script<string>("return document.querySelector('#strata .on .says-name').textContent") == first[1] ? d : null,
            "the second strip"
        );
        browser.Until(d => browser.Script<bool>("return !!document.activeElement.closest('#strata .on')") ? d : null, "the focus on it");
        Press("key: 'ArrowDown', altKey: true");
        Strata(n => n.Length == first.Length && n[2] == first[1] && n[1] == first[2], "the strip moved down");
        Press("key: 'z', ctrlKey: true");
        Strata(n => n.SequenceEqual(first), "the move undone");
        Press("key: 'Delete'");
        Strata(n => n.Length == first.Length - 1, "a strip less");
    }

    /// <summary>A key on the chosen strip.</summary>
    private void Press(string key) =>
        browser.Script<object>(
            $"document.querySelector('#strata .on').dispatchEvent(new KeyboardEvent('keydown', {{ {key}, bubbles: true }})); return null;"
        );

    [Fact]
    public void A_term_taken_out_is_told_at_once()
    {
        browser.MakeShot("KP770");
        browser.Go("/KELP/KP770/stack?layer=sub&frame=1001");
        browser.UntilText("The light passes sum to the beauty.");
        browser.Click(By.CssSelector("#terms [data-on]"));
        browser.UntilText("The light passes do not sum to the beauty.");
        Assert.Contains("gains=", browser.Driver.Url);
        browser.Press("Back to the plan’s sum");
        browser.UntilText("The light passes sum to the beauty.");
    }
}
