using System.Text.Json;
using OpenQA.Selenium;

namespace DuneCrate.Browser.Tests;

/// <summary>The page that is open against axe-core's rules for WCAG 2.2 A and AA.</summary>
internal static class Axe
{
    private static readonly string Script = File.ReadAllText(Path.Combine(Repository.Root, "node_modules", "axe-core", "axe.min.js"));

    /// <summary>What violates a rule.</summary>
    public static IEnumerable<string> Violations(BrowserFixture browser, string where)
    {
        browser.Driver.ExecuteScript(Script);
        var answer = (string)
            ((IJavaScriptExecutor)browser.Driver).ExecuteAsyncScript(
                "const done = arguments[arguments.length - 1]; axe.run(document, { resultTypes: ['violations'], "
                    + "runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] }).then(r => "
                    + "done(JSON.stringify(r.violations.map(v => ({ id: v.id, nodes: "
                    + "v.nodes.slice(0, 3).map(n => n.html.slice(0, 160) + ' ' + n.failureSummary.slice(0, 220)) })))));"
            )!;
        foreach (JsonElement violation in JsonDocument.Parse(answer).RootElement.EnumerateArray())
        {
            yield return $"{where}: {violation.GetProperty("id")}: {string.Join(" | ", violation.GetProperty("nodes").EnumerateArray())}";
        }
    }
}
