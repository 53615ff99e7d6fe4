using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>The page of rules in the docs is what the classes say, and every class says it.</summary>
public class RulesPageTests
{
    [Fact]
    public void Every_rule_says_how_it_judges_and_after_whom()
    {
        Rule[] rules = [.. PlanRuleBook.All, .. RuleBook.All];
        Assert.All(rules, r => Assert.True(RulesPage.FormulaOf(r).EndsWith('.'), $"{r.Id} has no summary that ends in a full stop."));
        Assert.All(rules, r => Assert.StartsWith("Source: ", RulesPage.SourceOf(r)));
    }

    [Fact]
    public void The_page_in_the_docs_is_the_classes()
    {
        string file = Repository.File("docs/rules.md"),
            page = RulesPage.Write();
        if (Environment.GetEnvironmentVariable("DUNE_DRAW") is not null)
        {
            File.WriteAllText(file, page);
        }

        Assert.Equal(page, File.ReadAllText(file));
    }
}
