using System.Text.Json.Nodes;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>What a show changes about rules holds for every rule, and the report says so.</summary>
public class RuleSettingsTests
{
    public static TheoryData<string> Rules() => [.. RuleBook.All.Select(r => r.Id)];

    [Theory]
    [MemberData(nameof(Rules))]
    public void A_rule_says_what_it_asks(string id)
    {
        Rule rule = RuleBook.Find(id)!;
        Assert.Matches("^[a-z]+\\.[a-z-]+$", rule.Id);
        Assert.False(string.IsNullOrWhiteSpace(rule.Title) || string.IsNullOrWhiteSpace(rule.Question));
        Assert.DoesNotContain("!", rule.Title + rule.Question);
        Assert.Equal(rule.Thresholds.Length, rule.Thresholds.Select(t => t.Name).Distinct().Count());
        Assert.All(rule.Thresholds, t => Assert.False(string.IsNullOrWhiteSpace(t.Words)));
        Assert.Equal(id.Split('.')[0], rule.Id.Split('.')[0]);
    }

    [Fact]
    public void Every_rule_is_in_the_book_once_and_every_class_of_a_rule_is_in_it()
    {
        Assert.Equal(RuleBook.All.Length, RuleBook.All.Select(r => r.Id).Distinct().Count());
        Type[] classes =
        [
            .. typeof(RuleBook)
                .Assembly.GetTypes()
                .Concat(typeof(PlanRuleBook).Assembly.GetTypes())
                .Where(t => t.IsSubclassOf(typeof(Rule)) && !t.IsAbstract),
        ];
        Assert.Equal(
            classes.Order(Comparer<Type>.Create((a, b) => string.CompareOrdinal(a.Name, b.Name))),
            RuleBook
                .All.Concat<Rule>(PlanRuleBook.All)
                .Select(r => r.GetType())
                .Order(Comparer<Type>.Create((a, b) => string.CompareOrdinal(a.Name, b.Name)))
        );
    }

    [Fact]
    public void Every_rule_of_the_rule_book_on_paper_is_built()
    {
        // RULES.md, the tables of the check; plan rules have a book of their own.
        string[] onPaper =
        [
            "frames.missing",
            "frames.extra",
            "frames.gap",
            "frames.duplicate",
            "frames.still",
            "outputs.missing",
            "outputs.unplanned",
            "names.template",
            "names.padding",
            "names.order",
            "names.case",
            "names.characters",
            "names.version",
            "files.unreadable",
            "files.truncated",
            "files.settling",
            "files.size",
            "files.stale",
            "files.copy",
            "files.newer",
            "files.stray",
            "format.type",
            "format.resolution",
            "format.data-window",
            "format.aspect",
            "format.rate",
            "format.compression",
            "format.parts",
            "format.camera",
            "format.colour",
            "format.contradiction",
            "format.drift",
            "channels.missing",
            "channels.extra",
            "channels.name",
            "channels.type",
            "channels.alpha",
            "pixels.nonfinite",
            "pixels.negative",
            "pixels.black",
            "pixels.constant",
            "pixels.depth",
            "pixels.clipped",
            "pixels.repeat",
            "pixels.flicker",
            "pixels.fireflies",
            "pixels.seed",
            "alpha.range",
            "alpha.solid",
            "alpha.premultiplied",
            "alpha.agreement",
            "depth.range",
            "depth.filtered",
            "depth.precision",
            "normal.length",
            "uv.range",
            "motion.still",
            "modulate.range",
            "identity.unknown",
            "identity.absent",
            "identity.filtered",
            "crypto.storage",
            "crypto.manifest",
            "crypto.coverage",
            "rebuild.residual",
            "rebuild.terms",
        ];
        Assert.Equal(onPaper.Order(), RuleBook.All.Select(r => r.Id).Order());
    }

    [Fact]
    public void A_rule_that_is_off_is_silent_and_the_report_says_so()
    {
        using var shot = new ShotFixture("missing:sub:1004", "wrong-rate:kelp:1002");
        shot.Plan = With(shot.Plan, "frames.missing", new RuleSetting { Off = true });
        CheckReport report = shot.Check(FactsDepth.Header);
        Assert.DoesNotContain(report.Findings, f => f.Rule == "frames.missing");
        Assert.Contains(report.Findings, f => f.Rule == "format.rate");
        Assert.True((bool)JsonNode.Parse(report.Write())!["rules"]!["frames.missing"]!["off"]!);
        Assert.Contains("frames.missing off", ReportPage.Write(report, "x"));
    }

    [Fact]
    public void A_changed_severity_decides_what_blocks()
    {
        using var shot = new ShotFixture("missing:sub:1004");
        Assert.Equal(1, shot.Check(FactsDepth.Header).Summary.Blockers);
        shot.Plan = With(shot.Plan, "frames.missing", new RuleSetting { Severity = Severity.Note });
        CheckReport report = shot.Check(FactsDepth.Header);
        Assert.Equal((0, 1), (report.Summary.Blockers, report.Summary.Notes));
        Assert.Equal("1004", Assert.Single(report.Rerun).Frames.ToString()); // It still has to be rendered.
    }

    [Fact]
    public void Limits_that_nothing_reaches_silence_the_rebuild()
    {
        using var shot = new ShotFixture("unlit:sub:1002-1003");
        Assert.Contains(shot.Check().Findings, f => f.Rule == "rebuild.residual");
        shot.Plan = With(
            shot.Plan,
            "rebuild.residual",
            new RuleSetting
            {
                Thresholds = new(RuleBook.Find("rebuild.residual")!.Thresholds.Select(t => KeyValuePair.Create(t.Name, 1e9))),
            }
        );
        Assert.DoesNotContain(shot.Check().Findings, f => f.Rule == "rebuild.residual");
    }

    [Fact]
    public void A_report_from_kept_facts_is_the_report_from_the_files()
    {
        using var shot = new ShotFixture(
            "nonfinite:sub:1004",
            "copy:seabed:1006",
            "8-bit:seabed:1008",
            "unlit:sub:1002",
            "half-depth:seabed:1007",
            "truncated:kelp:1003"
        );
        var cache = new WrittenFacts();
        CheckReport fresh = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Pixels, cache).Report;
        Assert.True(cache.Kept > 0);
        CheckReport known = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Pixels, cache).Report;
        Assert.True(cache.Found >= cache.Kept, "the second check read files again");
        Assert.Equal(Text(fresh), Text(known));

        static string Text(CheckReport report) => (report with { Summary = report.Summary with { Seconds = 0 } }).Write();
    }

    private static Plan With(Plan plan, string rule, RuleSetting setting) =>
        plan with
        {
            Show = plan.Show with { Rules = new() { [rule] = setting } },
        };

    /// <summary>Keeps facts as the text that the store would write.</summary>
    private sealed class WrittenFacts : IFactsCache
    {
        private readonly System.Collections.Concurrent.ConcurrentDictionary<string, string> _texts = new();
        private int _found;

        public int Kept => _texts.Count;

        public int Found => _found;

        public FileFacts? Find(IntakeFile file, FactsRequest request)
        {
            if (!_texts.TryGetValue(file.FullPath, out string? text))
            {
                return null;
            }

            Interlocked.Increment(ref _found);
            return System.Text.Json.JsonSerializer.Deserialize<FileFacts>(text, FactsDocument.Compact);
        }

        public void Keep(IntakeFile file, FactsRequest request, FileFacts facts) =>
            _texts[file.FullPath] = System.Text.Json.JsonSerializer.Serialize(facts, FactsDocument.Compact);
    }
}
