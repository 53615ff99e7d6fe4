using System.CommandLine;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Planning.Model;

namespace DuneCrate.Commands;

/// <summary>What a check is asked for and where its answer goes, wherever it is made.</summary>
public sealed class CheckOptions
{
    private readonly Option<string?> _plan =
            new("--plan") { Description = "The plan to hold it against; without one, what can be judged without" },
        _json = new("--json") { Description = "Write the report to a file; - for standard output" },
        _csv = new("--csv") { Description = "Write the findings as CSV" },
        _rerun =
            new("--rerun")
            {
                Description = "Write the rerun list: as JSON or plain text by the file's extension (.json, .txt), else as CSV",
            },
        _html = new("--html") { Description = "Write the report as one self-contained page" };

    private readonly Option<int> _chunk = new("--chunk")
    {
        Description = "Most frames of one portion of the rerun list; 0 for whole layers",
    };

    /// <summary><c>--depth</c></summary>
    public Option<FactsDepth> Depth { get; } = Shared.Depth(FactsDepth.Header);

    /// <summary><c>--root</c></summary>
    public Option<string[]> Roots { get; } = Shared.Roots();

    /// <summary>All of them, in the order of the help.</summary>
    public IEnumerable<Option> All => [_plan, Depth, _json, _csv, _rerun, _chunk, _html, Roots];

    /// <summary>Checks and writes what was asked for; returns the exit code.</summary>
    /// <param name="parsed">The command line.</param>
    /// <param name="check">Makes the report, against a plan where one is named.</param>
    public async Task<int> AnswerAsync(ParseResult parsed, Func<Plan?, Task<CheckReport>> check)
    {
        Plan? sheet = parsed.GetValue(_plan) is { } path ? Shared.ReadPlan(path) : null;
        CheckReport report = await check(sheet);
        Shared.Write(parsed.GetValue(_json), report.Write);
        Shared.Write(parsed.GetValue(_csv), () => ReportCsv.Findings(report));
        string name = sheet?.Shot.Code ?? Path.GetFileName(Path.TrimEndingDirectorySeparator(report.Root));
        Shared.Write(parsed.GetValue(_html), () => ReportPage.Write(report, $"Check of {name}"));
        var again = RerunList.From(report, parsed.GetValue(_chunk), sheet?.Shot.Code);
        Shared.Write(
            parsed.GetValue(_rerun),
            () =>
                Path.GetExtension(parsed.GetValue(_rerun)) switch
                {
                    ".json" => again.Write(),
                    ".txt" => again.WriteText(),
                    _ => ReportCsv.Rerun(again),
                }
        );
        return CheckHere.Tell(report, !new[] { _json, _csv, _rerun, _html }.Any(o => parsed.GetValue(o) == "-"));
    }
}
