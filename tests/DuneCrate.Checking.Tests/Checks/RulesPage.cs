using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Writes docs/rules.md: every rule with its question, how it judges, what a show can set and its source.</summary>
internal static partial class RulesPage
{
    private static readonly Dictionary<string, XElement> Comments = new[] { typeof(RuleBook), typeof(PlanRuleBook) }
        .SelectMany(t => XDocument.Load(Path.ChangeExtension(t.Assembly.Location, ".xml")).Descendants("member"))
        .ToDictionary(m => (string)m.Attribute("name")!);

    /// <summary>How a rule judges, as its class says it; empty when it does not.</summary>
    public static string FormulaOf(Rule rule) => Text(rule, "summary");

    /// <summary>Where that is from; empty when its class does not say.</summary>
    public static string SourceOf(Rule rule) => Text(rule, "remarks");

    /// <summary>The page.</summary>
    public static string Write()
    {
        var page = new StringBuilder(
            """
            # Rules

            Made from the classes of the rules by `docs/architecture/draw`; a test holds that it is theirs. A blocker keeps a crate from
            being sealed until it is fixed or waived by name, with a reason. A show can change a rule's severity and the numbers under it,
            or switch it off. Header depth reads names, sizes and headers; pixel depth reads every pixel.


            """.ReplaceLineEndings("\n")
        );
        Write(page, "Before anything is rendered", PlanRuleBook.All, _ => "of the plan");
        foreach (IGrouping<string, FileRule> family in RuleBook.All.GroupBy(r => r.Id.Split('.')[0]))
        {
            Write(
                page,
                char.ToUpperInvariant(family.Key[0]) + family.Key[1..],
                family,
                r => r.Depth == FactsDepth.Pixels ? "pixel depth" : "header depth"
            );
        }

        return page.ToString().TrimEnd() + "\n";
    }

    private static void Write<T>(StringBuilder page, string title, IEnumerable<T> rules, Func<T, string> depth)
        where T : Rule
    {
        page.Append(CultureInfo.InvariantCulture, $"## {title}\n\n");
        foreach (T rule in rules)
        {
            string formula = FormulaOf(rule),
                asked = formula.StartsWith(rule.Question, StringComparison.Ordinal) ? "" : $"{rule.Question}.\n\n";
            page.Append(
                CultureInfo.InvariantCulture,
                $"### {rule.Id}\n\n*{Words.Choice(rule.Severity)}, {depth(rule)}*\n\n{asked}{formula}\n\n"
            );
            foreach (RuleThreshold threshold in rule.Thresholds)
            {
                page.Append(CultureInfo.InvariantCulture, $"- `{threshold.Name}` {threshold.Default}: {threshold.Words}\n");
            }

            page.Append(rule.Thresholds.IsEmpty ? "" : "\n").Append(CultureInfo.InvariantCulture, $"{SourceOf(rule)}\n\n");
        }
    }

    private static string Text(Rule rule, string part) =>
        Comments.GetValueOrDefault($"T:{rule.GetType().FullName}")?.Element(part) is { } comment
            ? Gaps().Replace(string.Concat(comment.Nodes().Select(Marked)), " ").Trim()
            : "";

    /// <summary>A piece of a comment as Markdown.</summary>
    private static string Marked(XNode node) =>
        node switch
        {
            XText text => text.Value,
            XElement { Name.LocalName: "see" } see => $"`{Named((string?)see.Attribute("cref") ?? "")}`",
            XElement { Name.LocalName: "c" } code => $"`{code.Value}`",
            XElement { Name.LocalName: "em" } stressed => $"*{stressed.Value}*",
            XElement other => other.Value,
            _ => "",
        };

    /// <summary>What a reference names: the rule's id where it is one.</summary>
    private static string Named(string cref) =>
        RuleBook.All.Concat<Rule>(PlanRuleBook.All).FirstOrDefault(r => cref == $"T:{r.GetType().FullName}")?.Id
        ?? cref.Split('(')[0].Split('.')[^1];

    [GeneratedRegex(@"\s+")]
    private static partial Regex Gaps();
}
